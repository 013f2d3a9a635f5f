#pragma once
// What is found of cell after cell of an open world is told once.

#include "plan/finding.hpp"
#include "plan/plan.hpp"

#include <cstddef>
#include <map>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::plan {

/// Of findings of one name about cells of one grid only the first is kept, and says of how many
/// others it is so. `finding_of(each)` is the finding that an element holds.
template <class T, class FindingOf>
void fold_cells(const Plan& plan, std::vector<T>& all, FindingOf finding_of) {
    if (plan.grids.empty()) return;
    std::map<std::pair<std::string, GridId>, std::pair<std::size_t, std::size_t>> first;
    std::vector<T> kept;
    for (T& each : all) {
        const Finding& finding = finding_of(each);
        const bool level = finding.about && finding.about->kind == ThingKind::level;
        const GridId grid = level ? plan.levels[LevelId{finding.about->index}].grid : GridId{};
        if (grid) {
            const auto [known, fresh] = first.try_emplace({finding.name, grid}, kept.size(), 0);
            if (!fresh) {
                ++known->second.second;
                continue;
            }
        }
        kept.push_back(std::move(each));
    }
    for (const auto& [what, where] : first) {
        if (where.second == 0) continue;
        finding_of(kept[where.first]).message += "; so it is of " + std::to_string(where.second) +
                                                 (where.second == 1 ? " cell" : " cells") + " more";
    }
    all = std::move(kept);
}

} // namespace hestrel::plan
