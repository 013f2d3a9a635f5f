#pragma once
// Shortest ways over the plan's paths (docs/model.md section 5).

#include "plan/members.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <optional>
#include <vector>

namespace hestrel::geometry {

/// One path walked from one of its ends to the other.
struct Leg {
    plan::PathId path;
    bool forward = true; ///< from `Path::from` to `Path::to`
    bool operator==(const Leg&) const = default;
};
void for_members(plan::IsA<Leg> auto& of, auto&& visit) {
    auto& [path, forward] = of;
    visit(path);
    visit(forward);
}

/// Finds ways. Searches outward from the goal and stops at the start, so that a short way in a
/// large plan is cheap; keeps its scratch space, so use one per thread.
class WayFinder {
public:
    explicit WayFinder(const plan::Plan& plan);

    /// The legs of the shortest way; of equally long ones (within a nanometre) the one whose first
    /// differing path stands first in the plan. Empty where from == to; nothing where there is no
    /// way.
    std::optional<std::vector<Leg>> shortest(plan::WaypointId from, plan::WaypointId to);

    /// Length of a path in metres, along its corners.
    [[nodiscard]] double length(plan::PathId path) const { return lengths_[path]; }

private:
    struct Edge {
        Leg leg;
        plan::WaypointId to;
    };
    plan::Table<plan::PathId, double> lengths_;
    plan::Table<plan::WaypointId, std::vector<Edge>> outgoing_; ///< in the plan's order of paths
    plan::Table<plan::WaypointId, std::vector<Edge>> incoming_;
    plan::Table<plan::WaypointId, double> rest_; ///< metres to the goal, where `seen_` is current
    plan::Table<plan::WaypointId, std::uint32_t> seen_;   ///< the search that wrote `rest_`
    plan::Table<plan::WaypointId, std::uint32_t> closed_; ///< the search in which `rest_` is final
    std::uint32_t search_ = 0;
};

/// The waypoint at which a leg begins, or ends.
plan::WaypointId start_of(const plan::Plan& plan, Leg leg);
plan::WaypointId end_of(const plan::Plan& plan, Leg leg);

/// Length of a path in metres, along its corners.
double length_of(const plan::Plan& plan, plan::PathId path);

/// The corners of a leg from its start to its end, both included.
std::vector<plan::Vec3> corners_of(const plan::Plan& plan, Leg leg);

} // namespace hestrel::geometry
