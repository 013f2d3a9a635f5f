#pragma once
// The plan as the game itself may read it: every name resolved, every list of steps written out,
// shapes in the world, sizes on every device.

#include "plan/plan.hpp"

#include <string>
#include <string_view>

namespace hestrel::exchange {

/// Grows by one whenever what is there already changes its meaning or goes; what is only added
/// leaves it.
constexpr int game_plan_version = 1;
/// What the file's `$schema` names: the schema stands beside it.
constexpr std::string_view game_plan_schema_name = "plan.schema.json";

/// JSON; sizes in bytes, times in seconds, lengths in metres.
std::string game_plan_json(const plan::Plan& plan);
/// Its JSON Schema (draft 7).
std::string game_plan_schema();

} // namespace hestrel::exchange
