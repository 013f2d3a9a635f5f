#include "explore/situation.hpp"

#include <algorithm>

namespace hestrel::explore {

std::vector<plan::VeilId> veils_up(const flow::Settled& settled) {
    std::vector<plan::VeilId> veils;
    for (const auto& [veil, player] : settled.veils) {
        if (std::find(veils.begin(), veils.end(), veil) == veils.end()) veils.push_back(veil);
    }
    return veils;
}

bool is_frozen(const plan::Plan& plan, const flow::Settled& settled) {
    return settled.frozen_by_step ||
           std::any_of(settled.open_menus.begin(), settled.open_menus.end(),
                       [&](plan::MenuId menu) { return plan.menus[menu].pauses; });
}

bool is_there(const std::vector<LevelThere>& levels, plan::LevelId level) {
    return std::any_of(levels.begin(), levels.end(),
                       [&](const LevelThere& there) { return there.level == level; });
}

bool is_shown(const std::vector<LevelThere>& levels, plan::LevelId level) {
    return std::any_of(levels.begin(), levels.end(), [&](const LevelThere& there) {
        return there.level == level && there.shown;
    });
}

bool is_open(const plan::Gate& gate, const std::vector<LevelThere>& levels) {
    return std::all_of(gate.needs.begin(), gate.needs.end(),
                       [&](plan::LevelId level) { return is_shown(levels, level); });
}

} // namespace hestrel::explore
