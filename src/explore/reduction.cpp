#include "explore/reduction.hpp"

namespace hestrel::explore {

Reduction silent_ends(const plan::Plan& plan, const plan::LevelTree& tree, plan::EditionId edition,
                      const std::vector<plan::LevelId>& also) {
    const AskedLevels asked(plan, tree, edition, also);
    Reduction reduction;
    for (const plan::LevelId level : plan.levels.ids()) {
        reduction.comes_silently.push(!asked.loaded(level));
        reduction.shows_silently.push(!asked.shown(level));
    }
    return reduction;
}

} // namespace hestrel::explore
