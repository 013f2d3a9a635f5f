#pragma once
// Lists of levels as steps make them.

#include "plan/level_tree.hpp"
#include "plan/lists.hpp"

#include <algorithm>
#include <vector>

namespace hestrel::flow {

/// What stays with a level that stays: its ancestors, itself, its `with-parent` sublevels
/// (docs/model.md section 2).
inline std::vector<plan::LevelId> kept_with(const plan::LevelTree& tree, plan::LevelId level) {
    std::vector<plan::LevelId> kept{level};
    for (std::size_t next = 0; next < kept.size(); ++next) {
        const auto& with_parent = tree[kept[next]].with_parent;
        kept.insert(kept.end(), with_parent.begin(), with_parent.end());
    }
    plan::append_new(kept, plan::ancestors_of(tree, level));
    return kept;
}

/// What `switch` and `keep-only` never unload: persisting levels and what stays with them. Sorted.
inline std::vector<plan::LevelId> kept_levels(const plan::Plan& plan, const plan::LevelTree& tree) {
    std::vector<plan::LevelId> kept;
    for (const plan::LevelId level : plan.levels.ids()) {
        if (plan.levels[level].persist) plan::append_new(kept, kept_with(tree, level));
    }
    std::sort(kept.begin(), kept.end());
    return kept;
}

} // namespace hestrel::flow
