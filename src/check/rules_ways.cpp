// Rules about the ways players come: around a trigger, into one, too soon after it.

#include "check/report.hpp"
#include "loading/isolated.hpp"
#include "plan/names.hpp"
#include "study/list_reading.hpp"
#include "study/soonest_need.hpp"
#include "study/trigger_loads.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::check {

using geometry::Leg;
using plan::LevelId;
using plan::Micros;
using plan::ThingKind;
using plan::TriggerId;
using plan::WaypointId;
using Crossed = study::ComingFrom::Crossed;

namespace {

std::string names_of(const plan::Plan& plan, const std::vector<TriggerId>& triggers) {
    constexpr std::size_t most = 3;
    std::vector<std::string> names = plan::names_in(plan.triggers, triggers);
    if (names.size() > most) {
        names.resize(most);
        names.emplace_back("…");
    }
    return plan::joined(names);
}

// --- way-around --------------------------------------------------------------

std::string origin_text(const plan::Plan& plan, const study::ComingFrom::Origin& origin) {
    return origin.trigger
               ? "the trigger " + plan.triggers[origin.trigger].name + ", which lets it go,"
               : plan.waypoints[origin.waypoint].name;
}

} // namespace

void way_around(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const LevelId level : plan.levels.ids()) {
        const std::vector<TriggerId>& bringers = study.brought_by[level];
        const bool always = among(study.always, level) || plan.levels[level].near;
        if (bringers.empty() || always || !study.sound({ThingKind::level, level.value})) continue;
        const std::vector<plan::PathId> into = study.map.paths_into(level);
        if (into.empty()) continue;
        const std::vector<LevelId> itself{level};
        study::ComingFrom search = study::search_without(study, level);
        search.inside = level;
        search.closed = [&](Leg leg) { return study::gated_for(plan, leg.path, itself); };
        const std::vector<Leg> past_bringers = study::legs_past(study, search, bringers);
        for (const plan::PathId path : into) {
            if (study::gated_for(plan, path, itself)) continue;
            std::optional<study::ComingFrom::Origin> origin;
            for (const Leg leg : study::legs_of(plan, path)) {
                for (const study::Need& need : study.map.needs_on(path, level)) {
                    if (!need.area || origin) continue;
                    const study::Part part = study.map.on_leg(leg, need.from, need.to);
                    const bool is_past = study::surely_past(study, leg, level, past_bringers);
                    if (part.from > 0 && !is_past) origin = search.search(leg, part.from);
                }
            }
            if (!origin) continue;
            report.add(plan.paths[path].place, {ThingKind::level, level.value},
                       "players who come from " + origin_text(plan, *origin) + " get into " +
                           plan.levels[level].name +
                           " on this path without crossing what brings it (" +
                           names_of(plan, bringers) + ")");
        }
    }
}

// --- switch-before-gate ------------------------------------------------------

void switch_before_gate(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    const auto takes_away = [&](TriggerId id) {
        return study.effects[plan.triggers[id].steps].switches && !plan.triggers[id].when;
    };
    study::Crossings crossings;
    for (const TriggerId id : plan.triggers.ids()) {
        if (takes_away(id)) crossings.add(plan, study.map, id);
    }
    crossings.sort();
    study::ComingFrom search(plan, study.map);
    search.look_at(crossings);
    for (const plan::PathId path : plan.paths.ids()) {
        const plan::GateId gate = plan.paths[path].gate;
        if (!gate) continue;
        std::vector<LevelId> needs = plan.gates[gate].needs;
        const std::vector<plan::GroupId>& any_of = plan.gates[gate].any_of;
        std::sort(needs.begin(), needs.end());
        search.crossed = [&](TriggerId id) {
            const std::vector<LevelId>& asks = study.effects[plan.triggers[id].steps].asks;
            const bool brings_all =
                std::includes(asks.begin(), asks.end(), needs.begin(), needs.end()) &&
                std::all_of(any_of.begin(), any_of.end(), [&](plan::GroupId group) {
                    return plan::any_of_group(plan, group,
                                              [&](LevelId level) { return among(asks, level); });
                });
            return takes_away(id) && !brings_all ? Crossed::stops : Crossed::nothing;
        };
        search.standing = [&](WaypointId waypoint) {
            return study.arrivals_at[waypoint].empty() ? Crossed::nothing : Crossed::found;
        };
        // Nobody has come through the gate that this is about.
        search.closed = [&](Leg leg) { return leg.path == path; };
        if (search.search(plan.paths[path].from)) continue;
        const TriggerId first = search.first_stop();
        if (!first) continue;
        report.add(
            plan.triggers[first].place, {ThingKind::trigger, first.value},
            "players come into this trigger, which takes them away, before they reach the gate " +
                plan.gates[gate].name);
    }
}

// --- trigger-too-late --------------------------------------------------------

namespace {

/// How far behind its need a trigger's load is, on the device where that is worst.
struct Late {
    plan::DeviceId device;
    Micros load;
    double need = 0; ///< seconds
    std::string others;
};

std::optional<Late> how_late(const Study& study, TriggerId id, LevelId level, double top,
                             const loading::IsolatedLoad& what) {
    const plan::Plan& plan = study.plan;
    double most = 0;
    for (const loading::Catalogue& catalogue : study.catalogues)
        most = std::max(most, plan::in_seconds(loading::load_alone_at_most(catalogue, what)));
    const auto soonest =
        study::soonest_need(plan, study.map, study::firings_of(plan, study.map, id),
                            {level, study.effects[plan.triggers[id].steps].asks, top, most});
    if (!soonest) return std::nullopt;
    const double need = soonest->seconds;
    std::optional<Late> worst;
    for (const plan::DeviceId device : plan.devices.ids()) {
        if (!study.sound({ThingKind::device, device.value})) continue;
        const Micros load = loading::isolated_load(study.catalogues[device.value], what).shown;
        if (plan::in_seconds(load) <= need) continue;
        if (!worst || load > worst->load) {
            const std::string others =
                worst ? worst->others + ", " + plan.devices[worst->device].name : std::string();
            worst = Late{device, load, need, others};
        } else {
            worst->others += ", " + plan.devices[device].name;
        }
    }
    return worst;
}

std::string late_text(const plan::Plan& plan, LevelId level, const Late& late, double top) {
    const auto metres =
        static_cast<std::int64_t>(std::ceil((plan::in_seconds(late.load) - late.need) * top));
    return "at top speed " + plan.levels[level].name + " is needed " +
           short_time({std::llround(late.need * 1e6)}) +
           " after this fires, but is shown only after " + short_time(late.load) + " on " +
           plan.devices[late.device].name +
           (late.others.empty() ? "" : " (too late on" + late.others.substr(1) + " as well)") +
           ": it stands " + std::to_string(metres) + " m too near";
}

} // namespace

void trigger_too_late(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        const double top = top_speed(plan, trigger.tags);
        if (study.map.meetings[id].empty() || top <= 0) continue;
        if (study::hides_loading(plan.lists[trigger.steps])) continue;
        if (std::any_of(trigger.in.begin(), trigger.in.end(), [&](LevelId level) {
                return !study.sound({ThingKind::level, level.value});
            }))
            continue;
        std::optional<std::vector<LevelId>> there;
        for (const LevelId level : study.effects[trigger.steps].shows) {
            const bool somewhere =
                !plan.levels[level].area.empty() || !plan.levels[level].seen_from.empty();
            if (!somewhere || study.shown_without_steps[level]) continue;
            if (!study.sound({ThingKind::level, level.value})) continue;
            if (!there) there = study::there_at(study, id);
            if (among(*there, level)) continue;
            const auto late =
                how_late(study, id, level, top, {*there, {level}, plan::Priority::soon});
            if (!late || !study::crossed_first(study, id, level)) continue;
            report.add(trigger.place, {ThingKind::trigger, id.value},
                       late_text(plan, level, *late, top));
        }
    }
}

// --- fixed-wait-for-load -----------------------------------------------------

void fixed_wait_for_load(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const plan::StepList& list : plan.lists) {
        for (const study::FixedWait& wait : study::fixed_waits(plan, list)) {
            const loading::IsolatedLoad what{study.there_with(list), wait.levels,
                                             plan::Priority::soon};
            std::string short_on;
            for (const plan::DeviceId device : plan.devices.ids()) {
                if (!study.sound({ThingKind::device, device.value})) continue;
                const auto times = loading::isolated_load(study.catalogues[device.value], what);
                const Micros needed = wait.shown ? times.shown : times.ready;
                if (needed <= wait.time) continue;
                short_on += (short_on.empty() ? "" : ", ") + short_time(needed) + " on " +
                            plan.devices[device].name;
            }
            const std::string levels = check::names_of(plan, wait.levels);
            const std::string state = wait.shown ? "shown" : "ready";
            if (short_on.empty()) {
                report.add(wait.step->place, owner_of(list),
                           "this waits a fixed time for " + levels + "; wait until " +
                               (wait.levels.size() == 1 ? "it is " : "they are ") + state +
                               " instead");
            } else {
                report.add(wait.step->place, owner_of(list),
                           "this waits " + short_time(wait.time) + " for " + levels +
                               ", but until " + (wait.levels.size() == 1 ? "it is " : "they are ") +
                               state + " it takes " + short_on,
                           plan::Severity::error);
            }
        }
    }
}

} // namespace hestrel::check
