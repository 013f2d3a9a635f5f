#include <hestrel/walk.hpp>

#include "library/inside.hpp"

#include "plan/names.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <utility>

namespace hestrel {

namespace {

using library::name_or_none;
using library::seconds;

Verdict public_verdict(plan::Verdict verdict) {
    switch (verdict) {
    case plan::Verdict::fine: return Verdict::fine;
    case plan::Verdict::over_limit: return Verdict::over_limit;
    case plan::Verdict::breaks_rule: return Verdict::breaks_rule;
    case plan::Verdict::late: return Verdict::late;
    case plan::Verdict::not_as_expected: return Verdict::not_as_expected;
    case plan::Verdict::over_budget: return Verdict::over_budget;
    case plan::Verdict::stuck: break;
    }
    return Verdict::stuck;
}

std::vector<Transition> transitions_of(const plan::Plan& plan, const walk::Record& record) {
    std::vector<Transition> all;
    for (std::size_t i = 0; i < record.transitions.size(); ++i) {
        const walk::Transition& from = record.transitions[i];
        if (from.elsewhere) continue; // of another machine
        const walk::TransitionOutcome& whole = record.transition_outcomes[i];
        Transition transition;
        transition.number = from.number;
        transition.cause = tables::cause_text(plan, from);
        transition.fired_s = plan::in_seconds(from.fired);
        transition.settled_s = plan::in_seconds(whole.settled);
        transition.stall_s = plan::in_seconds(whole.stall);
        transition.peak_mib = plan::in_mebibytes(whole.peak);
        transition.facts_reset = plan::names_in(plan.facts, from.facts_reset);
        all.push_back(std::move(transition));
    }
    // Outcomes go by transition, as these do.
    auto transition = all.begin();
    for (const walk::LevelOutcome& outcome : record.outcomes) {
        while (transition->number != outcome.transition) ++transition;
        transition->levels.push_back({plan.levels[outcome.level].name, seconds(outcome.ready),
                                      seconds(outcome.shown), seconds(outcome.needed),
                                      seconds(outcome.slack), outcome.lead});
    }
    return all;
}

Walk public_walk(const plan::Plan& plan, const walk::Record& record) {
    Walk walk;
    const plan::Route& route = plan.routes[record.route];
    walk.route = route.name;
    walk.device = plan.devices[record.device].name;
    if (const plan::Machine* machine = walk::machine_of(plan, record)) walk.machine = machine->name;
    walk.verdict = public_verdict(record.verdict);
    if (record.stuck) walk.stuck = tables::stuck_text(plan, record);
    walk.boot_s = seconds(record.boot);
    walk.end_s = plan::in_seconds(record.end);
    walk.veiled_s = plan::in_seconds(record.shares.veiled);
    walk.stalled_s = plan::in_seconds(record.shares.stalled);
    walk.worst_slack_s = seconds(walk::worst_slack(record));
    walk.worst_hitch_s = plan::in_seconds(walk::worst_hitch(record));
    walk.peak_mib = plan::in_mebibytes(record.peak);
    walk.peak_at_s = plan::in_seconds(record.peak_at);
    walk.budget_mib = plan::in_mebibytes(plan.devices[record.device].memory.total);
    walk.transitions = transitions_of(plan, record);
    for (const walk::Gap& gap : record.gaps) {
        walk.gaps.push_back({route.players[gap.player].name, plan.levels[gap.level].name, gap.stood,
                             plan::in_seconds(gap.from), plan::in_seconds(gap.to)});
    }
    for (const loading::MemoryRow& row : record.memory)
        walk.memory.push_back({plan::in_seconds(row.at), plan::in_mebibytes(row.total)});
    for (const walk::Event& event : record.events) {
        tables::EventWords words = tables::event_words(plan, record, event);
        walk.events.push_back({plan::in_seconds(event.at), std::string(words.event),
                               std::move(words.subject), std::move(words.detail),
                               std::move(words.player)});
    }
    walk.findings = library::public_findings(plan, record.findings);
    return walk;
}

} // namespace

std::string text_of(Verdict verdict) {
    for (const plan::Verdict each : plan::all_verdicts) {
        if (public_verdict(each) == verdict) return std::string(plan::name_of(each));
    }
    return {};
}

std::vector<Walk> walk_routes(const Plan& plan, const std::vector<std::string>& routes,
                              const std::vector<std::string>& devices, const WalkOptions& options) {
    const plan::Plan& inside = plan.inside().plan;
    auto chosen = library::chosen(inside.routes, routes, "route");
    const auto session = [&](plan::RouteId route) { return walk::is_session(inside, route); };
    if (options.delivery && std::any_of(chosen.begin(), chosen.end(), session))
        throw std::invalid_argument(
            "parcels arrive on one machine only, and route \"" +
            inside.routes[*std::find_if(chosen.begin(), chosen.end(), session)].name +
            "\" is played on several");
    walk::Options walking;
    walking.delivery = options.delivery;
    const auto casts =
        walk::casts(inside, chosen, library::chosen(inside.devices, devices, "device"));
    std::vector<Walk> walks;
    for (const walk::Record& record : walk::walk_all(inside, casts, walking, options.jobs))
        walks.push_back(public_walk(inside, record));
    return walks;
}

} // namespace hestrel
