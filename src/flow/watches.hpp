#pragma once
// Which triggers have to be judged again when something that conditions ask about changes, so that
// a plan of many triggers costs a walk no more than the few that are concerned.

#include "plan/plan.hpp"

#include <vector>

namespace hestrel::flow {

/// Triggers that fire when their condition becomes true, by what the condition depends on.
struct Watches {
    explicit Watches(const plan::Plan& plan);

    plan::Table<plan::FactId, std::vector<plan::TriggerId>> on_fact;
    plan::Table<plan::LevelId, std::vector<plan::TriggerId>> on_level; ///< shown, ready, delivered
    std::vector<plan::TriggerId> on_veils;
    std::vector<plan::TriggerId> on_movement; ///< how fast or where a player is
    plan::Table<plan::MenuId, std::vector<plan::TriggerId>> on_menu;
    std::vector<plan::TriggerId> on_freezes;
    std::vector<plan::TriggerId> by_state;    ///< all of them
    std::vector<plan::TriggerId> always_live; ///< that belong to no level
};

} // namespace hestrel::flow
