#include "exchange/gltf_reader.hpp"

#include "exchange/gltf_box.hpp"
#include "exchange/gltf_file.hpp"
#include "source/did_you_mean.hpp"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <optional>
#include <utility>

namespace hestrel::exchange {

namespace {

using plan::Vec3;
using Extras = tinygltf::Value;

constexpr std::string_view corner_word = "corner";
constexpr double farthest = 1e7; ///< of coordinates, as in a plan (docs/model.md section 12)

/// What a node's extras have under a key.
std::string text_at(const Extras& extras, const char* key) {
    const Extras& value = extras.Get(key);
    return value.IsString() ? value.Get<std::string>() : std::string();
}
std::vector<std::string> texts_at(const Extras& extras, const char* key) {
    std::vector<std::string> texts;
    const Extras& value = extras.Get(key);
    if (value.IsString()) return {value.Get<std::string>()};
    if (!value.IsArray()) return {};
    for (std::size_t i = 0; i < value.ArrayLen(); ++i) {
        const Extras& element = value.Get(static_cast<int>(i));
        if (element.IsString()) texts.push_back(element.Get<std::string>());
    }
    return texts;
}
/// 3D tools write a truth value as a number, too.
bool is_set(const Extras& extras, const char* key) {
    const Extras& value = extras.Get(key);
    if (value.IsBool()) return value.Get<bool>();
    return value.IsNumber() && value.GetNumberAsDouble() != 0;
}

class SceneReader {
public:
    SceneReader(const tinygltf::Model& model, const std::string& path)
        : model_(model), path_(path) {}

    ReadScene read() {
        find_parents();
        if (read_.errors.empty()) place_nodes();
        if (read_.errors.empty()) {
            for (std::size_t node = 0; node < model_.nodes.size(); ++node) take(node);
            sort_boxes();
        }
        return std::move(read_);
    }

private:
    [[nodiscard]] std::string node_text(std::size_t node) const {
        const std::string& name = model_.nodes[node].name;
        return name.empty() ? fmt::format("node {}", node)
                            : fmt::format("node {} \"{}\"", node, name);
    }
    void complain(std::size_t node, const std::string& message) {
        read_.errors.push_back(fmt::format("{}: error: {}: {}", path_, node_text(node), message));
    }
    void note(std::size_t node, const std::string& message) {
        read_.notes.push_back(fmt::format("{}: note: {}: {}", path_, node_text(node), message));
    }

    // --- how nodes hang together -----------------------------------------------

    static constexpr std::size_t nobody = SIZE_MAX;

    void find_parents() {
        parents_.assign(model_.nodes.size(), nobody);
        for (std::size_t node = 0; node < model_.nodes.size(); ++node) {
            for (const int child : model_.nodes[node].children) {
                const auto number = static_cast<std::size_t>(child);
                if (child < 0 || number >= model_.nodes.size()) {
                    complain(node, fmt::format("there is no node {}", child));
                } else if (parents_[number] != nobody) {
                    complain(number, fmt::format("it stands in two nodes: {} and {}",
                                                 node_text(parents_[number]), node_text(node)));
                } else {
                    parents_[number] = node;
                }
            }
        }
    }
    /// From the outermost nodes inwards; what is not met so goes round in a circle.
    void place_nodes() {
        places_.resize(model_.nodes.size());
        std::vector<std::size_t> todo;
        for (std::size_t node = 0; node < parents_.size(); ++node) {
            if (parents_[node] == nobody) todo.push_back(node);
        }
        std::vector<bool> met(model_.nodes.size(), false);
        while (!todo.empty()) {
            const std::size_t node = todo.back();
            todo.pop_back();
            met[node] = true;
            const auto own = transform_of(model_.nodes[node]);
            if (!own) {
                complain(node, "its position has numbers that are not finite");
                return;
            }
            places_[node] = parents_[node] == nobody ? *own : places_[parents_[node]].with(*own);
            for (const int child : model_.nodes[node].children)
                todo.push_back(static_cast<std::size_t>(child));
        }
        const auto missing = std::find(met.begin(), met.end(), false);
        if (missing == met.end()) return;
        auto first = static_cast<std::size_t>(missing - met.begin());
        // Whoever is not met stands in a circle, or in something that does.
        for (std::size_t i = 0; i < parents_.size(); ++i) first = parents_[first];
        std::string circle = node_text(first);
        for (std::size_t at = parents_[first]; at != first; at = parents_[at])
            circle = node_text(at) + " in it, " + circle + " in that";
        complain(first, "nodes stand in each other, round in a circle: " + circle);
    }

    // --- what they are -----------------------------------------------------------

    void take(std::size_t node) {
        const Extras& extras = model_.nodes[node].extras;
        if (!extras.IsObject() || !extras.Has("hestrel")) return;
        const std::string word = text_at(extras, "hestrel");
        if (word == corner_word) return; // of a path
        const auto kind = std::find(scene_kind_names.begin(), scene_kind_names.end(), word);
        if (kind == scene_kind_names.end()) {
            complain(node, fmt::format("\"hestrel\" says \"{}\", which is nothing of a plan{}",
                                       word, source::hint(word, scene_kind_names)));
            return;
        }
        SceneThing thing;
        thing.kind = static_cast<SceneKind>(kind - scene_kind_names.begin());
        thing.name = text_at(extras, "name");
        thing.level = text_at(extras, "level");
        thing.world = text_at(extras, "world");
        if (thing.name.empty()) thing.name = model_.nodes[node].name;
        switch (thing.kind) {
        case SceneKind::area:
        case SceneKind::seen_from: take_box(node, extras, std::move(thing)); return;
        case SceneKind::trigger:
            if (!read_shape(node, extras, thing)) return;
            thing.in = texts_at(extras, "in");
            break;
        case SceneKind::gate: thing.needs = texts_at(extras, "needs"); [[fallthrough]];
        case SceneKind::waypoint: thing.at = places_[node].origin; break;
        case SceneKind::path:
            if (!read_line(node, extras, thing)) return;
            break;
        }
        if (thing.name.empty()) return complain(node, "it has no name");
        if (!is_near_enough(node, thing)) return;
        const auto [known, fresh] = nodes_of_.try_emplace(std::pair(thing.kind, thing.name), node);
        if (!fresh && thing.kind != SceneKind::path) {
            complain(node, fmt::format("{} is the {} as well", node_text(known->second),
                                       thing_text(thing)));
            return;
        }
        read_.things.push_back(std::move(thing));
    }

    void take_box(std::size_t node, const Extras& extras, SceneThing thing) {
        if (!thing.level.empty()) thing.name = std::exchange(thing.level, {});
        thing.level = text_at(extras, "parent");
        if (thing.name.empty()) return complain(node, "it does not say of which level it is");
        const auto box = read_box(node);
        if (!box) return;
        const Extras& part = extras.Get("part");
        const auto key = std::pair(thing.kind, thing.name);
        const auto [known, fresh] = boxes_of_.try_emplace(key, read_.things.size());
        if (fresh) read_.things.push_back(std::move(thing));
        read_.things[known->second].boxes.push_back(*box);
        parts_[known->second].push_back(part.IsNumber() ? part.GetNumberAsDouble() : 0);
        is_near_enough(node, read_.things[known->second]);
    }
    /// Several boxes of one level stand in the order of their parts.
    void sort_boxes() {
        for (const auto& each : parts_) {
            const std::vector<double>& parts = each.second;
            std::vector<plan::Box>& boxes = read_.things[each.first].boxes;
            std::vector<std::size_t> order(parts.size());
            for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
            std::stable_sort(order.begin(), order.end(), [&](std::size_t one, std::size_t other) {
                return parts[one] < parts[other];
            });
            std::vector<plan::Box> sorted;
            for (const std::size_t i : order) sorted.push_back(boxes[i]);
            boxes = std::move(sorted);
        }
    }

    std::optional<plan::Box> read_box(std::size_t node) {
        const auto bounds = bounds_of(model_, model_.nodes[node].mesh);
        if (!bounds) {
            complain(node, model_.nodes[node].mesh < 0
                               ? "it has no mesh, so it has no box"
                               : "its mesh says no bounds (`min` and `max` of its positions)");
            return std::nullopt;
        }
        const TurnedBox turned = box_of(places_[node], *bounds);
        if (turned.around) note(node, "it stands askew: the box around it is taken");
        return turned.box;
    }
    bool read_shape(std::size_t node, const Extras& extras, SceneThing& thing) {
        const std::string shape = text_at(extras, "shape");
        if (shape == "beyond") {
            const std::string axis = text_at(extras, "axis");
            const std::string side = text_at(extras, "side");
            if (axis.size() != 1 || axis[0] < 'x' || axis[0] > 'z' ||
                (side != "over" && side != "under")) {
                complain(node, "a beyond needs an axis (x, y or z) and a side (over or under)");
                return false;
            }
            plan::Beyond beyond;
            beyond.axis = static_cast<std::size_t>(axis[0] - 'x');
            beyond.over = side == "over";
            beyond.limit = places_[node].origin.at(beyond.axis);
            thing.shape = beyond;
            return true;
        }
        if (!shape.empty() && shape != "box" && shape != "sphere") {
            complain(node, fmt::format("a shape is box, sphere or beyond, not \"{}\"", shape));
            return false;
        }
        const auto box = read_box(node);
        if (!box) return false;
        thing.shape = *box;
        if (shape != "sphere") return true;
        plan::Sphere sphere;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            sphere.at.at(axis) = (box->min.at(axis) + box->max.at(axis)) / 2;
            sphere.radius = std::max(sphere.radius, (box->max.at(axis) - box->min.at(axis)) / 2);
        }
        thing.shape = sphere;
        return true;
    }
    bool read_line(std::size_t node, const Extras& extras, SceneThing& thing) {
        thing.line.from = text_at(extras, "from");
        thing.line.to = text_at(extras, "to");
        thing.line.one_way = is_set(extras, "one-way");
        thing.line.gate = text_at(extras, "gate");
        const Extras& speed = extras.Get("speed");
        if (speed.IsNumber()) thing.line.speed = speed.GetNumberAsDouble();
        if (thing.line.from.empty() || thing.line.to.empty()) {
            complain(node, "a path needs the waypoints `from` and `to`");
            return false;
        }
        thing.name = thing.line.from + " to " + thing.line.to;
        for (const int child : model_.nodes[node].children) {
            const auto number = static_cast<std::size_t>(child);
            const Extras& of_child = model_.nodes[number].extras;
            if (of_child.IsObject() && text_at(of_child, "hestrel") == corner_word)
                thing.line.via.push_back(places_[number].origin);
        }
        return true;
    }

    /// Whether all of a thing lies where a plan's coordinates reach.
    bool is_near_enough(std::size_t node, const SceneThing& thing) {
        const auto near = [](const Vec3& at) {
            return std::all_of(at.begin(), at.end(), [](double part) {
                return std::isfinite(part) && std::abs(part) <= farthest;
            });
        };
        bool all =
            near(thing.at) && std::all_of(thing.line.via.begin(), thing.line.via.end(), near);
        const auto add = [&](const plan::Box& box) { all = all && near(box.min) && near(box.max); };
        for (const plan::Box& box : thing.boxes) add(box);
        if (const auto* box = std::get_if<plan::Box>(&thing.shape)) add(*box);
        if (const auto* sphere = std::get_if<plan::Sphere>(&thing.shape))
            all = all && near(sphere->at) && sphere->radius <= farthest;
        if (const auto* beyond = std::get_if<plan::Beyond>(&thing.shape))
            all = all && near({beyond->limit, 0, 0});
        if (!all) complain(node, "it lies farther than 10,000 km from the origin");
        return all;
    }

    const tinygltf::Model& model_;
    const std::string& path_;
    ReadScene read_;
    std::vector<std::size_t> parents_;
    std::vector<Transform> places_; ///< of nodes, in the world
    std::map<std::pair<SceneKind, std::string>, std::size_t> nodes_of_;
    std::map<std::pair<SceneKind, std::string>, std::size_t> boxes_of_; ///< things
    std::map<std::size_t, std::vector<double>> parts_;                  ///< by thing, of its boxes
};

} // namespace

ReadScene read_gltf(source::Disk& disk, const std::string& path) {
    try {
        return SceneReader(load_gltf(disk, path), path).read();
    } catch (const GltfError& error) {
        ReadScene read;
        read.errors.emplace_back(error.what());
        return read;
    }
}

} // namespace hestrel::exchange
