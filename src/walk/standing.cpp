// How everything stands at a moment of a walk, for who looks on (docs/model.md section 7).

#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using plan::LevelId;

bool Simulation::can_press(plan::ItemId item, flow::PlayerId player) const {
    return flow_.menu_open(plan_.items[item].menu, player) &&
           flow_.holds(plan_.items[item].when, player);
}

Standing Simulation::standing() const {
    Standing now;
    const loading::Loader& loader = keeper().loader;
    now.at = loader.now();
    now.events = keeper().record.events.size();
    now.booted = keeper().booted;
    now.ended = flow_.ended();
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        const Walker& walker = walkers_[player];
        const flow::Traveller& traveller = walker.traveller;
        Standing::Player& stands = now.players.emplace_back();
        stands.at = traveller.at;
        stands.goal = traveller.goal;
        stands.path = traveller.path();
        stands.at_gate = traveller.at_gate;
        stands.frozen = frozen(player);
        stands.facts = flow_.facts().all_for(flow::PlayerId{player});
        for (const plan::VeilId veil : plan_.veils.ids()) {
            if (flow_.veils().hides(veil, flow::PlayerId{player})) stands.veils.push_back(veil);
        }
        for (const auto& [level, boxes] : walker.needs) {
            if (boxes.stood + boxes.seen > 0 && is_missing(player, level, boxes.stood > 0))
                stands.missing.push_back(level);
        }
        for (const plan::ItemId item : plan_.items.ids()) {
            if (can_press(item, flow::PlayerId{player})) stands.items.push_back(item);
        }
    }
    for (const LevelId level : plan_.levels.ids()) now.levels.push(loader.condition(level));
    now.memory = loader.ledger().now();
    for (const plan::MenuId menu : plan_.menus.ids()) {
        if (flow_.menu_open(menu)) now.menus.push_back(menu);
    }
    now.checkpoint = flow_.state().checkpoint;
    for (const flow::Flow::Waiting& each : flow_.waiting()) {
        now.running.push_back(
            {each.list, each.step, each.since, each.awaited, each.missing, each.until});
    }
    return now;
}

flow::Snapshot Simulation::snapshot() const {
    flow::Snapshot now;
    now.state = flow_.state();
    const loading::Levels& levels = keeper().loader.levels();
    for (const LevelId level : levels.asked()) {
        const loading::LevelNow& state = levels[level];
        now.levels.push_back({level, state.shown, state.wanted});
    }
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        now.players.push_back({route_.players[player].kind, walkers_[player].traveller.at,
                               triggers_.standing(flow::PlayerId{player})});
    }
    now.facts = flow_.facts().all();
    now.saved = flow_.facts().saved();
    for (const plan::TriggerId trigger : plan_.triggers.ids()) {
        if (triggers_.spent(trigger)) now.spent.push_back(trigger);
    }
    return now;
}

} // namespace hestrel::walk
