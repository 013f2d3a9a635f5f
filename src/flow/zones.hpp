#pragma once
// What a player's movement can get into and out of: trigger shapes, level areas, places from which
// levels could be seen, and the surroundings of levels that stream by distance (docs/model.md
// section 5).

#include "geometry/crossing.hpp"
#include "geometry/shape_index.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <functional>
#include <optional>
#include <set>
#include <vector>

namespace hestrel::flow {

using ZoneId = plan::Index<struct ZoneTag>;

/// One convex piece of world. A level has as many as it has boxes.
struct Zone {
    enum class Kind : std::uint8_t {
        trigger,     ///< a trigger's shape
        area,        ///< a box of a level's area
        seen,        ///< a box from which a level could be seen
        near_load,   ///< no further than `near.load` from a box of a level's area
        near_unload, ///< no further than `near.unload`
    };
    Kind kind = Kind::trigger;
    std::uint32_t index = 0; ///< the trigger, or the level
    plan::WorldId world;
    plan::Shape shape;
    double margin = 0;     ///< metres around the shape that belong to it
    bool left_out = false; ///< the surroundings of a level that whoever explores leaves out

    /// Getting into it or out of it can set something off; else it only says what is needed.
    [[nodiscard]] bool sets_off() const {
        return kind != Kind::area && kind != Kind::seen && !left_out;
    }
    /// The surroundings of a level that streams by distance.
    [[nodiscard]] bool is_near() const {
        return kind == Kind::near_load || kind == Kind::near_unload;
    }
    [[nodiscard]] bool is_shape_of(plan::TriggerId trigger) const {
        return kind == Kind::trigger && index == trigger.value;
    }
    [[nodiscard]] bool is_area_of(plan::LevelId level) const {
        return kind == Kind::area && index == level.value;
    }
    [[nodiscard]] plan::TriggerId trigger() const { return plan::TriggerId{index}; }
    [[nodiscard]] plan::LevelId level() const { return plan::LevelId{index}; }
    [[nodiscard]] bool contains(const plan::Vec3& point) const;
    [[nodiscard]] std::optional<geometry::Stretch> crossing(const plan::Vec3& a,
                                                            const plan::Vec3& b) const;
};

/// All zones of a plan, triggers first, in plan order.
class Zones {
public:
    /// The surroundings of levels that are `left_out` are so.
    explicit Zones(const plan::Plan& plan, const std::function<bool(plan::LevelId)>& left_out = {});

    [[nodiscard]] const Zone& operator[](ZoneId zone) const { return zones_[zone]; }
    [[nodiscard]] auto ids() const { return zones_.ids(); }
    [[nodiscard]] std::size_t size() const { return zones_.size(); }
    /// Zones of `world` that segment a-b could meet, in order.
    [[nodiscard]] std::vector<ZoneId> near(plan::WorldId world, const plan::Vec3& a,
                                           const plan::Vec3& b) const;
    /// Zones that a waypoint is inside of; none where it is unset.
    [[nodiscard]] std::set<ZoneId> around(const plan::Plan& plan, plan::WaypointId at) const;

private:
    plan::Table<ZoneId, Zone> zones_;
    std::vector<geometry::ShapeIndex> by_world_;
};

} // namespace hestrel::flow
