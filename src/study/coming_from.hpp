#pragma once
// Where could players come from who are somewhere? A search backwards along the paths, up to what
// they must have crossed.

#include "geometry/ways.hpp"
#include "plan/plan.hpp"
#include "study/geography.hpp"

#include <cstdint>
#include <functional>
#include <optional>
#include <span>
#include <vector>

namespace hestrel::study {

/// Where triggers fire on legs, sorted by what they are looked at for, so that who asks about one
/// level meets only what has to do with it.
class Crossings {
public:
    struct Crossing {
        plan::LevelId about; ///< unset: all levels
        geometry::Leg leg;
        double at = 0;   ///< metres from the leg's start
        double from = 0; ///< where the path meets it, to tell two that fire at one place
        plan::TriggerId trigger;
    };

    /// A trigger, and the level that it is looked at for.
    void add(const plan::Plan& plan, const Geography& map, plan::TriggerId trigger,
             plan::LevelId about = {});
    /// When all are there.
    void sort();
    /// Those on a leg, as a walker comes to them.
    [[nodiscard]] std::span<const Crossing> on(geometry::Leg leg, plan::LevelId about) const;

private:
    std::vector<Crossing> all_;
};

/// The search.
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

    ComingFrom(const plan::Plan& plan, const Geography& map) : plan_(plan), map_(map) {}

    /// Triggers on legs for which `crossed` is asked; they outlive the search. Those around
    /// waypoints it is asked for, all of them.
    void look_at(const Crossings& crossings, plan::LevelId about = {}) {
        looks_at_.push_back({&crossings, about});
    }

    /// The same, and at nothing that it has looked at so far.
    void look_only_at(const Crossings& crossings) {
        looks_at_.clear();
        look_at(crossings);
    }

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
    /// The trigger at which the last search from a waypoint stopped first; of several on one leg
    /// the first of the path. Unset: it stopped nowhere.
    [[nodiscard]] plan::TriggerId first_stop() const;

private:
    struct Found {
        Crossed what = Crossed::nothing;
        Origin origin;
    };
    struct LooksAt {
        const Crossings* crossings;
        plan::LevelId about;
    };
    Found along(geometry::Leg leg, double metres) const;
    Found at(plan::WaypointId waypoint) const;

    const plan::Plan& plan_;
    const Geography& map_;
    std::vector<LooksAt> looks_at_;
    /// The search that reached it; empty before the first that comes to a waypoint.
    plan::Table<plan::WaypointId, std::uint32_t> seen_;
    std::uint32_t search_ = 0;
    plan::TriggerId stopped_at_;              ///< by which it stopped first,
    std::optional<geometry::Leg> stopped_on_; ///< on this leg, or at a waypoint
};

} // namespace hestrel::study
