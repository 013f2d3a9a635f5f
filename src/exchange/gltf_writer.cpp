#include "exchange/gltf_writer.hpp"

#include "exchange/gltf_animation.hpp"
#include "exchange/gltf_parts.hpp"
#include "exchange/scene.hpp"
#include "source/json.hpp"
#include "source/own_mark.hpp"
#include "walk/places.hpp"

#include <array>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <numbers>
#include <utility>
#include <vector>

namespace hestrel::exchange {

namespace {

using plan::Micros;
using plan::Vec3;
using source::Json;

constexpr Look area_look{"area", {0.21, 0.35, 0.46, 0.25}};
constexpr Look seen_from_look{"seen-from", {0.43, 0.65, 0.80, 0.18}};
constexpr Look trigger_look{"trigger", {0.0, 0.19, 0.10, 0.45}};
constexpr Look waypoint_look{"waypoint", {0.02, 0.02, 0.02, 1}};
constexpr Look gate_look{"gate", {0.54, 0.01, 0.01, 1}};
constexpr Look path_look{"path", {0.27, 0.27, 0.27, 1}};
constexpr Look loaded_look{"loaded", {0.38, 0.66, 0.84, 1}};
constexpr Look shown_look{"shown", {0.0, 0.17, 0.45, 1}};
constexpr std::array<Look, 4> player_looks{{{"player 1", {0.0, 0.17, 0.45, 1}},
                                            {"player 2", {0.79, 0.35, 0.0, 1}},
                                            {"player 3", {0.60, 0.19, 0.39, 1}},
                                            {"player 4", {0.0, 0.34, 0.17, 1}}}};

/// Where a node is, how it is turned (a quaternion) and how large.
struct Pose {
    Vec3 at{};
    std::array<double, 4> turn{0, 0, 0, 1};
    Vec3 size{1, 1, 1};
};

Pose pose_of(const plan::Box& box) {
    Pose pose;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        pose.at.at(axis) = (box.min.at(axis) + box.max.at(axis)) / 2;
        pose.size.at(axis) = box.max.at(axis) - box.min.at(axis);
    }
    const double half = box.turn * std::numbers::pi / 360;
    if (box.turn != 0) pose.turn = {0, std::sin(half), 0, std::cos(half)};
    return pose;
}

/// A rod from one point to another, along its x.
Pose pose_of_rod(const Vec3& from, const Vec3& to, double thick) {
    const Vec3 along{to[0] - from[0], to[1] - from[1], to[2] - from[2]};
    const double flat = std::hypot(along[0], along[2]);
    const double yaw = std::atan2(-along[2], along[0]) / 2;
    const double pitch = std::atan2(along[1], flat) / 2;
    Pose pose;
    for (std::size_t axis = 0; axis < 3; ++axis)
        pose.at.at(axis) = (from.at(axis) + to.at(axis)) / 2;
    pose.size = {std::hypot(flat, along[1]), thick, thick};
    // About y, and before that about z.
    pose.turn = {std::sin(yaw) * std::sin(pitch), std::sin(yaw) * std::cos(pitch),
                 std::cos(yaw) * std::sin(pitch), std::cos(yaw) * std::cos(pitch)};
    return pose;
}

class GltfWriter {
public:
    GltfWriter(const plan::Plan& plan, std::span<const walk::Record> walk)
        : plan_(plan), walk_(walk) {
        roots_.resize(plan.worlds.size());
        for (Json& each : roots_) each = Json::array();
        floors_of_.resize(plan.levels.size());
    }

    std::string text() {
        for (const SceneThing& thing : scene_of(plan_)) add(thing);
        for (const plan::LevelId level : plan_.levels.ids()) {
            if (plan_.levels[level].grid) add_cell(level);
        }
        if (!walk_.empty()) {
            animate_levels();
            animate_players();
        }
        Json file{{"asset", {{"version", "2.0"}, {"generator", source::own_mark}}}};
        file["scene"] = 0;
        for (const plan::WorldId world : plan_.worlds.ids()) {
            Json scene{{"name", plan_.worlds[world]}};
            if (!roots_[world].empty()) scene["nodes"] = std::move(roots_[world]);
            file["scenes"].push_back(std::move(scene));
        }
        if (plan_.worlds.empty()) file["scenes"] = {{{"name", plan_.name}}};
        if (!nodes_.empty()) file["nodes"] = std::move(nodes_);
        meshes_.put(file);
        if (!channels_.empty()) {
            file["animations"] = {{{"name", animation_name()},
                                   {"channels", std::move(channels_)},
                                   {"samplers", std::move(samplers_)}}};
        }
        buffer_.put(file);
        return source::file_text(file);
    }

private:
    // --- nodes ---------------------------------------------------------------

    std::size_t add_node(const std::string& name, const Pose& pose, Json extras = {}) {
        Json node{{"name", name}};
        if (pose.at != Vec3{}) node["translation"] = pose.at;
        if (pose.turn != Pose{}.turn) node["rotation"] = pose.turn;
        if (pose.size != Pose{}.size) node["scale"] = pose.size;
        if (!extras.is_null()) node["extras"] = std::move(extras);
        nodes_.push_back(std::move(node));
        return nodes_.size() - 1;
    }
    std::size_t add_child(std::size_t parent, const std::string& name, const Pose& pose,
                          const Look& look, Json extras = {}) {
        const std::size_t child = add_node(name, pose, std::move(extras));
        nodes_[child]["mesh"] = meshes_.mesh(false, look);
        nodes_[parent]["children"].push_back(child);
        return child;
    }
    void stand_in(const std::string& world, std::size_t node) {
        for (const plan::WorldId each : plan_.worlds.ids()) {
            if (plan_.worlds[each] == world) roots_[each].push_back(node);
        }
    }
    static Json extras_of(const SceneThing& thing) {
        Json extras{{"hestrel", name_of(thing.kind)}, {"name", thing.name}};
        const bool of_level = thing.kind == SceneKind::area || thing.kind == SceneKind::seen_from;
        if (of_level) extras["level"] = thing.name;
        if (!thing.level.empty()) extras[of_level ? "parent" : "level"] = thing.level;
        if (thing.world != "main") extras["world"] = thing.world;
        return extras;
    }
    void add(const SceneThing& thing) {
        switch (thing.kind) {
        case SceneKind::area: add_boxes(thing, area_look); break;
        case SceneKind::seen_from: add_boxes(thing, seen_from_look); break;
        case SceneKind::trigger: add_trigger(thing); break;
        case SceneKind::waypoint: add_mark(thing, waypoint_look, {0.5, 0.5, 0.5}); break;
        case SceneKind::gate: add_mark(thing, gate_look, {0.3, 2.2, 2.2}); break;
        case SceneKind::path: add_path(thing); break;
        }
    }
    void add_boxes(const SceneThing& thing, const Look& look) {
        for (std::size_t i = 0; i < thing.boxes.size(); ++i) {
            Json extras = extras_of(thing);
            std::string name = thing_text(thing);
            if (thing.boxes.size() > 1) {
                extras["part"] = i + 1;
                name += fmt::format(" {}", i + 1);
            }
            const std::size_t node = add_node(name, pose_of(thing.boxes[i]), std::move(extras));
            nodes_[node]["mesh"] = meshes_.mesh(false, look);
            stand_in(thing.world, node);
            if (thing.kind == SceneKind::area) add_floors(node, level_called(thing.name));
        }
    }
    [[nodiscard]] plan::LevelId level_called(const std::string& name) {
        if (levels_.empty()) {
            for (const plan::LevelId level : plan_.levels.ids())
                levels_.emplace(plan_.levels[level].name, level);
        }
        return levels_.at(name);
    }
    void add_cell(plan::LevelId id) {
        const plan::Level& level = plan_.levels[id];
        if (level.area.empty()) return;
        const std::size_t node =
            add_node("cell " + level.name, pose_of(level.area.front()), {{"cell", level.name}});
        nodes_[node]["mesh"] = meshes_.mesh(false, area_look);
        stand_in(plan_.worlds[level.world], node);
        add_floors(node, id);
    }
    void add_trigger(const SceneThing& thing) {
        Json extras = extras_of(thing);
        if (!thing.in.empty()) extras["in"] = thing.in;
        Pose pose;
        bool round = false;
        if (const auto* box = std::get_if<plan::Box>(&thing.shape)) {
            pose = pose_of(*box);
        } else if (const auto* sphere = std::get_if<plan::Sphere>(&thing.shape)) {
            extras["shape"] = "sphere";
            pose.at = sphere->at;
            pose.size = {sphere->radius * 2, sphere->radius * 2, sphere->radius * 2};
            round = true;
        } else if (const auto* beyond = std::get_if<plan::Beyond>(&thing.shape)) {
            constexpr double wide = 100;
            constexpr double thin = 0.2;
            extras["shape"] = "beyond";
            extras["axis"] = std::string(1, "xyz"[beyond->axis]);
            extras["side"] = beyond->over ? "over" : "under";
            pose.at.at(beyond->axis) = beyond->limit;
            pose.size = {wide, wide, wide};
            pose.size.at(beyond->axis) = thin;
        }
        const std::size_t node = add_node(thing_text(thing), pose, std::move(extras));
        nodes_[node]["mesh"] = meshes_.mesh(round, trigger_look);
        stand_in(thing.world, node);
    }
    void add_mark(const SceneThing& thing, const Look& look, const Vec3& size) {
        Json extras = extras_of(thing);
        if (thing.kind == SceneKind::gate) extras["needs"] = thing.needs;
        const std::size_t node =
            add_node(thing_text(thing), {thing.at, Pose{}.turn, size}, std::move(extras));
        nodes_[node]["mesh"] = meshes_.mesh(false, look);
        stand_in(thing.world, node);
    }
    /// Rods that stand still, and a corner for each place in which it turns.
    void add_path(const SceneThing& thing) {
        constexpr double thick = 0.2;
        constexpr double corner = 0.4;
        Json extras = extras_of(thing);
        extras["from"] = thing.line.from;
        extras["to"] = thing.line.to;
        if (thing.line.one_way) extras["one-way"] = true;
        if (thing.line.speed) extras["speed"] = *thing.line.speed;
        if (!thing.line.gate.empty()) extras["gate"] = thing.line.gate;
        const std::size_t node = add_node(thing_text(thing), {}, std::move(extras));
        stand_in(thing.world, node);
        std::vector<Vec3> points{waypoint(thing.line.from)};
        points.insert(points.end(), thing.line.via.begin(), thing.line.via.end());
        points.push_back(waypoint(thing.line.to));
        for (std::size_t i = 1; i < points.size(); ++i) {
            const Pose rod = pose_of_rod(points[i - 1], points[i], thick);
            if (rod.size[0] > 0) add_child(node, fmt::format("leg {}", i), rod, path_look);
            if (i + 1 < points.size())
                add_child(node, fmt::format("corner {}", i),
                          {points[i], Pose{}.turn, {corner, corner, corner}}, path_look,
                          {{"hestrel", "corner"}});
        }
    }
    [[nodiscard]] const Vec3& waypoint(const std::string& name) {
        if (waypoints_.empty()) {
            for (const plan::Waypoint& each : plan_.waypoints)
                waypoints_.emplace(each.name, each.at);
        }
        return waypoints_.at(name);
    }

    // --- the walk ------------------------------------------------------------

    /// A floor in a level's area: a thin one while it is loaded, a thicker one while it is shown.
    struct Floor {
        const char* word;
        Presence::Kind kind;
        double thick; ///< of the area's height
        Look look;
    };
    static constexpr std::array<Floor, 2> floors{
        {{" loaded", Presence::Kind::loaded, 0.02, loaded_look},
         {" shown", Presence::Kind::shown, 0.08, shown_look}}};
    static constexpr double inside = 0.995; ///< or two faces would share a place

    void add_floors(std::size_t area, plan::LevelId level) {
        if (walk_.empty()) return;
        for (std::size_t i = 0; i < floors.size(); ++i) {
            const Floor& floor = floors.at(i);
            floors_of_[level].at(i).push_back(add_child(
                area, plan_.levels[level].name + floor.word,
                {{0, (floor.thick - 1) / 2, 0}, Pose{}.turn, {inside, floor.thick, inside}},
                floor.look));
        }
    }
    [[nodiscard]] std::string animation_name() const {
        const walk::Record& record = walk_.front();
        return plan_.routes[record.route].name + " on " + plan_.devices[record.device].name;
    }
    static float seconds(Micros time) { return static_cast<float>(plan::in_seconds(time)); }
    std::size_t sampler(const std::vector<float>& times, const std::vector<float>& values,
                        const char* how) {
        samplers_.push_back({{"input", buffer_.add(times, 1, Buffer::neither)},
                             {"output", buffer_.add(values, 3, Buffer::neither)},
                             {"interpolation", how}});
        return samplers_.size() - 1;
    }
    void channel(std::size_t sampler, std::size_t node, const char* path) {
        channels_.push_back({{"sampler", sampler}, {"target", {{"node", node}, {"path", path}}}});
    }
    /// Each floor is there while its level is so, and of no size otherwise.
    void animate_levels() {
        const auto presences = presences_of(plan_, walk_.front());
        for (const plan::LevelId level : plan_.levels.ids()) {
            for (std::size_t i = 0; i < floors.size(); ++i) {
                if (!floors_of_[level].at(i).empty())
                    animate_floor(presences[level], floors.at(i), floors_of_[level].at(i));
            }
        }
    }
    void animate_floor(const std::vector<Presence>& presences, const Floor& floor,
                       const std::vector<std::size_t>& nodes) {
        std::vector<float> times;
        std::vector<float> sizes;
        for (const Presence& each : presences) {
            if (!times.empty() && seconds(each.from) <= times.back()) { // to a float one moment
                sizes.resize(sizes.size() - 3);
            } else {
                times.push_back(seconds(each.from));
            }
            const bool there = each.kind == floor.kind;
            const float size = there ? static_cast<float>(inside) : 0;
            sizes.insert(sizes.end(), {size, there ? static_cast<float>(floor.thick) : 0, size});
        }
        const std::size_t how = sampler(times, sizes, "STEP");
        for (const std::size_t node : nodes) channel(how, node, "scale");
    }
    void animate_players() {
        const walk::Record& record = walk_.front();
        const auto& players = plan_.routes[record.route].players;
        for (std::uint32_t player = 0; player < players.size(); ++player) {
            std::vector<walk::Keyframe> frames =
                walk::places_of(plan_, walk_, player, plan::milliseconds(1));
            if (frames.back().at < record.end) {
                frames.push_back(frames.back());
                frames.back().at = record.end;
            }
            std::vector<float> times;
            std::vector<float> places;
            for (const walk::Keyframe& each : frames) {
                if (!times.empty() && seconds(each.at) <= times.back()) continue;
                times.push_back(seconds(each.at));
                for (const double part : each.place) places.push_back(static_cast<float>(part));
            }
            const std::size_t how = sampler(times, places, "LINEAR");
            for (const plan::WorldId world : plan_.worlds.ids()) {
                std::vector<float> sizes;
                bool ever = false;
                float before = -1;
                for (const walk::Keyframe& each : frames) {
                    if (before >= 0 && seconds(each.at) <= before) continue;
                    before = seconds(each.at);
                    ever = ever || each.world == world;
                    sizes.insert(sizes.end(), 3, each.world == world ? 1.0F : 0.0F);
                }
                if (!ever) continue;
                const std::size_t node = add_player(players[player].name, player, world);
                channel(how, node, "translation");
                channel(sampler(times, sizes, "STEP"), node, "scale");
            }
        }
    }
    std::size_t add_player(const std::string& name, std::uint32_t number, plan::WorldId world) {
        constexpr double tall = 1.8;
        constexpr double broad = 0.7;
        const std::size_t node = add_node("player " + name, {}, {{"player", name}});
        constexpr double over = 6; // where it can be seen from afar
        const Look& look = player_looks.at(number % player_looks.size());
        add_child(node, name, {{0, tall / 2, 0}, Pose{}.turn, {broad, tall, broad}}, look);
        const std::size_t mark =
            add_node(name + " from afar", {{0, over, 0}, Pose{}.turn, {2, 2, 2}});
        nodes_[mark]["mesh"] = meshes_.mesh(true, look);
        nodes_[node]["children"].push_back(mark);
        roots_[world].push_back(node);
        return node;
    }

    const plan::Plan& plan_;
    std::span<const walk::Record> walk_;
    Buffer buffer_;
    Meshes meshes_{buffer_};
    Json nodes_ = Json::array();
    Json channels_ = Json::array();
    Json samplers_ = Json::array();
    plan::Table<plan::WorldId, Json> roots_;
    plan::Table<plan::LevelId, std::array<std::vector<std::size_t>, 2>> floors_of_; ///< nodes
    std::map<std::string, plan::LevelId> levels_;
    std::map<std::string, Vec3> waypoints_;
};

} // namespace

std::string gltf_json(const plan::Plan& plan, std::span<const walk::Record> walk) {
    return GltfWriter(plan, walk).text();
}

} // namespace hestrel::exchange
