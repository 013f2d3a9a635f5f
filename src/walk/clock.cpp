// The clock of a walk: what happens in an instant, and in which order (docs/model.md section 3).

#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using loading::Due;
using plan::Micros;

void Simulation::plan_event(Planned::Kind kind, Micros at, std::uint32_t of, std::uint32_t index) {
    std::uint32_t generation = 0;
    if (kind == Planned::Kind::crossing || kind == Planned::Kind::piece_end)
        generation = walkers_[of].traveller.generation;
    else if (kind == Planned::Kind::order)
        generation = machines_[of]->generation;
    agenda_.push({{at, sequence_.next()}, kind, of, generation, index});
}

bool Simulation::holds(const Planned& event) const {
    const auto plays_still = [&] { return !machine_at(event.of).over; };
    switch (event.kind) {
    case Planned::Kind::alarm: return flow_.awaits(event.index);
    case Planned::Kind::parcel:
    case Planned::Kind::message:
    case Planned::Kind::cue:
    case Planned::Kind::join: return true;
    case Planned::Kind::order: return event.generation == machines_[event.of]->generation;
    case Planned::Kind::pause_end:
    case Planned::Kind::patience: return plays_still() && event.index == walkers_[event.of].step;
    case Planned::Kind::crossing: {
        // What it gets into in the very instant in which it is stopped, it got into.
        const flow::Traveller& traveller = walkers_[event.of].traveller;
        const bool just_stopped =
            event.generation + 1 == traveller.generation && traveller.stopped_at == event.due.at;
        return plays_still() && event.index >= traveller.next_crossing &&
               (event.generation == traveller.generation || just_stopped);
    }
    case Planned::Kind::piece_end:
        return plays_still() && event.generation == walkers_[event.of].traveller.generation;
    }
    return false;
}

Due Simulation::next_planned() {
    while (!agenda_.empty() && !holds(agenda_.top())) agenda_.pop();
    return agenda_.empty() ? Due{} : agenda_.top().due;
}

Due Simulation::next_loading() const {
    Due due;
    for (const auto& machine : machines_) {
        if (!machine->over) due = std::min(due, machine->loader.next());
    }
    return due;
}

Micros Simulation::next_instant() {
    Micros next = next_planned().at;
    for (const auto& machine : machines_) {
        if (!machine->over) next = std::min(next, machine->loader.next_instant());
    }
    return next;
}

void Simulation::happen(const Planned& event) {
    switch (event.kind) {
    case Planned::Kind::crossing: {
        flow::Traveller& traveller = walkers_[event.of].traveller;
        traveller.next_crossing = event.index + std::size_t{1};
        const flow::Crossing crossing = traveller.crossings[event.index];
        cross(event.of, crossing.zone, crossing.enters);
        break;
    }
    case Planned::Kind::piece_end: piece_ended(event.of); break;
    case Planned::Kind::pause_end: walkers_[event.of].pausing = false; break;
    case Planned::Kind::patience: walkers_[event.of].impatient = true; break;
    case Planned::Kind::alarm: flow_.wake(event.index); break;
    case Planned::Kind::parcel: arrive_parcel(event.index); break;
    case Planned::Kind::join: join_when_due(*machines_[event.of]); break;
    case Planned::Kind::cue: call_cue(event.index); break;
    case Planned::Kind::order: carry_out(*machines_[event.of]); break;
    case Planned::Kind::message: {
        const Message message = std::move(machines_[event.of]->messages.front());
        machines_[event.of]->messages.pop_front();
        if (!flow_.ended()) message.arrives();
        break;
    }
    }
}

void Simulation::arrive_parcel(std::uint32_t number) {
    for (const loading::PieceId piece : parcels_[number].pieces) {
        keeper().loader.deliver(piece);
        const loading::Catalogue& catalogue = keeper().catalogue();
        if (catalogue.is_level(piece)) triggers_.delivered(catalogue.level_of(piece));
    }
    log(EventKind::parcel_arrived, number);
}

/// Runs the first event that is due at `at`; false where none is left. What loaders do in the same
/// moment they do together, machine by machine.
bool Simulation::run_next_event(Micros at) {
    const Due planned = next_planned();
    const Due loading = next_loading();
    if (std::min(planned, loading).at != at) return false;
    if (planned < loading) {
        const Planned event = agenda_.top();
        agenda_.pop();
        happen(event);
        return true;
    }
    for (const auto& machine : machines_) {
        if (!machine->over && machine->loader.next().at == at) machine->loader.run_next();
    }
    return true;
}

/// After each event: lists, triggers, near rules, routes, until nothing changes (section 3).
void Simulation::settle() {
    bool changed = true;
    while (changed && !endless_) {
        flow_.apply_level_events();
        changed = flow_.resume_ready();
        if (flow_.booted() && !keeper().booted) {
            boot_ended(keeper());
            triggers_.booted();
            plan_script();
        }
        changed = end_boots() || changed;
        if (script_ != nullptr) {
            changed = begin_due(false) || changed;
        } else {
            changed = triggers_.judge() || changed;
            changed = judge_near() || changed;
        }
        linger();
        // Who does not hurry waits until all that follows has followed.
        if (!changed || !route_.unhurried) changed = advance_routes() || changed;
        // Machines that have not heard of the end go on.
        if (flow_.ended())
            changed = launch_after_end() || changed;
        else
            changed = changed || (script_ == nullptr && triggers_.to_judge());
    }
    look_at_triggers();
    look_at_objections();
    look_at_when_true();
    tell_movement();
    account();
}

/// Each machine for its own players, at once (section 11).
bool Simulation::judge_near() {
    bool any = false;
    for (const auto& machine : machines_) {
        const bool plays = machine->booted && !machine->over;
        if (plays) any = machine->near.judge() || any;
    }
    if (any) flow_.apply_level_events();
    return any;
}

void Simulation::let_pass(Micros to) {
    now_ = to;
    for (const auto& machine : machines_) {
        if (!machine->over) machine->loader.set_now(to);
    }
}

void Simulation::run_instant(Micros at) {
    let_pass(at);
    const auto over = [&] { return endless_ || session_over(); };
    const auto each_loader = [&](const auto& what) {
        for (const auto& machine : machines_) {
            if (!machine->over) what(machine->loader);
        }
    };
    bool again = true;
    while (again && !over()) {
        dispatched_ = false;
        while (!over() && run_next_event(at)) settle();
        if (over()) break;
        each_loader([](loading::Loader& loader) { loader.dispatch(); });
        dispatched_ = true;
        again = ask_routes_again() || std::min(next_planned(), next_loading()).at == at;
        if (again || !begin_due(true)) continue;
        settle();
        again = true;
    }
    if (!over()) {
        each_loader([&](loading::Loader& loader) {
            if (loader.frame_due() == at) loader.start_frame();
        });
    }
    flow_.apply_level_events(); // what dispatch and the frame began is logged in its place
    account();
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) account_needs(player);
    look_at_rules();
    for (const auto& machine : machines_) {
        if (machine->loader.now() == at) machine->loader.end_instant();
    }
}

/// Nobody hurries, and nothing is left to happen: what still waits, waits in vain.
bool Simulation::drop_waiting() {
    if (!route_.unhurried || !flow_.drop_waiting()) return false;
    settle();
    run_instant(now());
    return true;
}

bool Simulation::routes_done() const {
    return std::all_of(walkers_.begin(), walkers_.end(), [&](const Walker& walker) {
        // Thawed on the way by the last step, an unhurried player goes on to where it was going.
        const auto player = static_cast<PlayerNumber>(&walker - walkers_.data());
        const bool goes_on = route_.unhurried && walker.traveller.on_the_way() && !frozen(player);
        return walker.done() && !goes_on;
    });
}

/// What is on its way between machines counts (section 11).
bool Simulation::nothing_going_on() const {
    return flow_.idle() && std::all_of(machines_.begin(), machines_.end(),
                                       [](const auto& each) { return each->over || each->idle(); });
}

bool Simulation::releasing() const {
    return std::any_of(machines_.begin(), machines_.end(),
                       [](const auto& each) { return each->loader.releasing(); });
}

} // namespace hestrel::walk
