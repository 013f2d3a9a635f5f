// What players are doing, what they need and miss, and why nothing goes on.

#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using plan::LevelId;
using plan::Micros;

Doing Simulation::doing(PlayerNumber player) const {
    const Walker& walker = walkers_[player];
    if (walker.traveller.going_since) return Doing::moving;
    if (walker.pausing) return Doing::pausing;
    if (!walker.done()) {
        const auto& what = walker.route->steps[walker.step].what;
        const bool waits_for_menu =
            std::holds_alternative<plan::PressStep>(what) && nothing_going_on();
        if (std::holds_alternative<plan::UntilStep>(what) || waits_for_menu) return Doing::pausing;
    }
    return flow_.veils().hides_from(flow::PlayerId{player}) ? Doing::veiled : Doing::stalled;
}

void Simulation::boot_ended() {
    record_.boot = now();
    log(EventKind::boot_ended);
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Walker& walker = walkers_[player];
        walker.step_since = now();
        walker.accounting = true;
        walker.spell = {player, doing(player), now(), now()};
    }
    triggers_.booted();
}

/// Closes the present spell of each player who does something else now.
void Simulation::account() {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Walker& walker = walkers_[player];
        if (!walker.accounting) continue;
        if (!walker.done() && doing(player) == walker.spell.doing) continue;
        walker.spell.to = now();
        if (walker.spell.to > walker.spell.from) record_.spells.push_back(walker.spell);
        walker.spell = {player, doing(player), now(), now()};
        walker.accounting = !walker.done();
    }
}

/// Opens and closes what a player needs and misses, once an instant has run.
void Simulation::account_needs(PlayerNumber player) {
    if (!record_.boot) return;
    Walker& walker = walkers_[player];
    const bool hidden = flow_.veils().hides_from(flow::PlayerId{player});
    const auto look = [&](LevelId level, bool stood, bool here) {
        const bool needed = here && !hidden;
        const bool missing = needed && !loader_.shown(level);
        auto found = walker.open.find({level, stood});
        if (found == walker.open.end()) {
            if (!needed) return;
            found = walker.open.emplace(std::pair{level, stood}, Walker::Open{}).first;
        }
        Walker::Open& open = found->second;
        const flow::Traveller& traveller = walker.traveller;
        if (needed && open.needed == 0) {
            record_.needed.push_back(
                {player, level, stood, now(), Micros::never(), traveller.metres(now())});
            open.needed = record_.needed.size();
        } else if (!needed && open.needed > 0) {
            record_.needed[open.needed - 1].to = now();
            open.needed = 0;
        }
        if (missing && open.gap == 0) {
            record_.gaps.push_back(
                {player, level, stood, now(), Micros::never(), traveller.at, traveller.path()});
            open.gap = record_.gaps.size();
            log(EventKind::gap_began, level.value, player);
        } else if (!missing && open.gap > 0) {
            record_.gaps[open.gap - 1].to = now();
            open.gap = 0;
            log(EventKind::gap_ended, level.value, player);
        }
        if (open.needed == 0 && open.gap == 0) walker.open.erase(found);
    };
    for (auto each = walker.needs.begin(); each != walker.needs.end();) {
        const auto [level, boxes] = *each;
        look(level, true, boxes.stood > 0);
        // Who stands in a level does not look at it from elsewhere.
        look(level, false, boxes.seen > 0 && boxes.stood == 0);
        each = boxes.stood == 0 && boxes.seen == 0 ? walker.needs.erase(each) : std::next(each);
    }
}

// --- the end -----------------------------------------------------------------

Stuck Simulation::why_stuck() const {
    const std::vector<flow::Flow::Waiting> waiting = flow_.waiting();
    Micros routes_since;
    for (const Walker& walker : walkers_) {
        if (!walker.done()) routes_since = std::max(routes_since, walker.step_since);
    }
    if (!waiting.empty()) {
        const auto& last = *std::max_element(
            waiting.begin(), waiting.end(),
            [](const auto& one, const auto& other) { return one.since < other.since; });
        Stuck stuck;
        stuck.kind = last.list ? StuckKind::list_waits : StuckKind::boot_waits;
        stuck.since = std::max(routes_since, last.since);
        stuck.list = last.list;
        stuck.step = last.step;
        stuck.awaited = last.awaited;
        stuck.levels = last.missing;
        stuck.until = last.until;
        return stuck;
    }
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        if (walkers_[player].done()) continue;
        Stuck stuck = why_stuck(player);
        stuck.since = routes_since;
        return stuck;
    }
    return {};
}

Stuck Simulation::why_stuck(PlayerNumber player) const {
    const Walker& walker = walkers_[player];
    const flow::Traveller& traveller = walker.traveller;
    const auto& what = walker.route->steps[walker.step].what;
    Stuck stuck;
    stuck.player = player;
    stuck.step = walker.step;
    stuck.nowhere = !traveller.at;
    stuck.kind = StuckKind::cannot_go;
    if (traveller.going_since || walker.pausing) {
        stuck.kind = StuckKind::out_of_time; // it only needs more of it
    } else if (const auto* press = std::get_if<plan::PressStep>(&what)) {
        stuck.kind = StuckKind::cannot_press;
        stuck.menu_open = flow_.menu_open(plan_.items[press->item].menu);
    } else if (std::holds_alternative<plan::UntilStep>(what)) {
        stuck.kind = StuckKind::until;
    } else if (flow_.frozen()) {
        stuck.kind = StuckKind::frozen;
        for (const plan::MenuId menu : plan_.menus.ids()) {
            if (plan_.menus[menu].pauses && flow_.menu_open(menu)) stuck.menus.push_back(menu);
        }
    } else if (traveller.at_gate) {
        stuck.kind = StuckKind::at_gate;
        stuck.gate = plan_.paths[traveller.path()].gate;
        for (const LevelId level : plan_.gates[stuck.gate].needs) {
            if (!loader_.shown(level)) stuck.levels.push_back(level);
        }
    }
    return stuck;
}

} // namespace hestrel::walk
