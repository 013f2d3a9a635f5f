#include "geometry/ways.hpp"

#include "geometry/crossing.hpp"

#include <algorithm>
#include <functional>
#include <queue>

namespace hestrel::geometry {

namespace {

/// Lengths that differ by less are the same length.
constexpr double same_length = 1e-9;

} // namespace

plan::WaypointId start_of(const plan::Plan& plan, Leg leg) {
    return leg.forward ? plan.paths[leg.path].from : plan.paths[leg.path].to;
}

plan::WaypointId end_of(const plan::Plan& plan, Leg leg) {
    return leg.forward ? plan.paths[leg.path].to : plan.paths[leg.path].from;
}

double length_of(const plan::Plan& plan, plan::PathId path) {
    const std::vector<plan::Vec3> corners = corners_of(plan, {path, true});
    double length = 0;
    for (std::size_t i = 1; i < corners.size(); ++i) length += distance(corners[i - 1], corners[i]);
    return length;
}

std::vector<plan::Vec3> corners_of(const plan::Plan& plan, Leg leg) {
    const plan::Path& path = plan.paths[leg.path];
    std::vector<plan::Vec3> corners{plan.waypoints[path.from].at};
    corners.insert(corners.end(), path.via.begin(), path.via.end());
    corners.push_back(plan.waypoints[path.to].at);
    if (!leg.forward) std::reverse(corners.begin(), corners.end());
    return corners;
}

WayFinder::WayFinder(const plan::Plan& plan)
    : outgoing_(plan.waypoints.size()), incoming_(plan.waypoints.size()),
      rest_(plan.waypoints.size()), seen_(plan.waypoints.size()), closed_(plan.waypoints.size()) {
    for (const plan::PathId id : plan.paths.ids()) {
        const plan::Path& path = plan.paths[id];
        lengths_.push(length_of(plan, id));
        outgoing_[path.from].push_back({{id, true}, path.to});
        incoming_[path.to].push_back({{id, true}, path.from});
        if (path.one_way) continue;
        outgoing_[path.to].push_back({{id, false}, path.from});
        incoming_[path.from].push_back({{id, false}, path.to});
    }
}

std::optional<std::vector<Leg>> WayFinder::shortest(plan::WaypointId from, plan::WaypointId to) {
    using Candidate = std::pair<double, plan::WaypointId>;
    std::priority_queue<Candidate, std::vector<Candidate>, std::greater<>> open;
    ++search_;
    rest_[to] = 0;
    seen_[to] = search_;
    open.emplace(0.0, to);
    while (!open.empty() && closed_[from] != search_) {
        const auto [rest, at] = open.top();
        open.pop();
        if (closed_[at] == search_) continue;
        closed_[at] = search_;
        for (const Edge& edge : incoming_[at]) {
            const double candidate = rest + lengths_[edge.leg.path];
            if (seen_[edge.to] == search_ && rest_[edge.to] <= candidate) continue;
            seen_[edge.to] = search_;
            rest_[edge.to] = candidate;
            open.emplace(candidate, edge.to);
        }
    }
    if (closed_[from] != search_) return std::nullopt;

    // From the start, always the first path in plan order that loses nothing. A zero-length path
    // that leads back would lose nothing either, so no waypoint is entered twice.
    std::vector<Leg> legs;
    std::vector<plan::WaypointId> entered{from};
    for (plan::WaypointId at = from; at != to;) {
        const Edge* best = nullptr;
        for (const Edge& edge : outgoing_[at]) {
            if (closed_[edge.to] != search_) continue;
            const double through = lengths_[edge.leg.path] + rest_[edge.to];
            if (through > rest_[at] + same_length) continue;
            if (lengths_[edge.leg.path] <= same_length &&
                std::find(entered.begin(), entered.end(), edge.to) != entered.end()) {
                continue;
            }
            best = &edge;
            break;
        }
        if (best == nullptr) return std::nullopt;
        legs.push_back(best->leg);
        at = best->to;
        entered.push_back(at);
    }
    return legs;
}

} // namespace hestrel::geometry
