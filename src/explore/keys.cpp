#include "explore/keys.hpp"

namespace hestrel::explore {

using plan::LevelId;

namespace {

void write(Key& key_of, const std::optional<flow::Checkpoint>& checkpoint) {
    key_of.push_back(checkpoint ? checkpoint->level.value : UINT32_MAX);
    key_of.push_back(checkpoint ? checkpoint->at.value : UINT32_MAX);
}

void write(Key& key_of, const std::vector<LevelId>& levels) {
    key_of.push_back(static_cast<std::uint32_t>(levels.size()));
    for (const LevelId level : levels) key_of.push_back(level.value);
}

void write(Key& key_of, const flow::Running& running) {
    key_of.push_back(running.list.value);
    key_of.push_back(static_cast<std::uint32_t>(running.frames.size()));
    for (const flow::Cursor& frame : running.frames) {
        key_of.push_back(frame.list.value);
        key_of.push_back(static_cast<std::uint32_t>(frame.next));
    }
    key_of.push_back(running.firer.value);
    key_of.push_back((running.timed ? 1U : 0U) | (running.gives_up ? 2U : 0U));
    key_of.push_back(running.until.value);
    key_of.push_back(static_cast<std::uint32_t>(running.awaited));
    write(key_of, running.levels);
}

void write(Key& key_of, const flow::Switching& switching) {
    const plan::SwitchStep& step = switching.step;
    // How it lets go of old levels matters only while it has not yet.
    std::uint32_t lets_go = 0;
    if (switching.lets_go_later())
        lets_go = 1U | (step.reuse ? 2U : 0U) | (switching.target_was_loaded ? 4U : 0U);
    for (const std::uint32_t number :
         {step.to.value, step.at.value, step.veil.value, lets_go,
          static_cast<std::uint32_t>(switching.stage),
          switching.position ? static_cast<std::uint32_t>(*switching.position) : UINT32_MAX})
        key_of.push_back(number);
    write(key_of, step.with);
    write(key_of, switching.family);
}

/// What is going on where players hurry.
void write(Key& key_of, const flow::State& settled) {
    if (settled.runs.empty() && !settled.switching) return;
    key_of.push_back(static_cast<std::uint32_t>(settled.runs.size()));
    for (const flow::Running& running : settled.runs) write(key_of, running);
    write(key_of, settled.held);
    if (!settled.switching) return;
    key_of.push_back(static_cast<std::uint32_t>(settled.switched_by));
    write(key_of, *settled.switching);
}

} // namespace

Key key_of(const std::vector<LevelThere>& levels) {
    Key numbers;
    for (const LevelThere& there : levels) {
        numbers.push_back(there.level.value);
        numbers.push_back((there.shown ? 1U : 0U) | (there.wanted ? 2U : 0U) |
                          (there.pending ? 4U : 0U) | (there.blocked ? 8U : 0U) |
                          (there.leaving ? 16U : 0U));
    }
    return numbers;
}

Key key_of(const flow::State& settled) {
    Key numbers;
    write(numbers, settled.checkpoint);
    write(numbers, settled.saved_checkpoint);
    numbers.push_back(settled.position ? static_cast<std::uint32_t>(*settled.position)
                                       : UINT32_MAX);
    numbers.push_back((settled.has_saved ? 1U : 0U) | (settled.frozen_by_step ? 2U : 0U) |
                      (settled.ended ? 4U : 0U));
    numbers.push_back(static_cast<std::uint32_t>(settled.open_menus.size()));
    for (const plan::MenuId menu : settled.open_menus) numbers.push_back(menu.value);
    for (const auto& [veil, player] : settled.veils) {
        numbers.push_back(veil.value);
        numbers.push_back(player.value);
    }
    write(numbers, settled);
    return numbers;
}

} // namespace hestrel::explore
