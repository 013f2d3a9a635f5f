#pragma once
// Where glTF nodes are and what box a mesh makes there. Part of gltf_reader.

#include "plan/plan.hpp"

#include <array>
#include <optional>
#include <tiny_gltf.h>

namespace hestrel::exchange {

/// From a node's own space to that of its world: three columns and where the origin comes to.
struct Transform {
    std::array<plan::Vec3, 3> axes{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
    plan::Vec3 origin{};

    [[nodiscard]] plan::Vec3 there(const plan::Vec3& at) const;
    /// This after that: `inner` is within this space.
    [[nodiscard]] Transform with(const Transform& inner) const;
};

/// What a node itself says; nothing where a number is none, or there are too few.
std::optional<Transform> transform_of(const tinygltf::Node& node);

/// The smallest box around some points of a node's own space.
struct Bounds {
    plan::Vec3 least{};
    plan::Vec3 most{};
};
/// By the least and the most of its positions, as glTF asks for them; nothing where a mesh has
/// none.
std::optional<Bounds> bounds_of(const tinygltf::Model& model, int mesh);

struct TurnedBox {
    plan::Box box;
    bool around = false; ///< it stood askew: this is the box around it
};
/// Turned by no more than 45 degrees: a right angle more is another order of its sides.
TurnedBox box_of(const Transform& transform, const Bounds& bounds);

} // namespace hestrel::exchange
