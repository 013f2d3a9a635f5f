#include "flow/traveller.hpp"

#include "geometry/crossing.hpp"

#include <algorithm>
#include <tuple>

namespace hestrel::flow {

using plan::Micros;

double Traveller::metres(Micros now) const {
    if (!on_the_way() || duration.count == 0) return metres_before;
    const Micros gone = walked + (going_since ? now - *going_since : Micros{});
    return metres_before +
           piece_length * static_cast<double>(gone.count) / static_cast<double>(duration.count);
}

plan::Vec3 Traveller::position() const {
    const plan::Vec3& a = corners[corner];
    const plan::Vec3& b = corners[corner + 1];
    const double share = duration.count == 0 ? 1
                                             : static_cast<double>(walked.count) /
                                                   static_cast<double>(duration.count);
    plan::Vec3 place{};
    for (std::size_t axis = 0; axis < place.size(); ++axis)
        place[axis] = a[axis] + (b[axis] - a[axis]) * share;
    return place;
}

namespace {

void begin_way(const plan::Plan& plan, Traveller& traveller, std::vector<geometry::Leg> legs,
               double speed) {
    traveller.speed = speed;
    traveller.legs = std::move(legs);
    traveller.leg = 0;
    traveller.corner = 0;
    traveller.walked = {};
    traveller.duration = {};
    traveller.at_gate = false;
    if (!traveller.legs.empty())
        traveller.corners = geometry::corners_of(plan, traveller.legs.front());
}

} // namespace

bool set_out(const plan::Plan& plan, geometry::WayFinder& ways, Traveller& traveller,
             plan::WaypointId goal, double speed) {
    auto legs = ways.shortest(traveller.at, goal);
    if (!legs) return false;
    traveller.goal = goal;
    begin_way(plan, traveller, std::move(*legs), speed);
    return true;
}

void set_out_along(const plan::Plan& plan, Traveller& traveller, geometry::Leg leg, double speed) {
    traveller.goal = geometry::end_of(plan, leg);
    begin_way(plan, traveller, {leg}, speed);
}

void measure_piece(const plan::Plan& plan, const Zones& zones, const std::set<ZoneId>& inside,
                   Traveller& traveller) {
    const plan::Path& path = plan.paths[traveller.legs[traveller.leg].path];
    const plan::Vec3& a = traveller.corners[traveller.corner];
    const plan::Vec3& b = traveller.corners[traveller.corner + 1];
    const double speed = path.speed ? std::min(*path.speed, traveller.speed) : traveller.speed;
    const long double length = geometry::distance(a, b);
    traveller.piece_length = static_cast<double>(length);
    traveller.piece_speed = speed;
    traveller.duration = geometry::travel_time(length, speed);
    traveller.walked = {};
    traveller.crossings.clear();
    traveller.next_crossing = 0;
    std::set<ZoneId> candidates = inside;
    for (const ZoneId id : zones.near(plan.waypoints[path.from].world, a, b)) candidates.insert(id);
    for (const ZoneId id : candidates) {
        const bool was_inside = inside.contains(id);
        const auto stretch = zones[id].crossing(a, b);
        const long double from = stretch ? stretch->from : 0;
        const long double to =
            stretch ? stretch->to : 0; // rounding noise at a corner: it leaves at once
        if (!stretch && !was_inside) continue;
        if (!was_inside)
            traveller.crossings.push_back({geometry::travel_time(from * length, speed), id, true});
        if (to < 1)
            traveller.crossings.push_back({geometry::travel_time(to * length, speed), id, false});
    }
    // At one moment it gets into the next box of a level before it gets out of the last: it was
    // never outside.
    std::stable_sort(traveller.crossings.begin(), traveller.crossings.end(),
                     [](const Crossing& one, const Crossing& other) {
                         return std::tuple(one.after, !one.enters, one.zone) <
                                std::tuple(other.after, !other.enters, other.zone);
                     });
}

bool next_piece(const plan::Plan& plan, Traveller& traveller) {
    traveller.metres_before += traveller.piece_length;
    traveller.walked = {};
    traveller.duration = {};
    if (++traveller.corner + 1 < traveller.corners.size()) return true;
    traveller.corner = 0;
    if (++traveller.leg == traveller.legs.size()) return false;
    traveller.corners = geometry::corners_of(plan, traveller.legs[traveller.leg]);
    return true;
}

} // namespace hestrel::flow
