#include "flow/state.hpp"

#include <algorithm>

namespace hestrel::flow {

State renamed(State state, const std::vector<PlayerId>& to) {
    const auto name = [&](PlayerId& player) {
        if (player) player = to[player.value];
    };
    for (auto& [veil, player] : state.veils) name(player);
    std::sort(state.veils.begin(), state.veils.end());
    std::set<OpenMenu> menus;
    for (auto [menu, player] : state.open_menus) {
        name(player);
        menus.emplace(menu, player);
    }
    state.open_menus = std::move(menus);
    std::set<PlayerId> frozen;
    for (PlayerId player : state.frozen_by_step) {
        name(player);
        frozen.insert(player);
    }
    state.frozen_by_step = std::move(frozen);
    for (RunState& run : state.runs) {
        name(run.firer);
        name(run.lifts_for);
    }
    return state;
}

} // namespace hestrel::flow
