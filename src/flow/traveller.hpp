#pragma once
// One player's movement: straight pieces of way, each with the moments at which it gets into and
// out of zones (docs/model.md section 5).

#include "flow/zones.hpp"
#include "geometry/ways.hpp"
#include "plan/members.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <optional>
#include <set>
#include <span>
#include <vector>

namespace hestrel::flow {

/// Getting into or out of a zone, so long after the start of a piece of way.
struct Crossing {
    plan::Micros after;
    ZoneId zone;
    bool enters = true;
    bool operator==(const Crossing&) const = default;
};
void for_members(plan::IsA<Crossing> auto& of, auto&& visit) {
    auto& [after, zone, enters] = of;
    visit(after);
    visit(zone);
    visit(enters);
}

/// Where one player is and where it goes. It is told when time has passed; it plans nothing itself.
struct Traveller {
    // Where it stands, or what it moves along.
    plan::WaypointId at;   ///< where it stands; unset: nowhere, or on the way
    plan::WaypointId goal; ///< where it goes; unset: it does not
    double speed = 0;      ///< m/s, of the present `go`

    // The way still to go: legs, and corners within the present leg.
    std::vector<geometry::Leg> legs;
    std::size_t leg = 0;
    std::vector<plan::Vec3> corners;
    std::size_t corner = 0; ///< the present piece of way leads from this corner to the next
    bool at_gate = false;   ///< it stands at the start of the present leg, before a closed gate

    // The present piece of way.
    std::vector<Crossing> crossings; ///< in the order in which they happen
    std::size_t next_crossing = 0;
    double piece_length = 0;                         ///< metres
    double piece_speed = 0;                          ///< m/s: the path may cap the player's
    plan::Micros duration;                           ///< of the whole piece
    plan::Micros walked;                             ///< of it, when last stopped
    std::optional<plan::Micros> going_since;         ///< unset: it is stopped
    plan::Micros stopped_at = plan::Micros::never(); ///< when it was last stopped on the way
    std::uint32_t generation = 0; ///< raised when what is planned for it no longer holds
    double metres_before = 0;     ///< walked before the present piece of way

    [[nodiscard]] bool on_the_way() const { return goal && !legs.empty(); }
    /// The path it is on or at the start of; unset where it is on none.
    [[nodiscard]] plan::PathId path() const {
        return on_the_way() ? legs[leg].path : plan::PathId{};
    }
    /// m/s at this moment.
    [[nodiscard]] double speed_now() const { return going_since ? piece_speed : 0; }
    /// Where it was when it last came to rest on the present piece of way; `on_the_way` must hold.
    [[nodiscard]] plan::Vec3 position() const;
    /// Metres walked since the walk began.
    [[nodiscard]] double metres(plan::Micros now) const;
};

/// Sets out on a way to `goal` from where the traveller stands.
void set_out(const plan::Plan& plan, std::vector<geometry::Leg> way, Traveller& traveller,
             plan::WaypointId goal, double speed);

/// Sets out along one path from the end of it at which the traveller stands.
void set_out_along(const plan::Plan& plan, Traveller& traveller, geometry::Leg leg, double speed);

/// A zone that a piece of way meets, and where.
struct Met {
    ZoneId zone;
    geometry::Stretch stretch;
};
/// What the piece of way from the present corner on meets, by zone.
std::vector<Met> met_by(const plan::Plan& plan, const Zones& zones, const Traveller& traveller);

/// Computes crossings and duration of the piece of way from the present corner on, for who is
/// inside of `inside` there; `met`: as `met_by` has it.
void measure_piece(const plan::Plan& plan, const Zones& zones, std::span<const Met> met,
                   const std::set<ZoneId>& inside, Traveller& traveller);
/// The same, of a piece that is met once.
void measure_piece(const plan::Plan& plan, const Zones& zones, const std::set<ZoneId>& inside,
                   Traveller& traveller);

/// Goes on to the next piece of way after the end of one. False where the goal is reached.
bool next_piece(const plan::Plan& plan, Traveller& traveller);

} // namespace hestrel::flow
