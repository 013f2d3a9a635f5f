#pragma once
// What a game can come to at all, whatever players do: which lists can run, and which levels can be
// asked for. A fixpoint that is never too small: a list runs where what it belongs to can be there,
// and all levels that its steps name can be there then.

#include "plan/level_tree.hpp"

#include <vector>

namespace hestrel::explore {

struct Possible {
    plan::Table<plan::LevelId, bool> levels;
    plan::Table<plan::ListId, bool> lists;
};

/// In that edition; unset: the plan has none. `also`: levels with which it can begin, too.
Possible possible_in(const plan::Plan& plan, const plan::LevelTree& tree, plan::EditionId edition,
                     const std::vector<plan::LevelId>& also);

} // namespace hestrel::explore
