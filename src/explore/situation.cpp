#include "explore/situation.hpp"

#include <algorithm>

namespace hestrel::explore {

std::vector<plan::VeilId> veils_up(const flow::State& settled) {
    std::vector<plan::VeilId> veils;
    for (const auto& [veil, player] : settled.veils) {
        if (std::find(veils.begin(), veils.end(), veil) == veils.end()) veils.push_back(veil);
    }
    return veils;
}

bool is_frozen(const plan::Plan& plan, const flow::State& settled) {
    return settled.frozen_by_step || settled.switching ||
           std::any_of(settled.open_menus.begin(), settled.open_menus.end(),
                       [&](plan::MenuId menu) { return plan.menus[menu].pauses; });
}

bool is_there(const std::vector<LevelThere>& levels, plan::LevelId level) {
    return std::any_of(levels.begin(), levels.end(), [&](const LevelThere& there) {
        return there.level == level && !there.leaving;
    });
}

bool is_shown(const std::vector<LevelThere>& levels, plan::LevelId level) {
    return std::any_of(levels.begin(), levels.end(), [&](const LevelThere& there) {
        return there.level == level && there.shown;
    });
}

namespace {

const LevelThere* find(const std::vector<LevelThere>& levels, plan::LevelId level) {
    const auto found = std::find_if(levels.begin(), levels.end(), [&](const LevelThere& there) {
        return there.level == level && !there.leaving;
    });
    return found == levels.end() ? nullptr : &*found;
}

bool is_loaded(const plan::LevelTree& tree, const std::vector<LevelThere>& levels,
               plan::LevelId level) {
    for (; level; level = tree[level].parent) {
        const LevelThere* there = find(levels, level);
        if (there == nullptr || there->pending) return false;
    }
    return true;
}

bool any_blocked(const std::vector<LevelThere>& levels) {
    return std::any_of(levels.begin(), levels.end(),
                       [](const LevelThere& there) { return there.blocked; });
}

} // namespace

std::vector<plan::LevelId> attachable(const plan::LevelTree& tree,
                                      const std::vector<LevelThere>& levels) {
    std::vector<plan::LevelId> can;
    if (any_blocked(levels)) return can;
    for (const LevelThere& there : levels) {
        const plan::LevelId parent = tree[there.level].parent;
        if (there.wanted && !there.shown && is_loaded(tree, levels, there.level) &&
            (!parent || is_shown(levels, parent)))
            can.push_back(there.level);
    }
    return can;
}

bool block_attachable(const plan::LevelTree& tree, const std::vector<LevelThere>& levels) {
    return any_blocked(levels) &&
           std::all_of(levels.begin(), levels.end(), [&](const LevelThere& there) {
               return !there.blocked || (there.wanted && is_loaded(tree, levels, there.level));
           });
}

bool at_rest(const plan::LevelTree& tree, const std::vector<LevelThere>& levels,
             const flow::State& settled) {
    const auto on_its_way = [](const LevelThere& there) {
        return there.pending || there.blocked || there.leaving;
    };
    return settled.runs.empty() && !settled.switching &&
           std::none_of(levels.begin(), levels.end(), on_its_way) &&
           attachable(tree, levels).empty();
}

bool is_open(const plan::Gate& gate, const std::vector<LevelThere>& levels) {
    return std::all_of(gate.needs.begin(), gate.needs.end(),
                       [&](plan::LevelId level) { return is_shown(levels, level); });
}

} // namespace hestrel::explore
