#pragma once
// What of a plan stands in space, as 3D tools hold it: named shapes in their worlds
// (docs/guide/from-your-map.md).

#include "plan/plan.hpp"

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::exchange {

/// What a shape is to the plan; `scene_kind_names` are the words in a node's `hestrel`.
enum class SceneKind : std::uint8_t { area, seen_from, trigger, waypoint, gate, path };
inline constexpr std::array<std::string_view, 6> scene_kind_names{
    "area", "seen-from", "trigger", "waypoint", "gate", "path"};
constexpr std::string_view name_of(SceneKind kind) {
    return scene_kind_names.at(static_cast<std::size_t>(kind));
}

/// How a path goes.
struct SceneLine {
    std::string from, to; ///< waypoints
    std::vector<plan::Vec3> via;
    bool one_way = false;
    std::optional<double> speed; ///< m/s
    std::string gate;            ///< empty: none
};

/// One thing; of its members those count that its kind has. Metres and degrees, in the world.
struct SceneThing {
    SceneKind kind = SceneKind::area;
    std::string name;  ///< as the plan calls it from outside of levels; of an area its level's
    std::string level; ///< in which it stands; of an area the level around its own; empty: none
    std::string world;
    plan::Place place;              ///< in the plan; nowhere: it is not in it
    std::vector<plan::Box> boxes;   ///< area, seen-from: at least one
    plan::Shape shape;              ///< trigger
    plan::Vec3 at{};                ///< waypoint, gate
    SceneLine line;                 ///< path
    std::vector<std::string> needs; ///< gate: levels and groups
    std::vector<std::string> in;    ///< trigger that stands outside of levels: where it is live
};

/// Everything of a plan that stands in space, each kind in plan order. Cells are left out: their
/// grid says where they are.
std::vector<SceneThing> scene_of(const plan::Plan& plan);

/// "area of quay", "waypoint post-hall.door", "path steps to quay".
std::string thing_text(const SceneThing& thing);

/// Whether two boxes are the same to what a 3D tool keeps of them: half a millimetre, and far from
/// the origin what is left of a number of 32 bits. Turned by right angles they may be written
/// otherwise.
bool same_box(const plan::Box& one, const plan::Box& other);
bool same_point(const plan::Vec3& one, const plan::Vec3& other);
bool same_shape(const plan::Shape& one, const plan::Shape& other);

/// How far apart two lengths may be that a 3D tool keeps as the same, in metres.
double tolerance_at(double coordinate);

} // namespace hestrel::exchange
