// What the players of a route do, step after step (docs/model.md sections 5 and 7).

#include "plan/questions.hpp"
#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using plan::Micros;
using plan::WaypointId;

namespace {

constexpr std::uint32_t nowhere = WaypointId::no_value;

} // namespace

bool Simulation::advance_routes() {
    if (lingering()) return false;
    bool any = pass_gates();
    // Who does not hurry begins nothing while anybody is on the move: thawed, say, on the way.
    const bool moving = std::any_of(walkers_.begin(), walkers_.end(), [](const Walker& each) {
        return each.traveller.going_since.has_value();
    });
    if (route_.unhurried && moving) return any;
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        any = advance(player) || any;
        if (any && route_.unhurried) break;
    }
    return any;
}

bool Simulation::advance(PlayerNumber player) {
    Walker& walker = walkers_[player];
    bool any = false;
    while (!walker.done() && plays(player) && !lingering() && has_turn(player)) {
        const plan::RouteStep& step = walker.route->steps[walker.step];
        if (is_wanted(player, step) && !begin(player, step)) {
            walker.tried = true;
            break;
        }
        next_step(player);
        any = true;
        if (route_.unhurried) break; // what follows from it comes first
    }
    return any;
}

/// What a step's `when` says, judged once when its turn comes.
bool Simulation::is_wanted(PlayerNumber player, const plan::RouteStep& step) {
    Walker& walker = walkers_[player];
    if (!step.when || walker.wanted) return true;
    walker.wanted = flow_.holds(step.when, flow::PlayerId{player});
    if (!walker.wanted)
        log_of(player, EventKind::left_out, player, static_cast<std::uint32_t>(walker.step));
    else
        walker.picked[walker.step] = false;
    return walker.wanted;
}

/// Whether all steps of smaller turns are over.
bool Simulation::has_turn(PlayerNumber player) const {
    const Walker& walker = walkers_[player];
    const std::uint32_t turn = walker.route->steps[walker.step].turn;
    return std::all_of(walkers_.begin(), walkers_.end(), [&](const Walker& other) {
        return other.done() || other.route->steps[other.step].turn >= turn;
    });
}

void Simulation::next_step(PlayerNumber player) {
    Walker& walker = walkers_[player];
    machine_at(player).record.steps.push_back({player, walker.step, walker.step_since, now()});
    went_on();
    ++walker.step;
    walker.step_begun = false;
    walker.tried = false;
    walker.wanted = false;
    walker.pausing = false;
    walker.impatient = false;
    walker.step_since = now();
}

/// Begins a route step where it can begin; true where it is over.
bool Simulation::begin(PlayerNumber player, const plan::RouteStep& step) {
    Walker& walker = walkers_[player];
    if (const auto* item = std::get_if<plan::PressStep>(&step.what))
        return press(player, item->item);
    if (const auto* pause = std::get_if<plan::PauseStep>(&step.what)) {
        if (walker.step_begun) return !walker.pausing;
        walker.step_begun = true;
        walker.pausing = true;
        plan_event(Planned::Kind::pause_end, now() + pause->time, player,
                   static_cast<std::uint32_t>(walker.step));
        return false;
    }
    if (const auto* after = std::get_if<plan::AfterStep>(&step.what)) {
        const flow::PlayerId here{player};
        if (!flow_.menu_open(after->menu, here) || !plan_.menus[after->menu].after) return false;
        flow_.run_after(after->menu, flow_.open_for(after->menu, here));
        return true;
    }
    if (const auto* until = std::get_if<plan::UntilStep>(&step.what))
        return flow_.holds(until->condition, flow::PlayerId{player});
    if (const auto* set = std::get_if<plan::RouteSetStep>(&step.what)) {
        flow_.set_facts(set->facts, flow::PlayerId{player});
        return true;
    }
    if (const auto* go = std::get_if<plan::GoStep>(&step.what)) return begin_go(player, *go);
    if (const auto* expect = std::get_if<plan::ExpectStep>(&step.what))
        return begin_expect(player, *expect);
    if (std::holds_alternative<plan::LaunchStep>(step.what)) {
        launch();
        return true;
    }
    return true; // a pick: it counts wherever it stands
}

bool Simulation::begin_go(PlayerNumber player, const plan::GoStep& go) {
    Walker& walker = walkers_[player];
    flow::Traveller& traveller = walker.traveller;
    if (walker.step_begun) {
        // Frozen on the way for as long as nothing is done about it: what comes next may thaw it.
        if (route_.unhurried && traveller.on_the_way() && frozen(player)) return true;
        if (traveller.on_the_way() || traveller.at != go.to) return false;
        traveller.goal = {};
        return true;
    }
    if (frozen(player) || !traveller.at) return false;
    if (traveller.at == go.to) return true;
    if (go.along) {
        const plan::Path& path = plan_.paths[go.along];
        const geometry::Leg leg{go.along, path.to == go.to};
        if (geometry::start_of(plan_, leg) != traveller.at) return false;
        set_out_along(plan_, traveller, leg, go.speed);
    } else {
        const auto& way = ground_.way(traveller.at, go.to);
        if (!way) return false;
        set_out(plan_, *way, traveller, go.to, go.speed);
    }
    walker.step_begun = true;
    log_of(player, EventKind::set_out, player, go.to.value);
    begin_leg(player);
    return false;
}

/// Judged when its turn comes, and until its time is over.
bool Simulation::begin_expect(PlayerNumber player, const plan::ExpectStep& expect) {
    Walker& walker = walkers_[player];
    if (!expect.condition) {
        add_expectation(player, Expectation::Outcome::kept);
        return true;
    }
    const bool holds = flow_.holds(expect.condition, flow::PlayerId{player});
    const bool asks_device =
        plan_.conditions[expect.condition].asks({plan::Operation::memory, plan::Operation::queued});
    // What it may wait for until then can still come once reads and workers take their pieces.
    const bool over = !expect.within || (walker.impatient && (dispatched_ || !asks_device));
    if (holds || over) {
        add_expectation(player, holds ? Expectation::Outcome::held : Expectation::Outcome::failed);
        return true;
    }
    if (!walker.step_begun) {
        walker.step_begun = true;
        plan_event(Planned::Kind::patience, now() + *expect.within, player,
                   static_cast<std::uint32_t>(walker.step));
    }
    return false;
}

void Simulation::add_expectation(PlayerNumber player, Expectation::Outcome outcome) {
    using Outcome = Expectation::Outcome;
    const Walker& walker = walkers_[player];
    const Machine& machine = machine_at(player);
    Expectation& added = machine_at(player).record.expectations.emplace_back();
    added.player = player;
    added.step = walker.step;
    added.outcome = outcome;
    added.since = outcome == Outcome::never_reached ? now() : walker.step_since;
    added.at = now();
    added.place = walker.traveller.at;
    added.path = walker.traveller.path();
    if (outcome == Outcome::kept) {
        for (const plan::LevelId level : plan_.levels.ids()) {
            if (machine.loader.shown(level)) added.shown.push_back(level);
        }
        added.facts = flow_.facts().all_for(flow::PlayerId{player});
        return;
    }
    if (outcome == Outcome::never_reached) return;
    log_of(player, outcome == Outcome::held ? EventKind::expected : EventKind::not_as_expected,
           player, static_cast<std::uint32_t>(walker.step));
    added.values =
        flow_.leaf_values(walker.at_step<plan::ExpectStep>()->condition, flow::PlayerId{player});
}

/// Where nothing is left to happen but that an `expect` has waited long enough, it has.
bool Simulation::lose_patience() {
    const auto has_more = [&](const auto& machine) {
        return !machine->over && machine->loader.next_instant() != Micros::never();
    };
    if (agenda_.empty() || std::any_of(machines_.begin(), machines_.end(), has_more)) return false;
    const bool nothing_else = std::all_of(walkers_.begin(), walkers_.end(), [](const Walker& each) {
        return !each.traveller.going_since && !each.pausing;
    });
    if (!nothing_else) return false;
    std::vector<Planned> waiting;
    for (; next_planned().at != Micros::never(); agenda_.pop()) waiting.push_back(agenda_.top());
    for (const Planned& each : waiting) agenda_.push(each);
    const bool only_waiting = std::all_of(waiting.begin(), waiting.end(), [](const Planned& each) {
        return each.kind == Planned::Kind::patience;
    });
    if (waiting.empty() || !only_waiting) return false;
    walkers_[waiting.front().of].impatient = true;
    settle();
    run_instant(now());
    return true;
}

/// Whether anything came of asking routes again that wait for what hangs on reads and memory.
bool Simulation::ask_routes_again() {
    const bool any_asks = std::any_of(walkers_.begin(), walkers_.end(), [&](const Walker& walker) {
        const auto* until = walker.at_step<plan::UntilStep>();
        const auto* expect = walker.at_step<plan::ExpectStep>();
        const plan::ConditionId condition = until != nullptr    ? until->condition
                                            : expect != nullptr ? expect->condition
                                                                : plan::ConditionId{};
        return condition &&
               plan_.conditions[condition].asks({plan::Operation::memory, plan::Operation::queued});
    });
    if (!any_asks) return false;
    const auto steps = [&] {
        std::size_t sum = 0;
        for (const auto& machine : machines_) sum += machine->record.steps.size();
        return sum;
    };
    const std::size_t before = steps();
    settle();
    return steps() > before;
}

/// Whose turn never came, or who still waited, has failed.
void Simulation::add_never_reached() {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Walker& walker = walkers_[player];
        for (; !walker.done(); ++walker.step, walker.step_begun = false) leave_step(player);
    }
    for (const auto& machine : machines_) {
        Record& record = machine->record;
        for (Expectation& each : record.expectations) {
            each.since = std::min(each.since, record.end);
            each.at = std::min(each.at, record.end);
        }
    }
}

std::size_t Simulation::pick(flow::PlayerId firer, const plan::ChooseStep& choose) {
    if (script_ != nullptr) return chosen_branch(choose);
    const flow::PlayerId player = firer ? firer : flow::PlayerId{0};
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

// --- moving ------------------------------------------------------------------

bool Simulation::gate_closed(PlayerNumber player) const {
    const plan::GateId gate = plan_.paths[walkers_[player].traveller.path()].gate;
    const loading::Loader& loader = machine_at(player).loader;
    return gate && !plan::is_open(plan_, plan_.gates[gate],
                                  [&](plan::LevelId level) { return loader.shown(level); });
}

/// At the start of a leg: goes on, or waits at its gate.
void Simulation::begin_leg(PlayerNumber player) {
    flow::Traveller& traveller = walkers_[player].traveller;
    if (gate_closed(player)) {
        traveller.at_gate = true;
        traveller.at = geometry::start_of(plan_, traveller.legs[traveller.leg]);
        log_of(player, EventKind::at_gate, player, plan_.paths[traveller.path()].gate.value);
        return;
    }
    traveller.at_gate = false;
    traveller.at = {};
    moved(player);
    measure(player);
    if (!held(player)) move(player);
}

/// What the player's present piece of way crosses, and when.
void Simulation::measure(PlayerNumber player) {
    flow::Traveller& traveller = walkers_[player].traveller;
    measure_piece(plan_, ground_.zones(), ground_.met_by(plan_, traveller), walkers_[player].inside,
                  traveller);
}

bool Simulation::pass_gates() {
    bool any = false;
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        if (!plays(player) || held(player)) continue;
        const flow::Traveller& traveller = walkers_[player].traveller;
        if (!traveller.at_gate || gate_closed(player)) continue;
        log_of(player, EventKind::through_gate, player, plan_.paths[traveller.path()].gate.value);
        begin_leg(player);
        any = true;
    }
    return any;
}

void Simulation::move(PlayerNumber player) {
    flow::Traveller& traveller = walkers_[player].traveller;
    traveller.going_since = now();
    moved(player);
    for (std::size_t i = traveller.next_crossing; i < traveller.crossings.size(); ++i) {
        plan_event(Planned::Kind::crossing, now() + traveller.crossings[i].after - traveller.walked,
                   player, static_cast<std::uint32_t>(i));
    }
    plan_event(Planned::Kind::piece_end, now() + traveller.duration - traveller.walked, player, 0);
}

void Simulation::stop_moving(PlayerNumber player) {
    flow::Traveller& traveller = walkers_[player].traveller;
    if (!traveller.going_since) return;
    came_to_rest(player);
    traveller.stopped_at = now();
}

/// What a player went since it last set off is over.
void Simulation::came_to_rest(PlayerNumber player) {
    flow::Traveller& traveller = walkers_[player].traveller;
    const plan::Vec3 start = traveller.position();
    const Micros since = *traveller.going_since;
    traveller.walked += now() - since;
    traveller.going_since.reset();
    machine_at(player).record.tracks.push_back(
        {player, traveller.path(), since, now(), start, traveller.position()});
    ++traveller.generation;
    went_on();
    moved(player);
}

void Simulation::piece_ended(PlayerNumber player) {
    flow::Traveller& traveller = walkers_[player].traveller;
    came_to_rest(player);
    if (!next_piece(plan_, traveller)) {
        traveller.at = traveller.goal;
        traveller.legs.clear();
        log_of(player, EventKind::arrived, player, traveller.at.value);
        return;
    }
    if (traveller.corner == 0) {
        begin_leg(player);
    } else {
        measure(player);
        move(player);
    }
}

void Simulation::freeze_changed(flow::PlayerId who, bool frozen) {
    triggers_.freezes_changed();
    order({}, {}, [this, who, frozen](Machine& machine) { freeze_here(machine, who, frozen); });
}

void Simulation::freeze_here(Machine& machine, flow::PlayerId who, bool frozen) {
    if (!machine.freeze(who, frozen)) return;
    if (!frozen && lingering()) return; // sets off again once all has settled
    for (const flow::PlayerId each : machine.setup().players) {
        if (who && who != each) continue;
        const PlayerNumber player = each.value;
        flow::Traveller& traveller = walkers_[player].traveller;
        if (frozen) {
            stop_moving(player);
            if (route_.unhurried) traveller.stopped_at = Micros::never();
        } else if (traveller.on_the_way() && !traveller.at_gate) {
            move(player);
        }
    }
}

/// Nobody hurries: stops everyone while anything is going on, and lets them go on after that.
void Simulation::linger() {
    if (!route_.unhurried) return;
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        flow::Traveller& traveller = walkers_[player].traveller;
        if (held(player)) {
            if (!traveller.going_since) continue;
            stop_moving(player);
            traveller.stopped_at = Micros::never(); // what comes next comes when it goes on
        } else if (traveller.on_the_way() && !traveller.at_gate && !traveller.going_since) {
            move(player);
        }
    }
}

void Simulation::place(flow::PlayerId who, WaypointId at, flow::RunId run) {
    went_on();
    if (script_ != nullptr) { // nobody is anywhere
        place_by_script(who);
        return;
    }
    const auto tell = [&](Machine& machine, OrderNumber number) {
        for (const flow::PlayerId player : machine.setup().players) {
            if (who && who != player) continue;
            Walker& walker = walkers_[player.value];
            walker.known = {at, 0};
            walker.placed_by = number;
            triggers_.stand_inside(player, ground_.zones().around(plan_, at));
        }
    };
    order({}, run, tell, [this, who, at, run](Machine& machine) {
        if (machine.booted || machine.keeps_game()) place_here(machine, who, at, run);
    });
}

void Simulation::place_here(Machine& machine, flow::PlayerId who, WaypointId at, flow::RunId run) {
    for (const flow::PlayerId player : machine.setup().players) {
        if (!who || who == player) place_one(player.value, at, run);
    }
    machine.near.rejudge();
}

void Simulation::place_one(PlayerNumber player, WaypointId at, flow::RunId run) {
    Walker& walker = walkers_[player];
    Machine& machine = machine_at(player);
    flow::Traveller& traveller = walker.traveller;
    stop_moving(player);
    traveller.metres_before = traveller.metres(now());
    traveller.stopped_at = Micros::never(); // it is not there any more
    const WaypointId goal = traveller.on_the_way() ? traveller.goal : WaypointId{};
    if (Transition* by = machine.transition(run)) ++by->placed;
    traveller.legs.clear();
    traveller.goal = {};
    traveller.at_gate = false;
    traveller.at = at;
    walker.told = walker.movement();
    machine.log(EventKind::placed, player, at ? at.value : nowhere);
    stand_inside(player, ground_.zones().around(plan_, at));
    if (goal && at != goal) {
        const bool reachable = at && !route_.unhurried && ground_.way(at, goal).has_value();
        machine.log(reachable ? EventKind::go_ended : EventKind::go_dropped, player, goal.value);
        if (reachable) machine.record.ended_goes.push_back({now(), player, walker.step, run.value});
    }
    if (walker.going()) next_step(player);
}

} // namespace hestrel::walk
