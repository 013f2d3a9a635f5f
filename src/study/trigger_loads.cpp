#include "study/trigger_loads.hpp"

#include "plan/lists.hpp"
#include "study/soonest_need.hpp"

#include <algorithm>
#include <set>

namespace hestrel::study {

using geometry::Leg;
using plan::LevelId;
using plan::TriggerId;
using plan::WaypointId;
using Crossed = ComingFrom::Crossed;

namespace {

/// Whether crossing a trigger can leave `level` unloaded.
bool lets_go(const Study& study, TriggerId trigger, LevelId level) {
    const Effects& effect = study.effects[study.plan.triggers[trigger].steps];
    const bool left = effect.leaves_all && !plan::among(effect.keeps, level);
    return plan::among(effect.unloads, level) || (left && !study.plan.levels[level].persist);
}

/// What it means for `level` that players crossed a trigger that does not bring it.
Crossed crossed_elsewhere(const Study& study, TriggerId id, LevelId level) {
    const plan::Trigger& trigger = study.plan.triggers[id];
    const Effects& effect = study.effects[trigger.steps];
    // Nobody walks on from where it takes everyone somewhere else; and where its condition does not
    // hold, it lets nothing go.
    if (effect.moves_on && !trigger.when) return Crossed::stops;
    return !effect.switches && lets_go(study, id, level) ? Crossed::found : Crossed::nothing;
}

/// Whether players can find themselves at a waypoint while nothing has asked for `level`.
bool begin_without(const Study& study, WaypointId waypoint, LevelId level) {
    const auto& here = study.arrivals_at[waypoint];
    return std::any_of(here.begin(), here.end(), [&](std::size_t arrival) {
        return !plan::among(study.arrivals[arrival].asked, level);
    });
}

} // namespace

std::vector<Leg> legs_past(const Study& study, const ComingFrom& search,
                           const std::vector<TriggerId>& triggers) {
    std::vector<Leg> legs;
    for (const TriggerId trigger : triggers) {
        for (const plan::PathId path : study.map.paths_through(trigger)) {
            for (const Leg leg : legs_of(study.plan, path)) {
                if (search.stops_on(leg)) legs.push_back(leg);
            }
        }
    }
    return legs;
}

bool surely_past(const Study& study, Leg leg, LevelId level, const std::vector<Leg>& past) {
    return !study.let_go[level] && study.reach.must_take(geometry::start_of(study.plan, leg), past);
}

ComingFrom search_without(const Study& study, LevelId level, TriggerId but) {
    ComingFrom search(study.plan, study.map);
    search.look_at(study.crossings);
    search.look_at(study.crossings, level);
    search.crossed = [&study, level, but](TriggerId trigger) {
        if (trigger == but) return Crossed::nothing;
        if (plan::among(study.brought_by[level], trigger)) return Crossed::stops;
        return crossed_elsewhere(study, trigger, level);
    };
    search.standing = [&study, level](WaypointId waypoint) {
        return begin_without(study, waypoint, level) ? Crossed::found : Crossed::nothing;
    };
    return search;
}

bool crossed_first(const Study& study, TriggerId id, LevelId level) {
    const plan::Plan& plan = study.plan;
    ComingFrom search = search_without(study, level, id);
    const std::vector<Leg> past_bringers = legs_past(study, search, study.brought_by[level]);
    for (const plan::PathId path : study.map.paths_through(id)) {
        for (const Leg leg : legs_of(plan, path)) {
            if (surely_past(study, leg, level, past_bringers)) continue;
            for (const Meeting& meeting : study.map.meetings_on(path, id)) {
                const double from = study.map.on_leg(leg, meeting.from, meeting.to).from;
                if (search.search(leg, from)) return true;
            }
        }
    }
    return false;
}

std::vector<LevelId> there_at(const Study& study, TriggerId id) {
    const plan::Trigger& trigger = study.plan.triggers[id];
    std::vector<LevelId> there = study.there_with(trigger.in);
    if (!trigger.in.empty()) return there;
    std::set<const Area*> areas;
    for (const Meeting& meeting : study.map.meetings[id]) {
        for (const Area* area : study.map.areas_at(meeting.path, meeting.from)) areas.insert(area);
    }
    for (const Area* area : areas) {
        if (plan::among(study.brought_by[area->level], id)) continue;
        const auto family = plan::asked_with(study.tree, area->level);
        there.insert(there.end(), family.begin(), family.end());
    }
    std::sort(there.begin(), there.end());
    return there;
}

} // namespace hestrel::study
