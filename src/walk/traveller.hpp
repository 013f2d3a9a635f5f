#pragma once
// One player's movement: straight pieces of way, each with the moments at which it gets into and
// out of trigger shapes (docs/model.md section 5).

#include "geometry/shape_index.hpp"
#include "geometry/ways.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <optional>
#include <set>
#include <vector>

namespace hestrel::walk {

/// Trigger shapes by world, for finding those near a movement.
class TriggerMap {
public:
    explicit TriggerMap(const plan::Plan& plan);
    /// Triggers of `world` whose shape could meet segment a-b, in plan order.
    [[nodiscard]] std::vector<plan::TriggerId> near(plan::WorldId world, const plan::Vec3& a,
                                                    const plan::Vec3& b) const;

private:
    std::vector<geometry::ShapeIndex> by_world_;
};

/// Getting into or out of a trigger's shape, so long after the start of a piece of way.
struct Crossing {
    plan::Micros after;
    plan::TriggerId trigger;
    bool enters = true;
};

/// Where one player is and where it goes. It is told when time has passed; it plans nothing itself.
struct Traveller {
    // Where it stands, or what it moves along.
    plan::WaypointId at;   ///< where it stands; unset: nowhere, or on the way
    plan::WaypointId goal; ///< where it goes; unset: it does not
    double speed = 0;      ///< m/s, of the present `go`
    std::set<plan::TriggerId> inside;

    // The way still to go: legs, and corners within the present leg.
    std::vector<geometry::Leg> legs;
    std::size_t leg = 0;
    std::vector<plan::Vec3> corners;
    std::size_t corner = 0; ///< the present piece of way leads from this corner to the next

    // The present piece of way.
    std::vector<Crossing> crossings; ///< in the order in which they happen
    std::size_t next_crossing = 0;
    plan::Micros duration;                           ///< of the whole piece
    plan::Micros walked;                             ///< of it, when last stopped
    std::optional<plan::Micros> going_since;         ///< unset: it is stopped
    plan::Micros stopped_at = plan::Micros::never(); ///< when it was last stopped on the way
    std::uint32_t generation = 0; ///< raised when what is planned for it no longer holds

    [[nodiscard]] bool on_the_way() const { return goal && !legs.empty(); }
};

/// Sets out on the way to `goal`. False where no way leads there; `at` must be set.
bool set_out(const plan::Plan& plan, geometry::WayFinder& ways, Traveller& traveller,
             plan::WaypointId goal, double speed);

/// Computes crossings and duration of the piece of way from the present corner on.
void measure_piece(const plan::Plan& plan, const TriggerMap& map, Traveller& traveller);

/// Goes on to the next piece of way after the end of one. False where the goal is reached.
bool next_piece(const plan::Plan& plan, Traveller& traveller);

/// Triggers whose shape contains a waypoint, in plan order.
std::set<plan::TriggerId> triggers_at(const plan::Plan& plan, const TriggerMap& map,
                                      plan::WaypointId at);

} // namespace hestrel::walk
