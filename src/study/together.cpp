#include "study/together.hpp"

#include "plan/lists.hpp"
#include "plan/questions.hpp"
#include "study/list_reading.hpp"

#include <numeric>

namespace hestrel::study {

using plan::LevelId;

Together::Together(const Study& study)
    : set_(study.plan.levels.size()), with_any_(study.plan.levels.size(), false) {
    const plan::Plan& plan = study.plan;
    std::iota(set_.begin(), set_.end(), std::size_t{0});
    const auto join_all = [&](const std::vector<LevelId>& levels) {
        for (const LevelId level : levels) join(levels.front(), level);
    };
    for (const LevelId level : plan.levels.ids()) {
        join_all(plan::subtree_of(study.tree, level));
        if (plan.levels[level].near) with_any_[level.value] = true;
    }
    for (const LevelId level : study.always) with_any_[level.value] = true;
    for (const plan::ListId id : plan.lists.ids()) {
        const plan::StepList& list = plan.lists[id];
        std::vector<LevelId> there = plan::levels_of(list);
        for (const StepReading& step : read_list(list)) {
            if (step.asks.empty()) continue;
            if (step.switches != nullptr) {
                join_all(step.asks); // all else leaves; what comes later comes to these
                there = step.asks;
                continue;
            }
            if (there.empty()) {
                for (const LevelId level : step.asks) with_any_[level.value] = true;
            }
            there.insert(there.end(), step.asks.begin(), step.asks.end());
            join_all(there);
        }
    }
}

} // namespace hestrel::study
