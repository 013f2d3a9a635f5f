// Rules about triggers and where they stand.

#include "check/context.hpp"
#include "geometry/crossing.hpp"
#include "geometry/ways.hpp"

#include <algorithm>
#include <cmath>
#include <string>

namespace hestrel::check {

using plan::LevelId;
using plan::ThingKind;
using plan::TriggerId;

void trigger_fits_nobody(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    const auto anybody_has = [&](plan::WordId tag) {
        return std::any_of(
            plan.players.begin(), plan.players.end(), [&](const plan::PlayerKind& player) {
                return std::find(player.tags.begin(), player.tags.end(), tag) != player.tags.end();
            });
    };
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        if (trigger.tags.empty() ||
            std::any_of(trigger.tags.begin(), trigger.tags.end(), anybody_has))
            continue;
        report.add(trigger.place, {ThingKind::trigger, id.value},
                   "no player has the tag " + plan.words[trigger.tags.front()] +
                       ", so this never fires");
    }
}

void trigger_brings_own_level(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        if (!trigger.in) continue;
        const std::vector<plan::ListId>& by = context.shown_by[trigger.in];
        const auto itself = [&](plan::ListId list) { return list == trigger.steps; };
        if (by.empty() || !std::all_of(by.begin(), by.end(), itself)) continue;
        if (context.shown_without_steps[trigger.in]) continue;
        report.add(trigger.place, {ThingKind::trigger, id.value},
                   "only this trigger shows " + plan.levels[trigger.in].name +
                       ", the level it is in, so neither ever comes about");
    }
}

namespace {

/// Calls `each(stretch, metres)` for every straight piece of a path that meets a trigger's shape.
template <class Each>
void for_pieces_through(const plan::Plan& plan, const plan::Trigger& trigger, plan::PathId path,
                        Each each) {
    const std::vector<plan::Vec3> corners = geometry::corners_of(plan, {path, true});
    for (std::size_t i = 1; i < corners.size(); ++i) {
        if (const auto stretch = geometry::crossing(trigger.shape, corners[i - 1], corners[i])) {
            each(*stretch, geometry::distance(corners[i - 1], corners[i]));
        }
    }
}

double top_speed(const plan::Plan& plan) {
    double top = 0;
    for (const plan::PlayerKind& player : plan.players) {
        for (const plan::Speed& speed : player.speeds) top = std::max(top, speed.metres_per_second);
    }
    return top;
}

} // namespace

void trigger_off_paths(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        if (std::holds_alternative<std::monostate>(trigger.shape)) continue;
        const auto near = context.waypoints_near(trigger);
        bool met = std::any_of(near.begin(), near.end(), [&](plan::WaypointId waypoint) {
            return geometry::contains(trigger.shape, plan.waypoints[waypoint].at);
        });
        for (const plan::PathId path : context.paths_near(trigger)) {
            for_pieces_through(plan, trigger, path,
                               [&](const geometry::Stretch&, double) { met = true; });
        }
        if (met) continue;
        report.add(trigger.place, {ThingKind::trigger, id.value},
                   "no path leads through this trigger");
    }
}

void trigger_too_thin(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    const double top = top_speed(plan);
    const plan::Device* slowest = nullptr;
    for (const plan::Device& device : plan.devices) {
        if (slowest == nullptr || device.frame.period > slowest->frame.period) slowest = &device;
    }
    if (slowest == nullptr || top <= 0) return;
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        double thinnest = 1e9;
        for (const plan::PathId path : context.paths_near(trigger)) {
            const double speed = std::min(top, plan.paths[path].speed.value_or(top));
            for_pieces_through(
                plan, trigger, path, [&](const geometry::Stretch& stretch, double metres) {
                    if (stretch.from <= 0 || stretch.to >= 1) return; // a player can stand in it
                    thinnest = std::min(thinnest, static_cast<double>(stretch.to - stretch.from) *
                                                      metres / speed);
                });
        }
        const double period = plan::in_seconds(slowest->frame.period);
        if (thinnest >= period) continue;
        report.add(trigger.place, {ThingKind::trigger, id.value},
                   "at top speed a player is through this trigger in " +
                       std::to_string(std::lround(thinnest * 1000)) + " ms, less than a frame of " +
                       std::to_string(std::lround(period * 1000)) + " ms on " + slowest->name);
    }
}

} // namespace hestrel::check
