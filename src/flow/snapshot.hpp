#pragma once
// How a game stands at a moment in which nothing is going on: what a walk ends with, and exploring
// can begin with (docs/model.md section 8).

#include "flow/facts.hpp"
#include "flow/state.hpp"
#include "flow/triggers.hpp"
#include "plan/plan.hpp"

#include <optional>
#include <vector>

namespace hestrel::flow {

struct Snapshot {
    struct Level {
        plan::LevelId level; ///< loaded
        bool shown = false;
        bool wanted = false; ///< shown, once it can be
    };
    struct Player {
        plan::PlayerKindId kind;
        plan::WaypointId at; ///< unset: nowhere
        Triggers::Standing standing;
    };
    State state;
    std::vector<Level> levels; ///< in plan order
    std::vector<Player> players;
    FactValues facts;
    std::optional<SavedStore> saved;
    std::vector<plan::TriggerId> spent; ///< of those that fire once
};

} // namespace hestrel::flow
