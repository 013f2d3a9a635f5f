// Beginning, and beginning again: the game is switched off and launched anew (docs/model.md
// section 7).

#include "plan/questions.hpp"
#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using plan::Micros;

void Simulation::stand_at_start(plan::WaypointId at) {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        if (!machine_at(player).keeps_game()) continue; // placed once it has booted
        walkers_[player].traveller.at = at;
        stand_inside(player, ground_.zones().around(plan_, at));
    }
}

/// All is gone but the saved store; then a boot, as of a walk of the edition that says no start.
void Simulation::launch() {
    const plan::LevelId level = plan::launched_in(plan_, route_);
    leave_behind();
    Machine& machine = keeper();
    machine.loader.switch_off();
    take_level_events(); // for the record: no list is told
    stand_at_start({});
    triggers_.launch();
    machine.near.launch();
    machine.end_switch();
    machine.over = false;
    machine.record.launches.push_back(now());
    log(EventKind::launched);
    flow_.launch(level);
    carried_.launched(flow_.facts());
    machine.booted = false;
    stand_at_start(plan::first_entry(plan_.levels[level]));
    went_on();
}

/// What players were at is over, and so is what they needed and missed.
void Simulation::leave_behind() {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Walker& walker = walkers_[player];
        flow::Traveller& traveller = walker.traveller;
        stop_moving(player);
        traveller.metres_before = traveller.metres(now());
        traveller.stopped_at = Micros::never();
        traveller.legs.clear();
        traveller.goal = {};
        traveller.at_gate = false;
        if (walker.accounting) {
            walker.spell.to = now();
            if (walker.spell.to > walker.spell.from)
                machine_at(player).record.spells.push_back(walker.spell);
            walker.accounting = false;
        }
        if (walker.under_way()) {
            leave_step(player);
            next_step(player);
        }
    }
    close_needs();
    keeper().close_breaches();
}

void Simulation::close_needs() {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        for (const auto& [key, open] : std::exchange(walkers_[player].open, {})) {
            Record& record = machine_at(player).record;
            if (open.needed > 0) record.needed[open.needed - 1].to = now();
            if (open.gap == 0) continue;
            record.gaps[open.gap - 1].to = now();
            log_of(player, EventKind::gap_ended, key.first.value, player);
        }
    }
}

/// A step of a route is never done: what it expects has failed.
void Simulation::leave_step(PlayerNumber player) {
    const Walker& walker = walkers_[player];
    const auto* expect = walker.at_step<plan::ExpectStep>();
    if (expect == nullptr || !expect->condition) return;
    add_expectation(player, walker.step_begun ? Expectation::Outcome::cut_short
                                              : Expectation::Outcome::never_reached);
}

/// The session has ended, and a route still launches the game again: what stands before that is
/// left out.
bool Simulation::launch_after_end() {
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Walker& walker = walkers_[player];
        const auto& steps = walker.route->steps;
        const auto next =
            std::find_if(steps.begin() + static_cast<std::ptrdiff_t>(walker.step), steps.end(),
                         [](const plan::RouteStep& step) {
                             return std::holds_alternative<plan::LaunchStep>(step.what);
                         });
        if (next == steps.end()) continue;
        for (; steps.begin() + static_cast<std::ptrdiff_t>(walker.step) != next;
             ++walker.step, walker.step_begun = false) {
            log_of(player, EventKind::left_out, player, static_cast<std::uint32_t>(walker.step));
            leave_step(player);
        }
        walker.tried = false;
        walker.step_since = now();
        launch();
        next_step(player);
        return true;
    }
    return false;
}

} // namespace hestrel::walk
