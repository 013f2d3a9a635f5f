#pragma once
// Where players can get to from where they find themselves, asked for once for the whole plan:
// whole paths and waypoints, whatever stands on them.

#include "study/geography.hpp"

#include <cstdint>
#include <vector>

namespace hestrel::study {

/// A forest in which it is known at once what stands above what.
class Ancestry {
public:
    static constexpr std::uint32_t none = UINT32_MAX;

    Ancestry() = default;
    /// By each node its parent; `none` for a root, and for what is in no tree. No circles.
    explicit Ancestry(const std::vector<std::uint32_t>& parents);
    /// Whether `one` is `other`, or above it.
    [[nodiscard]] bool is_above(std::uint32_t one, std::uint32_t other) const {
        return first_[one] <= first_[other] && first_[other] <= last_[one];
    }

private:
    std::vector<std::uint32_t> first_; ///< by node, its number in an order from parents to children
    std::vector<std::uint32_t> last_;  ///< the largest such number below it
};

/// All ways from `origins` along whole legs.
class Reach {
public:
    /// Nothing is known of it without a plan.
    Reach() = default;
    Reach(const plan::Plan& plan, const Geography& map,
          const std::vector<plan::WaypointId>& origins);

    /// Whether any way leads there.
    [[nodiscard]] bool leads_to(plan::WaypointId waypoint) const {
        return reached_[node(waypoint)];
    }
    /// Whether one way there, one of the shortest, goes along none of those legs. Others may, too.
    [[nodiscard]] bool avoids(plan::WaypointId waypoint,
                              const std::vector<geometry::Leg>& legs) const;
    /// Whether every way there goes along one of those legs: some one of them is on all.
    [[nodiscard]] bool must_take(plan::WaypointId waypoint,
                                 const std::vector<geometry::Leg>& legs) const;

private:
    // Nodes: 0 is where all ways begin, then waypoints, then legs there and back.
    [[nodiscard]] std::uint32_t node(plan::WaypointId waypoint) const { return 1 + waypoint.value; }
    [[nodiscard]] std::uint32_t node(geometry::Leg leg) const {
        return 1 + waypoints_ + 2 * leg.path.value + (leg.forward ? 0U : 1U);
    }

    std::uint32_t waypoints_ = 0;
    std::vector<bool> reached_;
    Ancestry shortest_; ///< above each node what is on one shortest way to it
    Ancestry always_;   ///< above each node what is on every way to it
};

} // namespace hestrel::study
