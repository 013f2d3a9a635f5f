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

void set_out(const plan::Plan& plan, std::vector<geometry::Leg> way, Traveller& traveller,
             plan::WaypointId goal, double speed) {
    traveller.goal = goal;
    begin_way(plan, traveller, std::move(way), speed);
}

void set_out_along(const plan::Plan& plan, Traveller& traveller, geometry::Leg leg, double speed) {
    traveller.goal = geometry::end_of(plan, leg);
    begin_way(plan, traveller, {leg}, speed);
}

std::vector<Met> met_by(const plan::Plan& plan, const Zones& zones, const Traveller& traveller) {
    const plan::Path& path = plan.paths[traveller.legs[traveller.leg].path];
    const plan::Vec3& a = traveller.corners[traveller.corner];
    const plan::Vec3& b = traveller.corners[traveller.corner + 1];
    std::vector<Met> met;
    for (const ZoneId id : zones.near(plan.waypoints[path.from].world, a, b)) {
        if (const auto stretch = zones[id].crossing(a, b)) met.push_back({id, *stretch});
    }
    return met;
}

void measure_piece(const plan::Plan& plan, const Zones& zones, const std::set<ZoneId>& inside,
                   Traveller& traveller) {
    measure_piece(plan, zones, met_by(plan, zones, traveller), inside, traveller);
}

void measure_piece(const plan::Plan& plan, const Zones& zones, std::span<const Met> met,
                   const std::set<ZoneId>& inside, Traveller& traveller) {
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
    const auto add = [&](ZoneId zone, long double share, bool enters) {
        traveller.crossings.push_back({geometry::travel_time(share * length, speed), zone, enters});
    };
    for (const auto& [zone, stretch] : met) {
        if (!inside.contains(zone)) add(zone, stretch.from, true);
        if (stretch.to < 1) add(zone, stretch.to, false);
    }
    for (const ZoneId zone : inside) {
        const auto same =
            std::lower_bound(met.begin(), met.end(), zone,
                             [](const Met& each, ZoneId wanted) { return each.zone < wanted; });
        if (same != met.end() && same->zone == zone) continue;
        const auto stretch = zones[zone].crossing(a, b);
        const long double to = stretch ? stretch->to : 0; // noise at a corner: it leaves at once
        if (to < 1) add(zone, to, false);
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
