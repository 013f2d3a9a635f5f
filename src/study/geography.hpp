#pragma once
// Where paths lead: which trigger shapes and levels they pass through, and where players can begin.
// What the rules about places and ways look at.

#include "geometry/ways.hpp"
#include "plan/level_tree.hpp"
#include "plan/plan.hpp"

#include <functional>
#include <optional>
#include <vector>

namespace hestrel::study {

/// A stretch of a path inside a trigger's shape, in metres from the path's `from`.
struct Meeting {
    plan::TriggerId trigger;
    double from = 0;
    double to = 0;
};

/// A stretch of a path on which a level is needed, in metres from the path's `from`.
struct Need {
    plan::LevelId level;
    bool area = true; ///< inside the level's area; else where it could be seen
    double from = 0;
    double to = 0;
};

/// A part of a leg, in metres from the leg's own start.
struct Part {
    double from = 0;
    double to = 0;
};

/// The plan's paths and what they pass through.
struct Geography {
    explicit Geography(const plan::Plan& plan);

    plan::Table<plan::PathId, double> lengths;                ///< metres
    plan::Table<plan::PathId, std::vector<Meeting>> meetings; ///< by where they begin
    plan::Table<plan::PathId, std::vector<Need>> needs;
    plan::Table<plan::WaypointId, std::vector<plan::TriggerId>> around; ///< shapes it is inside of
    plan::Table<plan::WaypointId, std::vector<geometry::Leg>> legs_from;
    plan::Table<plan::WaypointId, std::vector<geometry::Leg>> legs_to;
    plan::Table<plan::TriggerId, std::vector<plan::PathId>> paths_through;
    plan::Table<plan::LevelId, std::vector<plan::PathId>> paths_into; ///< into its area

    /// Looks at a trigger anew, whose shape has changed.
    void look_again(const plan::Plan& plan, plan::TriggerId trigger);

    /// A stretch of a path as a walker of `leg` meets it.
    [[nodiscard]] Part on_leg(geometry::Leg leg, double from, double to) const {
        const double length = lengths[leg.path];
        return leg.forward ? Part{from, to} : Part{length - to, length - from};
    }

private:
    void meet(const plan::Plan& plan, plan::TriggerId trigger, plan::PathId path);
};

/// Whether a waypoint lies in a level's area.
bool stands_in(const plan::Plan& plan, plan::WaypointId waypoint, plan::LevelId level);

/// Both ways along a path, or the one that is open.
std::vector<geometry::Leg> legs_of(const plan::Plan& plan, plan::PathId path);

/// A search backwards along the paths: where could players come from?
class ComingFrom {
public:
    /// What it means that players crossed a trigger on their way.
    enum class Crossed : std::uint8_t {
        nothing,
        stops, ///< nobody who came through it matters
        found, ///< they may have come from here
    };
    /// Where they came from: a waypoint, or a trigger's shape.
    struct Origin {
        plan::WaypointId waypoint;
        plan::TriggerId trigger;
    };

    ComingFrom(const plan::Plan& plan, const Geography& map)
        : plan_(plan), map_(map), seen_(plan.waypoints.size()) {}

    std::function<Crossed(plan::TriggerId)> crossed;
    std::function<Crossed(plan::WaypointId)> standing; ///< a waypoint reached
    std::function<bool(geometry::Leg)> closed;         ///< nobody comes along this leg
    std::optional<plan::LevelId> inside;               ///< stops in this level's area
    /// Players come to this waypoint for sure, whatever `crossed` and `closed` say; may be empty.
    /// Spares looking for from where.
    std::function<bool(plan::WaypointId)> surely;

    /// Searches from a point on a leg, so many metres from its start.
    std::optional<Origin> search(geometry::Leg leg, double metres);
    /// Searches from a waypoint.
    std::optional<Origin> search(plan::WaypointId waypoint);
    /// Whether a search that comes to the end of a leg ends on it.
    [[nodiscard]] bool stops_on(geometry::Leg leg) const {
        return along(leg, map_.lengths[leg.path]).what == Crossed::stops;
    }

private:
    struct Found {
        Crossed what = Crossed::nothing;
        Origin origin;
    };
    Found along(geometry::Leg leg, double metres) const;
    Found at(plan::WaypointId waypoint) const;

    const plan::Plan& plan_;
    const Geography& map_;
    plan::Table<plan::WaypointId, std::uint32_t> seen_; ///< the search that reached it
    std::uint32_t search_ = 0;
};

} // namespace hestrel::study
