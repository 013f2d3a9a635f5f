#pragma once
// Where paths lead: which trigger shapes and levels they pass through, and where players can begin.
// What the rules about places and ways look at.

#include "geometry/ways.hpp"
#include "plan/level_tree.hpp"
#include "plan/plan.hpp"

#include <span>
#include <vector>

namespace hestrel::study {

/// A stretch of a path inside a trigger's shape, in metres from the path's `from`.
struct Meeting {
    plan::PathId path;
    double from = 0;
    double to = 0;
};

/// A stretch of a path on which a level is needed, in metres from the path's `from`.
struct Need {
    plan::PathId path;
    bool area = true; ///< inside the level's area; else where it could be seen
    double from = 0;
    double to = 0;
};

/// A stretch of a path inside a level's area, in metres from the path's `from`.
struct Area {
    plan::LevelId level;
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

    plan::Table<plan::PathId, double> lengths;                          ///< metres
    plan::Table<plan::TriggerId, std::vector<Meeting>> meetings;        ///< by path, then along it
    plan::Table<plan::LevelId, std::vector<Need>> needs;                ///< by path
    plan::Table<plan::WaypointId, std::vector<plan::TriggerId>> around; ///< shapes it is inside of
    plan::Table<plan::WaypointId, std::vector<geometry::Leg>> legs_from;
    plan::Table<plan::WaypointId, std::vector<geometry::Leg>> legs_to;

    /// Where a path meets a trigger, or needs a level.
    [[nodiscard]] std::span<const Meeting> meetings_on(plan::PathId path,
                                                       plan::TriggerId trigger) const;
    [[nodiscard]] std::span<const Need> needs_on(plan::PathId path, plan::LevelId level) const;
    /// Paths that lead through a trigger, and into a level's area. Sorted.
    [[nodiscard]] std::vector<plan::PathId> paths_through(plan::TriggerId trigger) const;
    [[nodiscard]] std::vector<plan::PathId> paths_into(plan::LevelId level) const;
    /// Where a walker of `leg` fires a trigger that its path meets there, in metres from the leg's
    /// start.
    [[nodiscard]] double fires_at(const plan::Plan& plan, plan::TriggerId trigger,
                                  geometry::Leg leg, const Meeting& meeting) const;
    /// The areas that lie around that place on a path, an area once for each box there.
    [[nodiscard]] std::vector<const Area*> areas_at(plan::PathId path, double metres) const;

    /// Looks at a trigger anew, whose shape has changed.
    void look_again(const plan::Plan& plan, plan::TriggerId trigger);

    /// A stretch of a path as a walker of `leg` meets it.
    [[nodiscard]] Part on_leg(geometry::Leg leg, double from, double to) const {
        const double length = lengths[leg.path];
        return leg.forward ? Part{from, to} : Part{length - to, length - from};
    }

private:
    void meet(const plan::Plan& plan, plan::TriggerId trigger, plan::PathId path);

    struct AreaOnPath {
        Area area;
        double furthest = 0; ///< where the last of this and those before it ends
    };
    plan::Table<plan::PathId, std::vector<AreaOnPath>> areas_; ///< by where they begin
};

/// Whether a waypoint lies in a level's area.
bool stands_in(const plan::Plan& plan, plan::WaypointId waypoint, plan::LevelId level);

/// Both ways along a path, or the one that is open.
std::vector<geometry::Leg> legs_of(const plan::Plan& plan, plan::PathId path);

} // namespace hestrel::study
