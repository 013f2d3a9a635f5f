#include "flow/zones.hpp"

namespace hestrel::flow {

bool Zone::contains(const plan::Vec3& point) const {
    if (margin == 0) return geometry::contains(shape, point);
    return geometry::is_near(std::get<plan::Box>(shape), margin, point);
}

std::optional<geometry::Stretch> Zone::crossing(const plan::Vec3& a, const plan::Vec3& b) const {
    if (margin == 0) return geometry::crossing(shape, a, b);
    return geometry::crossing_near(std::get<plan::Box>(shape), margin, a, b);
}

Zones::Zones(const plan::Plan& plan, const std::function<bool(plan::LevelId)>& left_out) {
    for (const plan::TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        zones_.push({Zone::Kind::trigger, id.value, trigger.world, trigger.shape});
    }
    for (const plan::LevelId id : plan.levels.ids()) {
        const plan::Level& level = plan.levels[id];
        for (const plan::Box& box : level.area) {
            zones_.push({Zone::Kind::area, id.value, level.world, box});
            if (!level.near) continue;
            const bool out = left_out && left_out(id);
            zones_.push({Zone::Kind::near_load, id.value, level.world, box, level.near->load, out});
            zones_.push(
                {Zone::Kind::near_unload, id.value, level.world, box, level.near->unload, out});
        }
        for (const plan::Box& box : level.seen_from)
            zones_.push({Zone::Kind::seen, id.value, level.world, box});
    }
    std::vector<std::vector<std::pair<plan::Box, std::uint32_t>>> bounds(plan.worlds.size());
    for (const ZoneId id : zones_.ids()) {
        const Zone& zone = zones_[id];
        plan::Box box = geometry::bounds_of(zone.shape);
        for (double& coordinate : box.min) coordinate -= zone.margin;
        for (double& coordinate : box.max) coordinate += zone.margin;
        bounds[zone.world.value].emplace_back(box, id.value);
    }
    for (const auto& of_world : bounds) by_world_.emplace_back(of_world);
}

std::vector<ZoneId> Zones::near(plan::WorldId world, const plan::Vec3& a,
                                const plan::Vec3& b) const {
    std::vector<ZoneId> zones;
    for (const std::uint32_t number : by_world_[world.value].near(a, b)) zones.emplace_back(number);
    return zones;
}

std::set<ZoneId> Zones::around(const plan::Plan& plan, plan::WaypointId at) const {
    std::set<ZoneId> inside;
    if (!at) return inside;
    const plan::Waypoint& waypoint = plan.waypoints[at];
    for (const ZoneId id : near(waypoint.world, waypoint.at, waypoint.at)) {
        if (zones_[id].contains(waypoint.at)) inside.insert(id);
    }
    return inside;
}

} // namespace hestrel::flow
