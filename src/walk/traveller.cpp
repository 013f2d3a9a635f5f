#include "walk/traveller.hpp"

#include "geometry/crossing.hpp"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace hestrel::walk {

using plan::TriggerId;

TriggerMap::TriggerMap(const plan::Plan& plan) {
    std::vector<std::vector<std::pair<plan::Box, std::uint32_t>>> boxes(plan.worlds.size());
    for (const TriggerId id : plan.triggers.ids()) {
        boxes[plan.triggers[id].world.value].emplace_back(
            geometry::bounds_of(plan.triggers[id].shape), id.value);
    }
    for (const auto& of_world : boxes) by_world_.emplace_back(of_world);
}

std::vector<TriggerId> TriggerMap::near(plan::WorldId world, const plan::Vec3& a,
                                        const plan::Vec3& b) const {
    std::vector<TriggerId> triggers;
    for (const std::uint32_t number : by_world_[world.value].near(a, b))
        triggers.emplace_back(number);
    return triggers;
}

bool set_out(const plan::Plan& plan, geometry::WayFinder& ways, Traveller& traveller,
             plan::WaypointId goal, double speed) {
    auto legs = ways.shortest(traveller.at, goal);
    if (!legs) return false;
    traveller.goal = goal;
    traveller.speed = speed;
    traveller.legs = std::move(*legs);
    traveller.leg = 0;
    traveller.corner = 0;
    if (!traveller.legs.empty())
        traveller.corners = geometry::corners_of(plan, traveller.legs.front());
    return true;
}

void measure_piece(const plan::Plan& plan, const TriggerMap& map, Traveller& traveller) {
    const plan::Path& path = plan.paths[traveller.legs[traveller.leg].path];
    const plan::Vec3& a = traveller.corners[traveller.corner];
    const plan::Vec3& b = traveller.corners[traveller.corner + 1];
    const double speed = path.speed ? std::min(*path.speed, traveller.speed) : traveller.speed;
    const long double length = geometry::distance(a, b);
    traveller.duration = geometry::travel_time(length, speed);
    traveller.walked = {};
    traveller.crossings.clear();
    traveller.next_crossing = 0;
    std::set<TriggerId> candidates = traveller.inside;
    for (const TriggerId id : map.near(plan.waypoints[path.from].world, a, b))
        candidates.insert(id);
    for (const TriggerId id : candidates) {
        const bool was_inside = traveller.inside.contains(id);
        const auto stretch = geometry::crossing(plan.triggers[id].shape, a, b);
        const long double from = stretch ? stretch->from : 0;
        const long double to =
            stretch ? stretch->to : 0; // rounding noise at a corner: it leaves at once
        if (!stretch && !was_inside) continue;
        if (!was_inside)
            traveller.crossings.push_back({geometry::travel_time(from * length, speed), id, true});
        if (to < 1)
            traveller.crossings.push_back({geometry::travel_time(to * length, speed), id, false});
    }
    std::stable_sort(traveller.crossings.begin(), traveller.crossings.end(),
                     [](const Crossing& one, const Crossing& other) {
                         return std::tuple(one.after, one.trigger, !one.enters) <
                                std::tuple(other.after, other.trigger, !other.enters);
                     });
}

bool next_piece(const plan::Plan& plan, Traveller& traveller) {
    if (++traveller.corner + 1 < traveller.corners.size()) return true;
    traveller.corner = 0;
    if (++traveller.leg == traveller.legs.size()) return false;
    traveller.corners = geometry::corners_of(plan, traveller.legs[traveller.leg]);
    return true;
}

std::set<TriggerId> triggers_at(const plan::Plan& plan, const TriggerMap& map,
                                plan::WaypointId at) {
    std::set<TriggerId> inside;
    if (!at) return inside;
    const plan::Waypoint& waypoint = plan.waypoints[at];
    for (const TriggerId id : map.near(waypoint.world, waypoint.at, waypoint.at)) {
        if (geometry::contains(plan.triggers[id].shape, waypoint.at)) inside.insert(id);
    }
    return inside;
}

} // namespace hestrel::walk
