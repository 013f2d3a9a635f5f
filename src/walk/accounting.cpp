// What players are doing, what they need and miss, and why nothing goes on.

#include "plan/questions.hpp"
#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using plan::LevelId;
using plan::Micros;

Doing Simulation::doing(PlayerNumber player) const {
    const Walker& walker = walkers_[player];
    if (walker.traveller.going_since) return Doing::moving;
    if (machine_at(player).veils().hides_from(flow::PlayerId{player})) return Doing::veiled;
    if (walker.pausing) return Doing::pausing;
    if (!walker.done()) {
        const auto& what = walker.route->steps[walker.step].what;
        const bool waits_for_menu =
            std::holds_alternative<plan::PressStep>(what) && nothing_going_on();
        const bool waits_for_condition = std::holds_alternative<plan::UntilStep>(what) ||
                                         std::holds_alternative<plan::ExpectStep>(what);
        if (waits_for_condition || waits_for_menu || !has_turn(player)) return Doing::pausing;
    }
    return Doing::stalled;
}

void Simulation::boot_ended(Machine& machine) {
    if (!machine.record.boot) machine.record.boot = now() - machine.boots_since;
    machine.booted = true;
    went_on();
    machine.log(EventKind::boot_ended);
    for (const flow::PlayerId each : machine.setup().players) {
        const PlayerNumber player = each.value;
        Walker& walker = walkers_[player];
        walker.step_since = now();
        walker.accounting = true;
        walker.spell = {player, doing(player), now(), now()};
    }
}

/// Closes the present spell of each player who does something else now.
void Simulation::account() {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Walker& walker = walkers_[player];
        if (!walker.accounting) continue;
        Machine& machine = machine_at(player);
        const bool over = walker.done() || machine.over;
        if (!over && doing(player) == walker.spell.doing) continue;
        walker.spell.to = now();
        if (walker.spell.to > walker.spell.from) machine.record.spells.push_back(walker.spell);
        walker.spell = {player, doing(player), now(), now()};
        walker.accounting = !over;
    }
}

/// Whether a player would see that a level that it needs is not shown. Of a place with variants one
/// is missing, where none is shown.
bool Simulation::is_missing(PlayerNumber player, LevelId level, bool stood) const {
    const Walker& walker = walkers_[player];
    const loading::Loader& loader = machine_at(player).loader;
    const plan::GroupId variants = plan_.levels[level].variants;
    if (!variants) return !loader.shown(level);
    const auto needed = [&](LevelId other) {
        const auto found = walker.needs.find(other);
        if (found == walker.needs.end()) return false;
        return stood ? found->second.stood > 0 : found->second.seen > 0;
    };
    for (const LevelId other : plan_.groups[variants].levels) {
        if (loader.shown(other) || (other < level && needed(other))) return false;
    }
    return true;
}

/// Opens and closes what a player needs and misses, once an instant has run.
void Simulation::account_needs(PlayerNumber player) {
    Machine& machine = machine_at(player);
    if (!machine.booted || machine.loader.now() < now()) return;
    Record& record = machine.record;
    Walker& walker = walkers_[player];
    const bool hidden = machine.veils().hides_from(flow::PlayerId{player});
    const auto look = [&](LevelId level, bool stood, bool here) {
        const bool needed = here && !hidden;
        const bool missing = needed && is_missing(player, level, stood);
        auto found = walker.open.find({level, stood});
        if (found == walker.open.end()) {
            if (!needed) return;
            found = walker.open.emplace(std::pair{level, stood}, Walker::Open{}).first;
        }
        Walker::Open& open = found->second;
        const flow::Traveller& traveller = walker.traveller;
        if (needed && open.needed == 0) {
            record.needed.push_back(
                {player, level, stood, now(), Micros::never(), traveller.metres(now())});
            open.needed = record.needed.size();
        } else if (!needed && open.needed > 0) {
            record.needed[open.needed - 1].to = now();
            open.needed = 0;
        }
        if (missing && open.gap == 0) {
            record.gaps.push_back(
                {player, level, stood, now(), Micros::never(), traveller.at, traveller.path()});
            open.gap = record.gaps.size();
            machine.log(EventKind::gap_began, level.value, player);
            if (stood && several()) look_whether_known(machine, player, level);
        } else if (!missing && open.gap > 0) {
            record.gaps[open.gap - 1].to = now();
            open.gap = 0;
            machine.log(EventKind::gap_ended, level.value, player);
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

/// Whether a level in which a player stands was never asked for on its machine.
void Simulation::look_whether_known(Machine& machine, PlayerNumber player, LevelId level) const {
    const auto& loads = machine.loader.loads();
    const loading::PieceId piece = machine.catalogue().piece_of(level);
    const bool known = std::any_of(loads.begin(), loads.end(),
                                   [&](const auto& load) { return load.piece == piece; });
    if (!known) machine.record.unknown.push_back({now(), player, level});
}

void Simulation::look_at_rules() {
    const bool settled = nothing_going_on();
    for (const auto& machine : machines_) {
        if (machine->booted && machine->loader.now() == now())
            machine->look_at_rules(settled && !machine->loader.releasing());
    }
}

// --- the end -----------------------------------------------------------------

/// As of when the last step, of any route or list, could no longer go on.
Stuck Simulation::why_stuck() const {
    const std::vector<flow::Flow::Waiting> waiting = flow_.waiting();
    Micros since = went_on_at_;
    for (const flow::Flow::Waiting& each : waiting) since = std::max(since, each.since);
    if (!waiting.empty()) {
        const auto& last = *std::max_element(
            waiting.begin(), waiting.end(),
            [](const auto& one, const auto& other) { return one.since < other.since; });
        Stuck stuck;
        stuck.kind = last.list ? StuckKind::list_waits : StuckKind::boot_waits;
        stuck.since = since;
        stuck.list = last.list;
        stuck.step = last.step;
        stuck.awaited = last.awaited;
        stuck.levels = plan::all_looked_at(plan_, last.missing, last.missing_groups);
        stuck.lacking =
            plan::lacking(plan_, last.missing, last.missing_groups, [](LevelId) { return false; });
        stuck.until = last.until;
        if (several()) stuck.machine = last.on;
        if (last.until) stuck.unmet = flow_.unmet(last.until, last.firer);
        return stuck;
    }
    if (auto boots = why_boot_stuck(since)) return *boots;
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        if (walkers_[player].done()) continue;
        Stuck stuck = why_stuck(player);
        stuck.since = since;
        stuck.machine = machine_of(flow::PlayerId{player});
        return stuck;
    }
    return {};
}

/// Where a machine's own boot waits in vain.
std::optional<Stuck> Simulation::why_boot_stuck(Micros since) const {
    for (const auto& machine : machines_) {
        if (machine->keeps_game() || !machine->boots || machine->booted) continue;
        Stuck stuck;
        stuck.kind = StuckKind::boot_waits;
        stuck.since = std::max(since, machine->boots_since);
        stuck.levels = machine->boot_lacks();
        for (const LevelId level : stuck.levels) stuck.lacking.push_back(plan_.levels[level].name);
        stuck.machine = machine->number();
        return stuck;
    }
    return std::nullopt;
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
        stuck.menu_open =
            machine_at(player).menu_open(plan_.items[press->item].menu, flow::PlayerId{player});
        const plan::ConditionId when = plan_.items[press->item].when;
        if (when) stuck.unmet = flow_.unmet(when, flow::PlayerId{player});
    } else if (const auto* until = std::get_if<plan::UntilStep>(&what)) {
        stuck.kind = StuckKind::until;
        stuck.unmet = flow_.unmet(until->condition, flow::PlayerId{player});
    } else if (frozen(player)) {
        stuck.kind = StuckKind::frozen;
        for (const plan::MenuId menu : plan_.menus.ids()) {
            if (plan_.menus[menu].pauses && flow_.menu_open(menu, flow::PlayerId{player}))
                stuck.menus.push_back(menu);
        }
    } else if (traveller.at_gate) {
        stuck.kind = StuckKind::at_gate;
        stuck.gate = plan_.paths[traveller.path()].gate;
        const plan::Gate& gate = plan_.gates[stuck.gate];
        const loading::Loader& loader = machine_at(player).loader;
        const auto shown = [&](LevelId level) { return loader.shown(level); };
        stuck.lacking = plan::lacking(plan_, gate.needs, gate.any_of, shown);
        for (const LevelId level : plan::all_looked_at(plan_, gate.needs, gate.any_of)) {
            if (!shown(level)) stuck.levels.push_back(level);
        }
    }
    return stuck;
}

/// What happens over and over in a walk that has no end: what places players most often, else what
/// runs most often.
void Simulation::add_repeats(Record& record) {
    constexpr std::size_t often = 100;
    std::map<plan::ListId, std::pair<std::size_t, std::size_t>> by_list; // placed, run
    for (const Transition& each : record.transitions) {
        if (!each.list) continue;
        by_list[each.list].first += each.placed;
        ++by_list[each.list].second;
    }
    const auto most =
        std::max_element(by_list.begin(), by_list.end(), [](const auto& one, const auto& other) {
            return one.second < other.second;
        });
    if (most == by_list.end()) return;
    const auto [placed, run] = most->second;
    if (std::max(placed, run) < often) return;
    record.stuck->repeats = most->first;
    record.stuck->places = placed >= often;
    record.stuck->times = placed >= often ? placed : run;
}

} // namespace hestrel::walk
