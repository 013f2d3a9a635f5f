#pragma once
// Lists of steps and conditions as JSON for the game: part of game_plan.

#include "plan/plan.hpp"
#include "source/json.hpp"

namespace hestrel::exchange {

/// A whole list: `[{"do": "load", "levels": ["quay"]}, …]`; an unset one is empty.
source::Json steps_json(const plan::Plan& plan, plan::ListId list);
/// `{"text": "letters > 2", "is": {"op": ">", "left": …, "right": …}}`; null where it is unset.
source::Json condition_json(const plan::Plan& plan, plan::ConditionId condition);
source::Json value_json(const plan::Plan& plan, const plan::Value& value);

} // namespace hestrel::exchange
