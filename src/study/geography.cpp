#include "study/geography.hpp"

#include "geometry/crossing.hpp"
#include "geometry/shape_index.hpp"

#include <algorithm>
#include <iterator>

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

/// Those of one path, of stretches that are sorted by path.
template <class Stretch>
std::span<const Stretch> on_path(const std::vector<Stretch>& stretches, PathId path) {
    const auto [first, last] = std::equal_range(
        stretches.begin(), stretches.end(), Stretch{.path = path},
        [](const Stretch& one, const Stretch& other) { return one.path < other.path; });
    return {first, last};
}

/// The paths of stretches that are sorted by path, as far as they count.
template <class Stretch, class Counts>
std::vector<PathId> paths_of(const std::vector<Stretch>& stretches, Counts counts) {
    std::vector<PathId> paths;
    for (const Stretch& each : stretches) {
        if (counts(each) && (paths.empty() || paths.back() != each.path))
            paths.push_back(each.path);
    }
    return paths;
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
    : meetings(plan.triggers.size()), needs(plan.levels.size()), around(plan.waypoints.size()),
      legs_from(plan.waypoints.size()), legs_to(plan.waypoints.size()), areas_(plan.paths.size()) {
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
    const auto add_needs = [&](LevelId level, const std::vector<plan::Box>& boxes, bool area) {
        for (const plan::Box& box : boxes) {
            for (const std::uint32_t number : index.near(plan.levels[level].world, box)) {
                const PathId path{number};
                for (const Part& part : stretches(plan, path, box)) {
                    needs[level].push_back({path, area, part.from, part.to});
                    if (area) areas_[path].push_back({{level, part.from, part.to}, 0});
                }
            }
        }
    };
    for (const LevelId id : plan.levels.ids()) {
        add_needs(id, plan.levels[id].area, true);
        add_needs(id, plan.levels[id].seen_from, false);
        std::stable_sort(needs[id].begin(), needs[id].end(),
                         [](const Need& one, const Need& other) { return one.path < other.path; });
    }
    for (std::vector<AreaOnPath>& on_path : areas_) {
        std::stable_sort(on_path.begin(), on_path.end(),
                         [](const AreaOnPath& one, const AreaOnPath& other) {
                             return one.area.from < other.area.from;
                         });
        double furthest = 0;
        for (AreaOnPath& each : on_path)
            each.furthest = furthest = std::max(furthest, each.area.to);
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
    for (const Part& part : stretches(plan, path, plan.triggers[trigger].shape))
        meetings[trigger].push_back({path, part.from, part.to});
}

void Geography::look_again(const plan::Plan& plan, TriggerId trigger) {
    meetings[trigger].clear();
    for (auto& here : around) std::erase(here, trigger);
    const plan::Trigger& changed = plan.triggers[trigger];
    for (const PathId path : plan.paths.ids()) {
        if (plan.waypoints[plan.paths[path].from].world == changed.world) meet(plan, trigger, path);
    }
    for (const WaypointId id : plan.waypoints.ids()) {
        const plan::Waypoint& waypoint = plan.waypoints[id];
        if (waypoint.world == changed.world && geometry::contains(changed.shape, waypoint.at))
            around[id].push_back(trigger);
    }
}

std::span<const Meeting> Geography::meetings_on(PathId path, TriggerId trigger) const {
    return on_path(meetings[trigger], path);
}

std::span<const Need> Geography::needs_on(PathId path, LevelId level) const {
    return on_path(needs[level], path);
}

std::vector<PathId> Geography::paths_through(TriggerId trigger) const {
    return paths_of(meetings[trigger], [](const Meeting&) { return true; });
}

std::vector<PathId> Geography::paths_into(LevelId level) const {
    return paths_of(needs[level], [](const Need& need) { return need.area; });
}

double Geography::fires_at(const plan::Plan& plan, TriggerId trigger, Leg leg,
                           const Meeting& meeting) const {
    const Part part = on_leg(leg, meeting.from, meeting.to);
    return plan.triggers[trigger].fires == plan::Fires::on_exit ? part.to : part.from;
}

std::vector<const Area*> Geography::areas_at(PathId path, double metres) const {
    const std::vector<AreaOnPath>& all = areas_[path];
    auto next =
        std::upper_bound(all.begin(), all.end(), metres,
                         [](double at, const AreaOnPath& each) { return at < each.area.from; });
    std::vector<const Area*> around_it;
    while (next != all.begin() && std::prev(next)->furthest >= metres) {
        --next;
        if (next->area.to >= metres) around_it.push_back(&next->area);
    }
    return around_it;
}

} // namespace hestrel::study
