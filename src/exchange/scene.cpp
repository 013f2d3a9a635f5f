#include "exchange/scene.hpp"

#include "geometry/crossing.hpp"
#include "geometry/ways.hpp"
#include "plan/names.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

namespace hestrel::exchange {

using plan::LevelId;
using plan::Vec3;

namespace {

class Collector {
public:
    explicit Collector(const plan::Plan& plan) : plan_(plan) {}

    std::vector<SceneThing> all() {
        for (const plan::Level& level : plan_.levels) add_boxes(SceneKind::area, level, level.area);
        for (const plan::Level& level : plan_.levels)
            add_boxes(SceneKind::seen_from, level, level.seen_from);
        for (const plan::Trigger& trigger : plan_.triggers) add(trigger);
        for (const plan::Waypoint& waypoint : plan_.waypoints) add(waypoint);
        for (const plan::GateId gate : plan_.gates.ids()) add(gate);
        for (const plan::PathId path : plan_.paths.ids()) add(path);
        return std::move(things_);
    }

private:
    [[nodiscard]] std::string name_of(LevelId level) const {
        return level ? plan_.levels[level].name : std::string();
    }
    [[nodiscard]] bool is_cell(LevelId level) const { return level && plan_.levels[level].grid; }

    void add_boxes(SceneKind kind, const plan::Level& level, const std::vector<plan::Box>& boxes) {
        if (boxes.empty() || level.grid) return;
        SceneThing& thing = begin(kind, level.name, level.parent, level.world, level.place);
        thing.boxes = boxes;
    }
    void add(const plan::Trigger& trigger) {
        if (std::holds_alternative<std::monostate>(trigger.shape)) return;
        SceneThing& thing =
            begin(SceneKind::trigger, trigger.name, trigger.home, trigger.world, trigger.place);
        thing.shape = trigger.shape;
        if (!trigger.home) thing.in = plan::names_in(plan_.levels, trigger.in);
    }
    void add(const plan::Waypoint& waypoint) {
        if (is_cell(waypoint.home)) return;
        begin(SceneKind::waypoint, waypoint.name, waypoint.home, waypoint.world, waypoint.place)
            .at = waypoint.at;
    }
    /// Half-way along the first path that it is on; a gate on none is nowhere.
    void add(plan::GateId id) {
        const plan::Gate& gate = plan_.gates[id];
        const auto path = std::find_if(plan_.paths.begin(), plan_.paths.end(),
                                       [&](const plan::Path& each) { return each.gate == id; });
        if (path == plan_.paths.end()) return;
        const plan::Waypoint& from = plan_.waypoints[path->from];
        const Vec3& to = plan_.waypoints[path->to].at;
        SceneThing& thing = begin(SceneKind::gate, gate.name, gate.home, from.world, gate.place);
        for (std::size_t axis = 0; axis < thing.at.size(); ++axis)
            thing.at.at(axis) = (from.at.at(axis) + to.at(axis)) / 2;
        if (!path->via.empty()) thing.at = path->via[path->via.size() / 2];
        thing.needs = plan::names_in(plan_.levels, gate.needs);
        for (const plan::GroupId group : gate.any_of)
            thing.needs.push_back(plan_.groups[group].name);
    }
    void add(plan::PathId id) {
        const plan::Path& path = plan_.paths[id];
        const plan::Waypoint& from = plan_.waypoints[path.from];
        const plan::Waypoint& to = plan_.waypoints[path.to];
        if (is_cell(from.home) && is_cell(to.home)) return; // a grid's own ways
        SceneThing& thing =
            begin(SceneKind::path, from.name + " to " + to.name, path.home, from.world, path.place);
        thing.line = {from.name, to.name, path.via, path.one_way, path.speed, {}};
        if (path.gate) thing.line.gate = plan_.gates[path.gate].name;
    }

    SceneThing& begin(SceneKind kind, std::string name, LevelId level, plan::WorldId world,
                      plan::Place place) {
        SceneThing& thing = things_.emplace_back();
        thing.kind = kind;
        thing.name = std::move(name);
        thing.level = name_of(level);
        thing.place = place;
        if (world) thing.world = plan_.worlds[world];
        return thing;
    }

    const plan::Plan& plan_;
    std::vector<SceneThing> things_;
};

bool close(double one, double other) {
    return std::abs(one - other) <= std::max(tolerance_at(one), tolerance_at(other));
}

} // namespace

std::vector<SceneThing> scene_of(const plan::Plan& plan) {
    return Collector(plan).all();
}

std::string thing_text(const SceneThing& thing) {
    const std::string kind(name_of(thing.kind));
    const bool of_level = thing.kind == SceneKind::area || thing.kind == SceneKind::seen_from;
    return kind + (of_level ? " of " : " ") + thing.name;
}

double tolerance_at(double coordinate) {
    constexpr double half_a_millimetre = 0.0005;
    constexpr double of_32_bits = 2.4e-7; // of a number's size: two of its last places
    return half_a_millimetre + std::abs(coordinate) * of_32_bits;
}

bool same_point(const Vec3& one, const Vec3& other) {
    return std::equal(one.begin(), one.end(), other.begin(), close);
}

bool same_box(const plan::Box& one, const plan::Box& other) {
    if (!close(one.min[1], other.min[1]) || !close(one.max[1], other.max[1])) return false;
    const auto corners = geometry::corners_of(one);
    const auto others = geometry::corners_of(other);
    const auto each_in = [](const auto& some, const auto& all) {
        return std::all_of(some.begin(), some.end(), [&](const auto& corner) {
            return std::any_of(all.begin(), all.end(), [&](const auto& each) {
                return close(corner[0], each[0]) && close(corner[1], each[1]);
            });
        });
    };
    return each_in(corners, others) && each_in(others, corners);
}

bool same_shape(const plan::Shape& one, const plan::Shape& other) {
    if (one.index() != other.index()) return false;
    if (const auto* box = std::get_if<plan::Box>(&one))
        return same_box(*box, std::get<plan::Box>(other));
    if (const auto* sphere = std::get_if<plan::Sphere>(&one)) {
        const auto& sphere_then = std::get<plan::Sphere>(other);
        return same_point(sphere->at, sphere_then.at) && close(sphere->radius, sphere_then.radius);
    }
    if (const auto* beyond = std::get_if<plan::Beyond>(&one)) {
        const auto& beyond_then = std::get<plan::Beyond>(other);
        return beyond->axis == beyond_then.axis && beyond->over == beyond_then.over &&
               close(beyond->limit, beyond_then.limit);
    }
    return true;
}

} // namespace hestrel::exchange
