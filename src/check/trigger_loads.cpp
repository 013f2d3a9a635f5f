#include "check/trigger_loads.hpp"

#include "check/soonest_need.hpp"

#include <algorithm>

namespace hestrel::check {

using geometry::Leg;
using plan::LevelId;
using plan::TriggerId;
using plan::WaypointId;
using Crossed = ComingFrom::Crossed;

namespace {

/// Whether crossing a trigger can leave `level` unloaded.
bool lets_go(const Context& context, TriggerId trigger, LevelId level) {
    const Effects& effect = context.effects[context.plan.triggers[trigger].steps];
    const bool left = effect.leaves_all && !among(effect.keeps, level);
    return among(effect.unloads, level) || (left && !context.plan.levels[level].persist);
}

} // namespace

bool hides_loading(const plan::StepList& list) {
    return std::any_of(list.steps.begin(), list.steps.end(), [](const plan::Step& step) {
        return std::holds_alternative<plan::VeilStep>(step.what) ||
               std::holds_alternative<plan::FreezeStep>(step.what) || switch_of(step) != nullptr;
    });
}

ComingFrom::Crossed crossed_elsewhere(const Context& context, TriggerId id, LevelId level) {
    const plan::Trigger& trigger = context.plan.triggers[id];
    // Nobody walks on from where it takes everyone somewhere else.
    if (context.effects[trigger.steps].moves_on && !trigger.when) return Crossed::stops;
    return lets_go(context, id, level) ? Crossed::found : Crossed::nothing;
}

bool begin_without(const Context& context, WaypointId waypoint, LevelId level) {
    const auto& here = context.arrivals_at[waypoint];
    return std::any_of(here.begin(), here.end(), [&](std::size_t arrival) {
        return !among(context.arrivals[arrival].asked, level);
    });
}

bool crossed_first(const Context& context, TriggerId id, LevelId level) {
    const plan::Plan& plan = context.plan;
    ComingFrom search(plan, context.map);
    search.crossed = [&](TriggerId trigger) {
        if (trigger == id) return Crossed::nothing;
        if (contains(context.brought_by[level], trigger)) return Crossed::stops;
        return crossed_elsewhere(context, trigger, level);
    };
    search.standing = [&](WaypointId waypoint) {
        return begin_without(context, waypoint, level) ? Crossed::found : Crossed::nothing;
    };
    for (const plan::PathId path : context.map.paths_through[id]) {
        for (const Leg leg : legs_of(plan, path)) {
            for (const Meeting& meeting : context.map.meetings[path]) {
                if (meeting.trigger != id) continue;
                const double from = context.map.on_leg(leg, meeting.from, meeting.to).from;
                if (search.search(leg, from)) return true;
            }
        }
    }
    return false;
}

std::vector<LevelId> there_at(const Context& context, TriggerId id) {
    const plan::Trigger& trigger = context.plan.triggers[id];
    std::vector<LevelId> there = context.there_with(trigger.in);
    if (trigger.in) return there;
    for (const plan::PathId path : context.map.paths_through[id]) {
        for (const Need& need : context.map.needs[path]) {
            if (!need.area || contains(context.brought_by[need.level], id)) continue;
            const auto& meetings = context.map.meetings[path];
            const bool here =
                std::any_of(meetings.begin(), meetings.end(), [&](const Meeting& meeting) {
                    return meeting.trigger == id && meeting.from >= need.from &&
                           meeting.from <= need.to;
                });
            if (!here) continue;
            const auto family = plan::asked_with(context.tree, need.level);
            there.insert(there.end(), family.begin(), family.end());
        }
    }
    std::sort(there.begin(), there.end());
    return there;
}

} // namespace hestrel::check
