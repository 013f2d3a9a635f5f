// Several machines: orders of the game's keeper on their way, news of what machines do, joining
// (docs/model.md section 11). Where a machine has no delay, all of it happens at once.

#include "plan/questions.hpp"
#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using flow::LevelChange;
using flow::PlayerId;
using plan::LevelId;
using plan::Micros;
using plan::WaypointId;

// --- orders ------------------------------------------------------------------

void Simulation::send(Machine& machine, std::function<void()> what) {
    machine.record.orders.push_back({now(), Micros::never()});
    machine.orders.push_back({machine.record.orders.size() - 1, std::move(what)});
    plan_event(Planned::Kind::order, now() + machine.setup().delay, machine.number().value, 0);
}

void Simulation::carry_out(Machine& machine) {
    take_news(machine, false); // what it did before that
    const Message order = std::move(machine.orders.front());
    machine.orders.pop_front();
    machine.record.orders[order.number].reached = now();
    ++machine.carried_out;
    order.arrives();
    take_news(machine, true);
}

// --- news --------------------------------------------------------------------

/// What a machine does the keeper knows after its delay; at once where there is none.
void Simulation::tell_keeper(Machine& machine, std::function<void()> what) {
    if (machine.near_keeper()) return what();
    machine.messages.push_back({0, std::move(what)});
    plan_event(Planned::Kind::message, now() + machine.setup().delay, machine.number().value, 0);
}

/// Level by level. `by_order`: what an order has just let go the keeper knows since it gave it.
void Simulation::take_news(Machine& machine, bool by_order) {
    for (const loading::LevelEvent& event : machine.take_changes()) {
        if (machine.near_keeper()) {
            add_news(machine, event.level, event.change);
            continue;
        }
        const bool lets_go =
            event.change == LevelChange::hidden || event.change == LevelChange::unloaded;
        if (by_order && lets_go) continue;
        tell(machine, event);
    }
}

void Simulation::tell(Machine& machine, loading::LevelEvent event) {
    tell_keeper(machine, [this, &machine, event, after = machine.carried_out] {
        if (machine.known.learn(event.level, event.change, after))
            add_news(machine, event.level, event.change);
    });
}

/// A level has changed on a machine, as the keeper knows it.
void Simulation::add_news(const Machine& machine, LevelId level, LevelChange change) {
    flow::LevelEvent event{level, change};
    if (several()) {
        event.on = machine.number();
        const bool counts = !machine.setup().headless;
        if (change == LevelChange::shown)
            event.of_all = counts && ++shown_on_count_[level] == 1;
        else if (change == LevelChange::hidden)
            event.of_all = counts && --shown_on_count_[level] == 0;
        else if (change == LevelChange::unloaded)
            event.of_all = std::none_of(machines_.begin(), machines_.end(), [&](const auto& each) {
                return known_asked(*each).contains(level);
            });
    }
    news_.push_back(event);
}

std::vector<flow::LevelEvent> Simulation::take_level_events() {
    for (const auto& machine : machines_) take_news(*machine, false);
    if (several()) {
        // Several let it go at once: the last does for all.
        std::set<LevelId> gone;
        for (auto event = news_.rbegin(); event != news_.rend(); ++event) {
            if (event->change == LevelChange::unloaded && event->of_all)
                event->of_all = gone.insert(event->level).second;
        }
    }
    for (const flow::LevelEvent& event : news_) triggers_.level_changed(event);
    return std::exchange(news_, {});
}

// --- joining -----------------------------------------------------------------

/// Its time has come, but a switch comes first.
void Simulation::join_when_due(Machine& machine) {
    if (flow_.ended()) return;
    if (flow_.in_switch()) {
        machine.boot_waits = true;
    } else {
        begin_boot(machine);
    }
}

/// Its boot begins, or begins anew. All that it learns then it learns at once; what was sent before
/// does not reach it any more.
void Simulation::begin_boot(Machine& machine) {
    take_news(machine, false);
    ++machine.generation;
    machine.orders.clear();
    machine.carried_out = ++machine.sent;
    machine.begin(now());
    const loading::Levels& keepers = keeper().loader.levels();
    machine.learn_levels(keepers);
    machine.learn_game(flow_.state().open_menus);
    if (!machine.near_keeper()) {
        std::vector<flow::LevelEvent> gone;
        const std::set<LevelId> before = machine.known.asked();
        for (const LevelId level : before) {
            if (!keepers[level].asked)
                machine.known.tell_unloaded(level, machine.sent, gone);
            else if (!keepers[level].wanted)
                machine.known.tell_hidden(level, machine.sent, gone);
        }
        for (const LevelId level : keepers.asked()) machine.known.tell_asked(level, machine.sent);
        for (const flow::LevelEvent& event : gone) add_news(machine, event.level, event.change);
    }
    take_news(machine, true);
    if (!machine.near_keeper()) tell_again(machine);
}

/// What it has it tells anew: an order that did not reach it any more may have said otherwise.
void Simulation::tell_again(Machine& machine) {
    for (const LevelId level : machine.loader.levels().asked()) {
        if (machine.loader.loaded(level)) tell(machine, {level, LevelChange::ready});
        if (machine.loader.shown(level)) tell(machine, {level, LevelChange::shown});
    }
}

bool Simulation::end_boots() {
    bool any = false;
    for (const auto& machine : machines_) {
        if (machine->keeps_game() || machine->over || !machine->boot_is_over()) continue;
        end_boot(*machine);
        any = true;
    }
    return any;
}

WaypointId Simulation::where_to_join(const Machine& machine) const {
    const auto checkpoint = flow_.state().checkpoint;
    if (checkpoint && machine.loader.shown(checkpoint->level)) return checkpoint->at;
    return led_to_.value_or(route_.start.at);
}

void Simulation::end_boot(Machine& machine) {
    boot_ended(machine);
    const WaypointId at = where_to_join(machine);
    place_here(machine, {}, at, {});
    tell_keeper(machine,
                [this, &machine, at, after = machine.carried_out] { join(machine, at, after); });
}

/// The keeper knows that its boot has ended, and where its players are.
void Simulation::join(Machine& machine, WaypointId at, OrderNumber after) {
    machine.joined = true;
    log(EventKind::joined, machine.number().value);
    triggers_.freezes_changed();
    if (machine.near_keeper()) return;
    for (const PlayerId player : machine.setup().players) {
        Walker& walker = walkers_[player.value];
        if (after < walker.placed_by) continue; // and will be elsewhere
        walker.known = {at, 0};
        triggers_.stand_inside(player, ground_.zones().around(plan_, at));
    }
}

// --- switches ----------------------------------------------------------------

void Simulation::switch_begins(LevelId to, const std::vector<LevelId>& family, flow::RunId run) {
    const auto tell = [](Machine& machine, OrderNumber number) { machine.switch_order = number; };
    order({}, run, tell,
          [to, family, run](Machine& machine) { machine.begin_switch(to, family, run); });
}

void Simulation::switch_arrives(WaypointId at) {
    led_to_ = at;
    order({}, {}, [](Machine& machine) { machine.arrive_switch(); });
}

void Simulation::switch_ended() {
    order({}, {}, [](Machine& machine) { machine.end_switch(); });
    for (const auto& machine : machines_) {
        const bool boots_still = machine->boots && !machine->booted;
        if (!machine->keeps_game() && (machine->boot_waits || boots_still)) begin_boot(*machine);
    }
}

/// How much longer the wait of a run took than each machine needed for it.
void Simulation::waited(flow::RunId run, const std::vector<flow::Waited>& machines) {
    flow::Waited last;
    for (const flow::Waited& each : machines) {
        if (!each.known) { // the wait gave up on it
            last = each;
            break;
        }
        if (!last.known || *each.known > *last.known) last = each;
    }
    for (const flow::Waited& each : machines) {
        if (!each.known || *each.known == now()) continue;
        Record& record = machines_[each.machine.value]->record;
        auto found = std::find_if(record.waited.begin(), record.waited.end(),
                                  [&](const auto& one) { return one.transition == run.value; });
        if (found == record.waited.end())
            found = record.waited.insert(found, WaitedFor{run.value, {}, {}, {}, {}});
        const Micros time = now() - *each.known;
        found->waited += time;
        if (time <= found->longest) continue;
        found->longest = time;
        found->whom = last.machine;
        found->at = now();
    }
}

// --- players -----------------------------------------------------------------

/// A player gets into a zone, or out of it, on its machine.
void Simulation::cross_here(PlayerNumber player, flow::ZoneId id, bool enters) {
    Walker& walker = walkers_[player];
    Machine& machine = machine_at(player);
    const flow::Zone& zone = ground_.zones()[id];
    if (enters)
        walker.inside.insert(id);
    else
        walker.inside.erase(id);
    const std::uint32_t by = enters ? 1 : static_cast<std::uint32_t>(-1);
    switch (zone.kind) {
    case flow::Zone::Kind::trigger:
        machine.log(enters ? EventKind::entered : EventKind::left, zone.index, player);
        break;
    case flow::Zone::Kind::area: walker.needs[zone.level()].stood += by; break;
    case flow::Zone::Kind::seen: walker.needs[zone.level()].seen += by; break;
    case flow::Zone::Kind::near_load:
    case flow::Zone::Kind::near_unload:
        if (enters)
            machine.near.enter(PlayerId{player}, id);
        else
            machine.near.leave(PlayerId{player}, id);
        break;
    }
}

void Simulation::cross(PlayerNumber player, flow::ZoneId zone, bool enters) {
    cross_here(player, zone, enters);
    Machine& machine = machine_at(player);
    tell_keeper(machine, [this, player, zone, enters, after = machine.carried_out] {
        if (after < walkers_[player].placed_by) return; // it is elsewhere since
        if (enters)
            triggers_.enter(PlayerId{player}, zone);
        else
            triggers_.leave(PlayerId{player}, zone);
    });
}

/// It is somewhere else now.
void Simulation::stand_inside(PlayerNumber player, const std::set<flow::ZoneId>& inside) {
    const std::set<flow::ZoneId> before = walkers_[player].inside;
    for (const flow::ZoneId zone : before) {
        if (!inside.contains(zone)) cross_here(player, zone, false);
    }
    for (const flow::ZoneId zone : inside) {
        if (!before.contains(zone)) cross_here(player, zone, true);
    }
    if (machine_at(player).near_keeper()) triggers_.stand_inside(PlayerId{player}, inside);
}

/// What the keeper knows of how players move goes by what has arrived.
void Simulation::tell_movement() {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Machine& machine = machine_at(player);
        Walker& walker = walkers_[player];
        if (machine.near_keeper() || machine.over || walker.movement() == walker.told) continue;
        walker.told = walker.movement();
        tell_keeper(machine, [this, player, told = walker.told, after = machine.carried_out] {
            if (after < walkers_[player].placed_by) return;
            walkers_[player].known = told;
            triggers_.movement_changed();
        });
    }
}

/// A player presses an item, where it can; the keeper judges that again.
bool Simulation::press(PlayerNumber player, plan::ItemId item) {
    Machine& machine = machine_at(player);
    if (machine.near_keeper()) {
        if (!can_press(item, PlayerId{player})) return false;
        machine.log(EventKind::pressed, item.value, flow_.next_run().value, PlayerId{player});
        flow_.press(item, PlayerId{player});
        return true;
    }
    const plan::Item& pressed = plan_.items[item];
    if (!machine.menu_open(pressed.menu, PlayerId{player}) ||
        !flow_.holds(pressed.when, PlayerId{player}))
        return false;
    machine.log(EventKind::pressed, item.value, flow::RunId{}.value, PlayerId{player});
    if (!pressed.stays) machine.close_here(pressed.menu, PlayerId{player});
    tell_keeper(machine, [this, player, item] {
        if (!flow_.ended() && can_press(item, PlayerId{player}))
            flow_.press(item, PlayerId{player});
        else
            log(EventKind::press_lost, item.value, player);
    });
    return true;
}

// --- the end -----------------------------------------------------------------

/// The session is over on the keeper's machine, and on the others once they know.
void Simulation::end_session() {
    order({}, {}, [this](Machine& machine) {
        if (!machine.keeps_game()) machine.log(EventKind::session_ended, flow::RunId{}.value);
        machine.over = true;
        machine.over_since = now();
        for (const PlayerId player : machine.setup().players) stop_moving(player.value);
    });
}

bool Simulation::session_over() const {
    return flow_.ended() && std::all_of(machines_.begin(), machines_.end(), [](const auto& each) {
               return each->over || !each->boots;
           });
}

} // namespace hestrel::walk
