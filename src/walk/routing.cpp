// What the players of a route do, step after step (docs/model.md sections 5 and 7).

#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using plan::Micros;
using plan::WaypointId;

namespace {

constexpr std::uint32_t nowhere = WaypointId::no_value;

} // namespace

bool Simulation::advance_routes() {
    if (!flow_.booted()) return false;
    bool any = pass_gates();
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) any = advance(player) || any;
    return any;
}

bool Simulation::advance(PlayerNumber player) {
    Walker& walker = walkers_[player];
    bool any = false;
    while (!walker.done() && !flow_.ended() && begin(player, walker.route->steps[walker.step])) {
        next_step(walker);
        any = true;
    }
    return any;
}

void Simulation::next_step(Walker& walker) const {
    ++walker.step;
    walker.step_begun = false;
    walker.step_since = now();
}

/// Begins a route step where it can begin; true where it is over.
bool Simulation::begin(PlayerNumber player, const plan::RouteStep& step) {
    Walker& walker = walkers_[player];
    if (const auto* press = std::get_if<plan::PressStep>(&step.what)) {
        const plan::Item& item = plan_.items[press->item];
        if (!flow_.menu_open(item.menu) || !flow_.holds(item.when, walker.traveller.speed_now()))
            return false;
        log(EventKind::pressed, press->item.value,
            static_cast<std::uint32_t>(record_.transitions.size() + 1));
        flow_.press(press->item, flow::PlayerId{player});
        return true;
    }
    if (const auto* pause = std::get_if<plan::PauseStep>(&step.what)) {
        if (walker.step_begun) return !walker.pausing;
        walker.step_begun = true;
        walker.pausing = true;
        plan_event(Planned::Kind::pause_end, now() + pause->time, player, 0);
        return false;
    }
    if (const auto* until = std::get_if<plan::UntilStep>(&step.what))
        return flow_.holds(until->condition, walker.traveller.speed_now());
    if (const auto* set = std::get_if<plan::RouteSetStep>(&step.what)) {
        flow_.set_facts(set->facts);
        return true;
    }
    if (const auto* go = std::get_if<plan::GoStep>(&step.what)) return begin_go(player, *go);
    return true; // a pick: it counts wherever it stands
}

bool Simulation::begin_go(PlayerNumber player, const plan::GoStep& go) {
    Walker& walker = walkers_[player];
    Traveller& traveller = walker.traveller;
    if (walker.step_begun) {
        if (traveller.on_the_way() || traveller.at != go.to) return false;
        traveller.goal = {};
        return true;
    }
    if (flow_.frozen() || !traveller.at) return false;
    if (traveller.at == go.to) return true;
    if (!set_out(plan_, ways_, traveller, go.to, go.speed)) return false;
    walker.step_begun = true;
    log(EventKind::set_out, player, go.to.value);
    begin_leg(player);
    return false;
}

std::size_t Simulation::pick(flow::PlayerId player, const plan::ChooseStep& choose) {
    Walker& walker = walkers_[player.value];
    for (std::size_t i = 0; i < walker.route->steps.size(); ++i) {
        const auto* pick = std::get_if<plan::PickStep>(&walker.route->steps[i].what);
        if (pick == nullptr || walker.picked[i]) continue;
        const auto branch =
            std::find_if(choose.branches.begin(), choose.branches.end(),
                         [&](const plan::Branch& each) { return each.name == pick->branch; });
        if (branch == choose.branches.end()) continue; // meant for another choice
        walker.picked[i] = true;
        return static_cast<std::size_t>(branch - choose.branches.begin());
    }
    return 0;
}

// --- moving
// ------------------------------------------------------------------------------------------

bool Simulation::gate_closed(const Traveller& traveller) const {
    const plan::GateId gate = plan_.paths[traveller.path()].gate;
    if (!gate) return false;
    const auto& needs = plan_.gates[gate].needs;
    return !std::all_of(needs.begin(), needs.end(),
                        [&](plan::LevelId level) { return loader_.shown(level); });
}

/// At the start of a leg: goes on, or waits at its gate.
void Simulation::begin_leg(PlayerNumber player) {
    Traveller& traveller = walkers_[player].traveller;
    if (gate_closed(traveller)) {
        traveller.at_gate = true;
        traveller.at = geometry::start_of(plan_, traveller.legs[traveller.leg]);
        log(EventKind::at_gate, player, plan_.paths[traveller.path()].gate.value);
        return;
    }
    traveller.at_gate = false;
    traveller.at = {};
    measure_piece(plan_, zones_, traveller);
    if (!flow_.frozen()) move(player);
}

bool Simulation::pass_gates() {
    bool any = false;
    if (flow_.frozen()) return false;
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        const Traveller& traveller = walkers_[player].traveller;
        if (!traveller.at_gate || gate_closed(traveller)) continue;
        log(EventKind::through_gate, player, plan_.paths[traveller.path()].gate.value);
        begin_leg(player);
        any = true;
    }
    return any;
}

void Simulation::move(PlayerNumber player) {
    Traveller& traveller = walkers_[player].traveller;
    traveller.going_since = now();
    for (const plan::TriggerId trigger : watches_.on_speed) to_judge_.insert(trigger);
    for (std::size_t i = traveller.next_crossing; i < traveller.crossings.size(); ++i) {
        plan_event(Planned::Kind::crossing, now() + traveller.crossings[i].after - traveller.walked,
                   player, static_cast<std::uint32_t>(i));
    }
    plan_event(Planned::Kind::piece_end, now() + traveller.duration - traveller.walked, player, 0);
}

void Simulation::stop_moving(PlayerNumber player) {
    Traveller& traveller = walkers_[player].traveller;
    if (!traveller.going_since) return;
    traveller.walked += now() - *traveller.going_since;
    traveller.going_since.reset();
    traveller.stopped_at = now();
    ++traveller.generation;
    for (const plan::TriggerId trigger : watches_.on_speed) to_judge_.insert(trigger);
}

void Simulation::piece_ended(PlayerNumber player) {
    Traveller& traveller = walkers_[player].traveller;
    traveller.going_since.reset();
    ++traveller.generation;
    for (const plan::TriggerId trigger : watches_.on_speed) to_judge_.insert(trigger);
    if (!next_piece(plan_, traveller)) {
        traveller.at = traveller.goal;
        traveller.legs.clear();
        log(EventKind::arrived, player, traveller.at.value);
        return;
    }
    if (traveller.corner == 0) {
        begin_leg(player);
    } else {
        measure_piece(plan_, zones_, traveller);
        move(player);
    }
}

void Simulation::freeze_changed(bool frozen) {
    log(frozen ? EventKind::frozen : EventKind::thawed);
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        if (frozen) {
            stop_moving(player);
        } else if (walkers_[player].traveller.on_the_way() && !walkers_[player].traveller.at_gate) {
            move(player);
        }
    }
}

void Simulation::place(flow::PlayerId who, WaypointId at) {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        if (who && who.value != player) continue;
        Walker& walker = walkers_[player];
        Traveller& traveller = walker.traveller;
        stop_moving(player);
        traveller.metres_before = traveller.metres(now());
        traveller.stopped_at = Micros::never(); // it is not there any more
        const WaypointId goal = traveller.on_the_way() ? traveller.goal : WaypointId{};
        traveller.legs.clear();
        traveller.goal = {};
        traveller.at_gate = false;
        traveller.at = at;
        log(EventKind::placed, player, at ? at.value : nowhere);
        stand_inside(player, zones_.around(plan_, at));
        if (!goal) continue;
        if (!at || !set_out(plan_, ways_, traveller, goal, traveller.speed)) {
            log(EventKind::go_dropped, player, goal.value);
            next_step(walker);
        } else if (!traveller.legs.empty()) {
            begin_leg(player);
        } // else it is there already; the route notices
    }
    came_anew();
}

} // namespace hestrel::walk
