#pragma once
// Whether it matters to a plan which player does something.

#include "plan/plan.hpp"

namespace hestrel::plan {

/// Whether it matters to a list who fired it; `all_stand`: nobody moves while it runs.
bool goes_by_firer(const Plan& plan, ListId id, bool all_stand = false);

/// Whether a menu can be open, or a player frozen, for one player and not for another.
bool tells_players_apart(const Plan& plan);

/// Whether a condition can hold for one player who stands and not for another; `apart`: menus and
/// freezes can be of one player.
bool asks_about_one(const Plan& plan, ConditionId condition, bool apart);

} // namespace hestrel::plan
