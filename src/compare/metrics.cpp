#include "compare/metrics.hpp"

#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "study/level_ways.hpp"
#include "study/list_reading.hpp"
#include "walk/casts.hpp"

#include <algorithm>

namespace hestrel::compare {

namespace {

void add_finding(Metrics& metrics, const plan::Plan& plan, const plan::Finding& finding,
                 const std::string& by, const Where& where) {
    const std::string about = finding.about ? plan::thing_name(plan, *finding.about) : "";
    metrics.findings.try_emplace(Noticed{finding.name, about, by, where}, finding.severity);
}

/// Keeps the worse of two.
void keep_worst(Metrics& metrics, const Where& where, Measure measure, std::int64_t value) {
    const auto [known, fresh] = metrics.values.try_emplace({where, measure}, value);
    if (fresh) return;
    known->second =
        measure == Measure::slack ? std::min(known->second, value) : std::max(known->second, value);
}

/// What became of facts.
void add_carries(Metrics& metrics, const plan::Plan& plan, const flow::Carried& carried) {
    metrics.carries[{flow::name_of(plan, carried.by), plan.facts[carried.fact].name}].insert(
        carried.how);
}

} // namespace

std::string_view name_of(Measure measure) {
    constexpr std::array<std::string_view, measure_count> names{"boot",
                                                                "slack",
                                                                "gaps",
                                                                "stalls",
                                                                "veiled",
                                                                "hitch",
                                                                "frame",
                                                                "peak",
                                                                "takes",
                                                                "worst",
                                                                "most during moves",
                                                                "situations"};
    return names[static_cast<std::size_t>(measure)];
}

bool is_memory(Measure measure) {
    return measure == Measure::peak || measure == Measure::worst || measure == Measure::bound;
}

void add_check(Metrics& metrics, const plan::Plan& plan, const std::vector<plan::Finding>& found) {
    for (const plan::Finding& finding : found) add_finding(metrics, plan, finding, "check", {});
}

void add_leads(Metrics& metrics, const plan::Plan& plan) {
    const study::LevelFlow flow(plan);
    for (const plan::ListId id : plan.lists.ids()) {
        const plan::ListId top = plan::top_list(plan, id);
        for (const plan::Step& step : plan.lists[id].steps) {
            const plan::SwitchStep* change = study::switch_of(step);
            if (change == nullptr || change->to) continue;
            for (const plan::Edition& edition : plan.editions) {
                const auto& levels = edition.levels;
                const auto note = [&](const std::string& by, std::optional<std::size_t> from) {
                    const auto to = plan::place_led_to(*change, from, levels.size());
                    metrics.leads[{plan::list_name(plan, top), by, edition.name}] =
                        to ? plan.levels[levels[*to]].name : std::string();
                };
                if (change->position) {
                    note("position " + std::to_string(*change->position), {});
                    continue;
                }
                const bool next = change->target == plan::SwitchStep::Target::next;
                const auto origins = flow.counts_from(top);
                for (std::size_t at = 0; at < levels.size(); ++at) {
                    if (origins.contains(levels[at]) || origins.contains(plan::LevelId{}))
                        note((next ? "next after " : "back before ") + plan.levels[levels[at]].name,
                             at);
                }
            }
        }
    }
}

void add_walk(Metrics& metrics, const plan::Plan& plan, const walk::Record& record) {
    Where where;
    where.route = plan.routes[record.route].name;
    where.device = walk::device_text(plan, record);
    const auto set = [&](Measure measure, std::int64_t value) {
        metrics.values[{where, measure}] = value;
    };
    metrics.verdicts[where] = plan::name_of(record.verdict);
    if (record.boot) set(Measure::boot, record.boot->count);
    if (const auto slack = walk::worst_slack(record)) set(Measure::slack, slack->count);
    set(Measure::gaps, walk::gap_time(record).count);
    set(Measure::stalls, record.shares.stalled.count);
    set(Measure::veiled, record.shares.veiled.count);
    set(Measure::hitch, walk::worst_hitch(record).count);
    if (plan::has_frame_costs(plan)) set(Measure::frame, record.longest_frame.count);
    for (const walk::LevelOutcome& outcome : record.outcomes) {
        const walk::Transition& by = record.transitions[outcome.transition - 1];
        if (by.went_far) continue;
        Where load = where;
        load.cause = plan::cause_name(plan, by.list, by.near);
        load.level = plan.levels[outcome.level].name;
        if (outcome.shown)
            keep_worst(metrics, load, Measure::takes, (*outcome.shown - by.fired).count);
        if (outcome.slack && !outcome.held)
            keep_worst(metrics, load, Measure::slack, outcome.slack->count);
    }
    std::vector<loading::Hitch> hitches = record.hitches; // a standstill is told at its end
    std::stable_sort(hitches.begin(), hitches.end(),
                     [](const auto& one, const auto& other) { return one.at < other.at; });
    for (const walk::TransitionOutcome& outcome : record.transition_outcomes) {
        const walk::Transition& by = record.transitions[outcome.transition - 1];
        if (by.went_far || by.elsewhere) continue;
        Where transition = where;
        transition.cause = plan::cause_name(plan, by.list, by.near);
        keep_worst(metrics, transition, Measure::stalls, outcome.stall.count);
        keep_worst(metrics, transition, Measure::peak, outcome.peak.count);
        plan::Micros hitch;
        const auto first = std::lower_bound(
            hitches.begin(), hitches.end(), by.fired,
            [](const loading::Hitch& each, plan::Micros moment) { return each.last() < moment; });
        for (auto each = first; each != hitches.end() && each->at <= outcome.settled; ++each)
            hitch = std::max(hitch, each->length);
        keep_worst(metrics, transition, Measure::hitch, hitch.count);
    }
    for (const auto& [carried, times] : record.carries) add_carries(metrics, plan, carried);
    for (const plan::Finding& finding : record.findings)
        add_finding(metrics, plan, finding, "walk", where);
    where.pool = "total";
    set(Measure::peak, record.peak.count);
    for (const plan::PoolId pool : plan.pools.ids()) {
        plan::Bytes most;
        for (const loading::MemoryRow& row : record.memory)
            most = std::max(most, row.pools[pool.value]);
        where.pool = plan.pools[pool];
        set(Measure::peak, most.count);
    }
}

Metrics metrics_of(const plan::Plan& plan, const std::vector<plan::Finding>& checked,
                   const std::vector<walk::Record>& records) {
    Metrics metrics;
    metrics.plan = plan.name;
    add_check(metrics, plan, checked);
    add_leads(metrics, plan);
    for (const walk::Record& record : records) add_walk(metrics, plan, record);
    return metrics;
}

void add_explored(Metrics& metrics, const plan::Plan& plan, const explore::Explored& explored) {
    Where where;
    where.edition = explore::edition_name(*explored.explorer);
    metrics.values[{where, Measure::situations}] =
        static_cast<std::int64_t>(explored.explorer->situations());
    for (const explore::Found& found : explored.found) {
        // The move in which memory runs over first says little: how much it is is a figure.
        plan::Finding finding = found.finding;
        if (finding.name == "over-budget") finding.about.reset();
        add_finding(metrics, plan, finding, "explore", where);
    }
    for (const explore::Effect& effect : explored.explorer->effects()) {
        for (const flow::Carried& carried : effect.log.carried) add_carries(metrics, plan, carried);
    }
    for (const explore::WorstFrame& longest : explored.frames) {
        where.device = plan.devices[explored.explorer->options().devices[longest.device]].name;
        keep_worst(metrics, where, Measure::frame, longest.work.count);
    }
    for (const explore::BudgetUse& use : explore::budget_uses(explored.worst)) {
        where.device = plan.devices[explored.explorer->options().devices[use.device]].name;
        where.pool = use.pool ? plan.pools[use.pool] : "total";
        if (use.settled) metrics.values[{where, Measure::worst}] = use.settled->used.count;
        if (use.during) metrics.values[{where, Measure::bound}] = use.during->used.count;
    }
}

} // namespace hestrel::compare
