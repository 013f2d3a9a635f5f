#include "advise/judge.hpp"

#include "check/check.hpp"
#include "plan/questions.hpp"
#include "study/level_ways.hpp"
#include "walk/casts.hpp"
#include "walk/ground.hpp"
#include "walk/walk.hpp"

#include <algorithm>
#include <iterator>
#include <map>
#include <set>

namespace hestrel::advise {

using plan::LevelId;
using plan::Micros;
using plan::Plan;

namespace {

/// The level to begin in so that a cause is live: the one it belongs to, else one around its start.
LevelId start_level(const Plan& plan, const Cause& cause, plan::WaypointId at) {
    if (cause.list) {
        if (plan.lists[cause.list].level) return plan.lists[cause.list].level;
        for (const LevelId level : study::met_in(plan, cause.list)) {
            if (level) return level;
        }
    }
    for (const LevelId level : plan.levels.ids()) {
        if (level != cause.near && study::stands_in(plan, at, level)) return level;
    }
    return plan.routes.empty() ? LevelId{std::size_t{0}}
                               : plan.routes[plan::RouteId{std::size_t{0}}].start.level;
}

/// An edition in which a level ships; unset where none is.
plan::EditionId edition_with(const Plan& plan, LevelId level) {
    const LevelId root = plan::root_of(plan.levels, level);
    for (const plan::EditionId edition : plan.editions.ids()) {
        for (const LevelId each : plan.editions[edition].levels) {
            if (plan::root_of(plan.levels, each) == root) return edition;
        }
    }
    return {};
}

/// Whoever can set it off and runs fastest.
plan::PlayerKindId fastest(const Plan& plan, const Load& load) {
    for (const plan::PlayerKindId kind : plan.players.ids()) {
        const bool has_it = std::any_of(
            plan.players[kind].speeds.begin(), plan.players[kind].speeds.end(),
            [&](const plan::Speed& speed) { return speed.metres_per_second == load.top; });
        if (has_it && plan::fits(plan, kind, tags_of(plan, load.cause))) return kind;
    }
    return {};
}

/// As if the condition of what a list belongs to held.
void let_fire(Plan& plan, const Cause& cause) {
    if (const plan::TriggerId trigger = trigger_of(plan, cause)) plan.triggers[trigger].when = {};
    if (const plan::ItemId item = item_of(plan, cause)) plan.items[item].when = {};
}

/// What a walk made of a load, all its transitions together.
struct Met {
    Judgement judged;
    std::optional<Micros> took; ///< the longest
    std::optional<Micros> lead; ///< the shortest from firing to need, where nobody is held
};
Met met_in_walk(const Plan& plan, const walk::Record& record, const Load& load) {
    Met met;
    // Where nobody got to play, or all the time there is has passed, nothing is shown to be in
    // time.
    met.judged.gap = !record.boot || (record.stuck && record.stuck->out_of_time);
    for (const walk::LevelOutcome& outcome : record.outcomes) {
        const walk::Transition& by = record.transitions[outcome.transition - 1];
        if (outcome.level != load.level || by.list != load.cause.list ||
            by.near != load.cause.near || by.went_far)
            continue;
        if (outcome.shown)
            met.took = std::max(met.took.value_or(Micros{}), *outcome.shown - by.fired);
        if (outcome.needed && !outcome.held) {
            const Micros lead = *outcome.needed - by.fired;
            met.lead = std::min(met.lead.value_or(lead), lead);
        }
        if (outcome.slack && !outcome.held) met.judged.take({outcome.slack});
        const Micros until = outcome.shown.value_or(Micros::never());
        for (const walk::Gap& gap : record.gaps) {
            if (plan::same_place(plan, gap.level, load.level) && gap.from >= by.fired &&
                gap.from <= until)
                met.judged.gap = true;
        }
    }
    std::map<std::uint32_t, Micros> at_gate; // by player: since when
    for (const walk::Event& event : record.events) {
        if (event.kind == walk::EventKind::at_gate) at_gate[event.subject] = event.at;
        if (event.kind != walk::EventKind::through_gate) continue;
        const auto since = at_gate.find(event.subject);
        if (since != at_gate.end() &&
            plan::needs(plan, plan.gates[plan::GateId{event.detail}], load.level))
            met.judged.held = std::max(met.judged.held, event.at - since->second);
    }
    return met;
}

using FindingKey = std::tuple<std::string, std::optional<plan::Thing>>;
std::set<FindingKey> keys_of(const std::vector<plan::Finding>& findings) {
    std::set<FindingKey> keys;
    for (const plan::Finding& finding : findings) {
        if (finding.severity != plan::Severity::note) keys.emplace(finding.name, finding.about);
    }
    return keys;
}

/// What `now` has that `before`, the same walk of the plan as it is, has not.
std::vector<Harm> harms_between(const walk::Record& before, const walk::Record& now) {
    std::vector<Harm> harms;
    const auto known = keys_of(before.findings);
    std::set<std::string> said;
    for (const plan::Finding& finding : now.findings) {
        if (finding.severity == plan::Severity::note) continue;
        if (known.contains({finding.name, finding.about})) continue;
        if (said.insert(finding.name).second)
            harms.push_back({now.route, now.device, finding.name});
    }
    return harms;
}

} // namespace

void Judgement::take(const Judgement& other) {
    if (other.slack) slack = std::min(slack.value_or(*other.slack), *other.slack);
    gap = gap || other.gap;
    held = std::max(held, other.held);
    met_straight = met_straight || other.met_straight;
}

plan::Route straight_route(const Plan& plan, const Load& load, const study::SoonestNeed& way) {
    plan::Route route;
    route.name = "straight";
    route.start.at = start_of(plan, way.from.leg);
    route.start.level = start_level(plan, load.cause, route.start.at);
    route.edition = edition_with(plan, route.start.level);
    plan::RoutePlayer player;
    player.name = "player";
    player.kind = fastest(plan, load);
    if (const plan::ItemId item = item_of(plan, load.cause))
        player.steps.push_back({{}, plan::PressStep{item}, 0});
    for (const geometry::Leg leg : way.legs)
        player.steps.push_back({{}, plan::GoStep{end_of(plan, leg), load.top, leg.path}, 0});
    route.players.push_back(std::move(player));
    return route;
}

Judge::Judge(const study::Study& study, const std::vector<walk::Record>& records)
    : study_(study), records_(records), found_(check::check(study.plan)) {}

Judgement Judge::judge(const Load& load, plan::DeviceId device,
                       const std::vector<Edit>& edits) const {
    Plan plan = with(study_.plan, edits);
    walk::Ground ground(plan);
    Judgement judgement;
    Micros worst_contended;
    for (const walk::Record& record : records_) {
        if (record.device != device) continue;
        const Met today = met_in_walk(study_.plan, record, load);
        if (!today.took && !today.judged.gap) continue;
        const Met met = met_in_walk(plan, walk::walked_again(plan, record, ground), load);
        judgement.take(met.judged);
        worst_contended = std::max(worst_contended, met.took.value_or(Micros{}));
    }
    if (!load.first || load.held) return judgement;
    std::optional<study::Geography> changed;
    for (const Edit& edit : edits) {
        if (const auto* shape = std::get_if<SetShape>(&edit)) {
            if (!changed) changed = study_.map;
            changed->look_again(plan, shape->trigger);
        }
        if (std::holds_alternative<AddGate>(edit)) changed.emplace(plan);
    }
    // Where the gate is, the way is looked for as if it were open: the walk waits there.
    const auto way =
        way_of(plan, changed ? *changed : study_.map, load.cause, load.level, {}, load.top);
    if (!way) return judgement;
    const plan::RouteId route = plan.routes.push(straight_route(plan, load, *way));
    let_fire(plan, load.cause);
    const Met met = met_in_walk(plan, walk::walk(plan, route, device, {}, ground), load);
    judgement.take(met.judged);
    judgement.met_straight = met.took || met.judged.gap;
    if (met.lead && met.took && worst_contended > *met.took)
        judgement.take({*met.lead - worst_contended});
    return judgement;
}

std::vector<walk::Record> Judge::walked(const std::vector<Edit>& edits) const {
    const Plan plan = with(study_.plan, edits);
    walk::Ground ground(plan);
    std::vector<walk::Record> again;
    while (again.size() < records_.size()) { // a record of each machine at a time
        const walk::Cast cast = walk::cast_of(records_[again.size()]);
        std::vector<walk::Record> machines = walk::walk(plan, cast, {}, ground);
        std::move(machines.begin(), machines.end(), std::back_inserter(again));
    }
    return again;
}

std::vector<Harm> Judge::harms(const std::vector<Edit>& edits) const {
    std::vector<Harm> harms = harms_in(walked(edits));
    for (Harm& harm : harms_to_plan(edits)) harms.push_back(std::move(harm));
    return harms;
}

std::vector<Harm> Judge::harms_in(const std::vector<walk::Record>& again) const {
    std::vector<Harm> harms;
    for (std::size_t i = 0; i < again.size(); ++i) {
        for (Harm& harm : harms_between(records_[i], again[i])) harms.push_back(std::move(harm));
    }
    return harms;
}

std::vector<Harm> Judge::harms_to_plan(const std::vector<Edit>& edits) const {
    std::vector<Harm> harms;
    const auto known = keys_of(found_);
    std::set<std::string> said;
    for (const plan::Finding& finding : check::check(with(study_.plan, edits))) {
        // That nothing needs to be allowed, or to be there at all, any more is no harm.
        if (finding.severity == plan::Severity::note || finding.name == "allowed-for-nothing" ||
            finding.name == "unused-definition")
            continue;
        if (known.contains({finding.name, finding.about})) continue;
        if (said.insert(finding.name).second) harms.push_back({{}, {}, finding.name});
    }
    return harms;
}

} // namespace hestrel::advise
