#include "study/geography.hpp"

#include "geometry/crossing.hpp"
#include "geometry/shape_index.hpp"

#include <algorithm>

namespace hestrel::study {

using geometry::end_of;
using geometry::Leg;
using geometry::start_of;
using plan::LevelId;
using plan::PathId;
using plan::TriggerId;
using plan::WaypointId;

namespace {

/// Paths by their bounds, world by world.
class PathIndex {
public:
    explicit PathIndex(const plan::Plan& plan) {
        std::vector<std::vector<std::pair<plan::Box, std::uint32_t>>> bounds(plan.worlds.size());
        for (const PathId id : plan.paths.ids()) {
            const std::vector<plan::Vec3> corners = geometry::corners_of(plan, {id, true});
            plan::Box box{corners.front(), corners.front(), 0};
            for (const plan::Vec3& corner : corners) {
                for (std::size_t axis = 0; axis < corner.size(); ++axis) {
                    box.min[axis] = std::min(box.min[axis], corner[axis]);
                    box.max[axis] = std::max(box.max[axis], corner[axis]);
                }
            }
            bounds[plan.waypoints[plan.paths[id].from].world.value].emplace_back(box, id.value);
        }
        for (const auto& of_world : bounds) by_world_.emplace_back(of_world);
    }

    [[nodiscard]] std::vector<std::uint32_t> near(plan::WorldId world,
                                                  const plan::Shape& shape) const {
        const plan::Box bounds = geometry::bounds_of(shape);
        return by_world_[world.value].near(bounds.min, bounds.max);
    }

private:
    std::vector<geometry::ShapeIndex> by_world_;
};

/// The stretches of a path inside a shape, in metres along it; what is joined at a corner is one.
std::vector<Part> stretches(const plan::Plan& plan, PathId path, const plan::Shape& shape) {
    constexpr double same_place = 1e-9;
    const std::vector<plan::Vec3> corners = geometry::corners_of(plan, {path, true});
    std::vector<Part> parts;
    double walked = 0;
    for (std::size_t i = 1; i < corners.size(); ++i) {
        const double length = geometry::distance(corners[i - 1], corners[i]);
        if (const auto stretch = geometry::crossing(shape, corners[i - 1], corners[i])) {
            const double from = walked + static_cast<double>(stretch->from) * length;
            const double to = walked + static_cast<double>(stretch->to) * length;
            if (!parts.empty() && from <= parts.back().to + same_place) {
                parts.back().to = std::max(parts.back().to, to);
            } else {
                parts.push_back({from, to});
            }
        }
        walked += length;
    }
    return parts;
}

void sort_by_place(std::vector<Meeting>& on_path) {
    std::stable_sort(on_path.begin(), on_path.end(),
                     [](const auto& one, const auto& other) { return one.from < other.from; });
}

} // namespace

bool stands_in(const plan::Plan& plan, WaypointId waypoint, LevelId level) {
    const plan::Level& there = plan.levels[level];
    return there.world == plan.waypoints[waypoint].world &&
           std::any_of(there.area.begin(), there.area.end(), [&](const plan::Box& box) {
               return geometry::contains(box, plan.waypoints[waypoint].at);
           });
}

std::vector<Leg> legs_of(const plan::Plan& plan, PathId path) {
    if (plan.paths[path].one_way) return {{path, true}};
    return {{path, true}, {path, false}};
}

Geography::Geography(const plan::Plan& plan)
    : meetings(plan.paths.size()), needs(plan.paths.size()), around(plan.waypoints.size()),
      legs_from(plan.waypoints.size()), legs_to(plan.waypoints.size()),
      paths_through(plan.triggers.size()), paths_into(plan.levels.size()) {
    for (const PathId id : plan.paths.ids()) {
        lengths.push(geometry::length_of(plan, id));
        for (const Leg leg : legs_of(plan, id)) {
            legs_from[start_of(plan, leg)].push_back(leg);
            legs_to[end_of(plan, leg)].push_back(leg);
        }
    }
    const PathIndex index(plan);
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        for (const std::uint32_t number : index.near(trigger.world, trigger.shape)) {
            meet(plan, id, PathId{number});
        }
    }
    for (std::vector<Meeting>& on_path : meetings) sort_by_place(on_path);
    const auto add_needs = [&](LevelId level, const std::vector<plan::Box>& boxes, bool area) {
        for (const plan::Box& box : boxes) {
            for (const std::uint32_t number : index.near(plan.levels[level].world, box)) {
                const PathId path{number};
                for (const Part& part : stretches(plan, path, box)) {
                    needs[path].push_back({level, area, part.from, part.to});
                    if (area) paths_into[level].push_back(path);
                }
            }
        }
    };
    for (const LevelId id : plan.levels.ids()) {
        add_needs(id, plan.levels[id].area, true);
        add_needs(id, plan.levels[id].seen_from, false);
        std::sort(paths_into[id].begin(), paths_into[id].end());
        const auto last = std::unique(paths_into[id].begin(), paths_into[id].end());
        paths_into[id].erase(last, paths_into[id].end());
    }
    std::vector<std::vector<std::pair<plan::Box, std::uint32_t>>> points(plan.worlds.size());
    for (const WaypointId id : plan.waypoints.ids()) {
        const plan::Waypoint& waypoint = plan.waypoints[id];
        points[waypoint.world.value].emplace_back(plan::Box{waypoint.at, waypoint.at, 0}, id.value);
    }
    std::vector<geometry::ShapeIndex> waypoints;
    for (const auto& of_world : points) waypoints.emplace_back(of_world);
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        const plan::Box bounds = geometry::bounds_of(trigger.shape);
        for (const std::uint32_t number :
             waypoints[trigger.world.value].near(bounds.min, bounds.max)) {
            const WaypointId waypoint{number};
            if (geometry::contains(trigger.shape, plan.waypoints[waypoint].at))
                around[waypoint].push_back(id);
        }
    }
}

void Geography::meet(const plan::Plan& plan, TriggerId trigger, PathId path) {
    const std::vector<Part> parts = stretches(plan, path, plan.triggers[trigger].shape);
    for (const Part& part : parts) meetings[path].push_back({trigger, part.from, part.to});
    if (!parts.empty()) paths_through[trigger].push_back(path);
}

void Geography::look_again(const plan::Plan& plan, TriggerId trigger) {
    for (const PathId path : paths_through[trigger]) {
        std::erase_if(meetings[path], [&](const Meeting& each) { return each.trigger == trigger; });
    }
    paths_through[trigger].clear();
    for (auto& here : around) std::erase(here, trigger);
    const plan::Trigger& changed = plan.triggers[trigger];
    for (const PathId path : plan.paths.ids()) {
        if (plan.waypoints[plan.paths[path].from].world != changed.world) continue;
        meet(plan, trigger, path);
        sort_by_place(meetings[path]);
    }
    for (const WaypointId id : plan.waypoints.ids()) {
        const plan::Waypoint& waypoint = plan.waypoints[id];
        if (waypoint.world == changed.world && geometry::contains(changed.shape, waypoint.at))
            around[id].push_back(trigger);
    }
}

// --- coming from somewhere ---------------------------------------------------

/// What a walker of `leg` crossed last before it was `metres` from its start.
ComingFrom::Found ComingFrom::along(Leg leg, double metres) const {
    Found last;
    double last_at = -1;
    for (const Meeting& meeting : map_.meetings[leg.path]) {
        const Part part = map_.on_leg(leg, meeting.from, meeting.to);
        const bool on_exit = plan_.triggers[meeting.trigger].fires == plan::Fires::on_exit;
        const double fires_at = on_exit ? part.to : part.from;
        if (fires_at > metres || fires_at <= last_at) continue;
        const Crossed what = crossed(meeting.trigger);
        if (what == Crossed::nothing) continue;
        last = {what, {{}, meeting.trigger}};
        last_at = fires_at;
    }
    if (!inside) return last;
    for (const Need& need : map_.needs[leg.path]) {
        if (need.level != *inside || !need.area) continue;
        const Part part = map_.on_leg(leg, need.from, need.to);
        if (part.from >= metres || part.to <= last_at) continue;
        last = {Crossed::stops, {}}; // they were in it already
        last_at = part.to;
    }
    return last;
}

ComingFrom::Found ComingFrom::at(WaypointId waypoint) const {
    for (const TriggerId trigger : map_.around[waypoint]) {
        const Crossed what = crossed(trigger);
        if (what != Crossed::nothing) return {what, {{}, trigger}};
    }
    return {standing(waypoint), {waypoint, {}}};
}

std::optional<ComingFrom::Origin> ComingFrom::search(Leg leg, double metres) {
    const Found on_the_way = along(leg, metres);
    if (on_the_way.what == Crossed::stops) return std::nullopt;
    if (on_the_way.what == Crossed::found) return on_the_way.origin;
    return search(start_of(plan_, leg));
}

std::optional<ComingFrom::Origin> ComingFrom::search(WaypointId waypoint) {
    ++search_;
    std::vector<WaypointId> open{waypoint};
    seen_[waypoint] = search_;
    // Breadth first, so that what is said is the nearest.
    for (std::size_t next = 0; next < open.size(); ++next) {
        const Found here = at(open[next]);
        if (here.what == Crossed::found) return here.origin;
        if (here.what == Crossed::stops) continue;
        if (surely && surely(open[next])) return Origin{open[next], {}};
        for (const Leg leg : map_.legs_to[open[next]]) {
            if (closed && closed(leg)) continue;
            const Found found = along(leg, map_.lengths[leg.path]);
            if (found.what == Crossed::found) return found.origin;
            const WaypointId from = start_of(plan_, leg);
            if (found.what == Crossed::stops || seen_[from] == search_) continue;
            seen_[from] = search_;
            open.push_back(from);
        }
    }
    return std::nullopt;
}

} // namespace hestrel::study
