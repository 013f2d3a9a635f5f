#pragma once
// The map as glTF 2.0: every shape of a plan as a named, coloured box that 3D tools can move, and a
// walk as an animation in which players move and levels come and go (docs/guide/from-your-map.md).

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <span>
#include <string>

namespace hestrel::exchange {

/// One file; what a node is to the plan stands in its `extras`, as `read_gltf` takes it. Metres, y
/// up. Each world is a scene. `walk`: the machines of one walk, none for the map alone; what
/// levels are is that of the first, which keeps the game.
std::string gltf_json(const plan::Plan& plan, std::span<const walk::Record> walk);

} // namespace hestrel::exchange
