#include "explore/folded_near.hpp"

#include "explore/asked_levels.hpp"

#include <algorithm>

namespace hestrel::explore {

using plan::LevelId;

FoldedNear::FoldedNear(const plan::Plan& plan, const plan::LevelTree& tree, plan::EditionId edition,
                       const std::vector<LevelId>& kept)
    : family_(plan.levels.size()), left_out_(plan.levels.size(), false) {
    const AskedLevels asked(plan, tree, edition, kept);
    if (asked.keeps_only()) return;
    for (const LevelId id : plan.levels.ids()) {
        if (!plan.levels[id].near || plan.levels[id].with_parent || asked.at_all(id)) continue;
        // What is below it comes and goes with it. What is above it comes with it, and goes only
        // where all goes: else it would hang on which of those below are there already.
        std::vector<LevelId> family = plan::subtree_of(tree, id);
        const bool all_come = std::all_of(family.begin() + 1, family.end(), [&](LevelId level) {
            const plan::Level& below = plan.levels[level];
            return below.with_parent && !below.near && !asked.at_all(level);
        });
        const std::vector<LevelId> above = plan::ancestors_of(tree, id);
        const bool steady = std::none_of(above.begin(), above.end(), [&](LevelId level) {
            const plan::Level& parent = plan.levels[level];
            return asked.hidden(level) || parent.near || parent.variants;
        });
        if (!all_come || !steady) continue;
        std::sort(family.begin(), family.end());
        for (const LevelId level : family) left_out_[level] = true;
        family_[id] = std::move(family);
        ++count_;
    }
}

std::size_t count_near(const plan::Plan& plan) {
    return static_cast<std::size_t>(
        std::count_if(plan.levels.begin(), plan.levels.end(),
                      [](const plan::Level& level) { return level.near.has_value(); }));
}

} // namespace hestrel::explore
