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

std::set<plan::MenuId> menus_open(const flow::State& settled) {
    std::set<plan::MenuId> menus;
    for (const auto& [menu, who] : settled.open_menus) menus.insert(menu);
    return menus;
}

bool is_frozen(const plan::Plan& plan, const flow::State& settled, flow::PlayerId player) {
    const auto is_for = [&](flow::PlayerId who) { return !who || who == player; };
    return settled.frozen_by_step.contains(player) || settled.switching || settled.booting ||
           std::any_of(settled.open_menus.begin(), settled.open_menus.end(),
                       [&](const flow::OpenMenu& open) {
                           return is_for(open.second) && plan.menus[open.first].pauses;
                       }) ||
           std::any_of(settled.runs.begin(), settled.runs.end(), [&](const flow::RunState& run) {
               return run.lifts && is_for(run.lifts_for);
           });
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

std::vector<plan::LevelId> shown_of(const std::vector<LevelThere>& levels) {
    std::vector<plan::LevelId> shown;
    for (const LevelThere& there : levels) {
        if (there.shown) shown.push_back(there.level);
    }
    return shown;
}

void restore(loading::Levels& machine, const std::vector<LevelThere>& levels,
             const flow::State& control) {
    for (const LevelThere& there : levels) {
        if (there.leaving) continue;
        loading::LevelNow now;
        now.asked = true;
        now.arrived = !there.pending;
        now.wanted = there.wanted;
        now.shown = there.shown;
        now.blocked = there.blocked;
        machine.restore(there.level, now);
    }
    machine.restored();
    if (!machine.block().empty() && control.switching &&
        control.switching->stage == flow::SwitchStage::showing)
        machine.show_block();
}

Attachable attachable(const plan::LevelTree& tree, const std::vector<LevelThere>& levels,
                      const flow::State& control, const Reduction& reduction) {
    loading::Sequence sequence;
    loading::LevelDriver nobody;
    loading::Levels machine(tree, sequence, nobody);
    std::vector<LevelThere> come = levels;
    for (LevelThere& each : come)
        each.pending = each.pending && reduction.tells_coming(each.level, control);
    restore(machine, come, control);
    Attachable can;
    can.block = machine.is_block_ready();
    if (!machine.block().empty()) return can;
    for (const loading::AttachTurn& turn : machine.queue()) {
        if (reduction.tells_showing(turn.level, control)) can.levels.push_back(turn.level);
    }
    return can;
}

bool at_rest(const plan::LevelTree& tree, const std::vector<LevelThere>& levels,
             const flow::State& settled, const Reduction& reduction) {
    const auto on_its_way = [&](const LevelThere& there) {
        const bool comes = there.pending && reduction.tells_coming(there.level);
        return comes || there.blocked || there.leaving;
    };
    return settled.runs.empty() && !settled.switching &&
           std::none_of(levels.begin(), levels.end(), on_its_way) &&
           attachable(tree, levels, settled, reduction).levels.empty();
}

} // namespace hestrel::explore
