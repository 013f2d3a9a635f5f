// When triggers fire and near rules act (docs/model.md section 5).

#include "walk/simulation.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::walk {

using plan::LevelId;
using plan::Micros;
using plan::TriggerId;

namespace {

/// So many firings in one instant are no game any more, but a circle.
constexpr std::uint64_t most_firings = 100'000;

} // namespace

// --- getting in and out
// ----------------------------------------------------------------------------

void Simulation::enter(PlayerNumber player, ZoneId id) {
    Walker& walker = walkers_[player];
    walker.traveller.inside.insert(id);
    const Zone& zone = zones_[id];
    switch (zone.kind) {
    case Zone::Kind::trigger: {
        log(EventKind::entered, zone.index, player);
        Visit& here = visit(zone.trigger(), player);
        here.inside = true;
        here.entered = true;
        here.inside_while_live = is_live(zone.trigger());
        to_judge_.insert(zone.trigger());
        break;
    }
    case Zone::Kind::area: ++walker.needs[zone.level()].stood; break;
    case Zone::Kind::seen: ++walker.needs[zone.level()].seen; break;
    case Zone::Kind::near_load:
        ++near_boxes_[zone.level()];
        came_near_.insert(zone.level());
        break;
    case Zone::Kind::near_unload: ++not_far_boxes_[zone.level()]; break;
    }
}

void Simulation::leave(PlayerNumber player, ZoneId id) {
    Walker& walker = walkers_[player];
    walker.traveller.inside.erase(id);
    const Zone& zone = zones_[id];
    switch (zone.kind) {
    case Zone::Kind::trigger: {
        log(EventKind::left, zone.index, player);
        Visit& here = visit(zone.trigger(), player);
        here.inside = false;
        here.left = here.inside_while_live;
        here.inside_while_live = false;
        to_judge_.insert(zone.trigger());
        break;
    }
    case Zone::Kind::area: --walker.needs[zone.level()].stood; break;
    case Zone::Kind::seen: --walker.needs[zone.level()].seen; break;
    case Zone::Kind::near_load: --near_boxes_[zone.level()]; break;
    case Zone::Kind::near_unload:
        if (--not_far_boxes_[zone.level()] == 0) went_far_.insert(zone.level());
        break;
    }
}

void Simulation::stand_inside(PlayerNumber player, const std::set<ZoneId>& inside) {
    const std::set<ZoneId> before = walkers_[player].traveller.inside;
    for (const ZoneId zone : before) {
        if (!inside.contains(zone)) leave(player, zone);
    }
    for (const ZoneId zone : inside) {
        if (!before.contains(zone)) enter(player, zone);
    }
}

void Simulation::became_live(LevelId level) {
    for (const TriggerId trigger : triggers_of_[level]) {
        to_judge_.insert(trigger);
        for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
            Visit& here = visit(trigger, player);
            if (!here.inside) continue;
            here.entered = true;
            here.inside_while_live = true;
        }
    }
}

// --- triggers
// ----------------------------------------------------------------------------------------

bool Simulation::is_live(TriggerId trigger) const {
    const LevelId level = plan_.triggers[trigger].in;
    return level ? flow_.live(level) : flow_.booted();
}

bool Simulation::fits(TriggerId id, PlayerNumber player) const {
    const auto& tags = plan_.triggers[id].tags;
    if (tags.empty()) return true;
    const plan::PlayerKindId kind = walkers_[player].route->kind;
    if (!kind) return false;
    const auto& has = plan_.players[kind].tags;
    return std::any_of(tags.begin(), tags.end(), [&](plan::WordId tag) {
        return std::find(has.begin(), has.end(), tag) != has.end();
    });
}

bool Simulation::judge_triggers() {
    if (!flow_.booted()) return false;
    bool any = false;
    // In plan order; what a firing changes about an earlier trigger is judged in the next round.
    for (auto next = to_judge_.begin(); next != to_judge_.end() && !flow_.ended();) {
        const TriggerId trigger = *next;
        to_judge_.erase(next);
        any = judge(trigger) || any;
        next = to_judge_.upper_bound(trigger);
    }
    return any;
}

bool Simulation::judge(TriggerId id) {
    const plan::Trigger& trigger = plan_.triggers[id];
    const bool live = is_live(id);
    if (trigger.fires == plan::Fires::when_true) {
        const bool now_true = live && flow_.holds(trigger.when, 0);
        const bool becomes = now_true && !triggers_[id].held;
        triggers_[id].held = now_true;
        return becomes && fire(id, {});
    }
    bool any = false;
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Visit& here = visit(id, player);
        const bool entered = std::exchange(here.entered, false);
        const bool left = std::exchange(here.left, false);
        if (!fits(id, player)) continue;
        const auto holds = [&] {
            return live && flow_.holds(trigger.when, walkers_[player].traveller.speed_now());
        };
        bool fires = false;
        switch (trigger.fires) {
        case plan::Fires::on_enter: fires = entered && here.inside && holds(); break;
        case plan::Fires::on_exit: fires = left && holds(); break;
        default: {
            const bool now_true = here.inside && holds();
            fires = now_true && !here.held;
            here.held = now_true;
        }
        }
        if (fires && fire(id, flow::PlayerId{player})) any = true;
    }
    return any;
}

bool Simulation::fire(TriggerId id, flow::PlayerId player) {
    const plan::Trigger& trigger = plan_.triggers[id];
    TriggerNow& state = triggers_[id];
    if (state.spent) return false;
    if (flow_.running(trigger.steps) || now() < state.may_fire_again) {
        log(EventKind::firing_lost, id.value, player.value);
        return false;
    }
    if (++fired_now_ > most_firings) {
        endless_ = trigger.steps;
        return false;
    }
    state.spent = trigger.once;
    state.may_fire_again = now() + trigger.rearm;
    log(EventKind::fired, id.value, static_cast<std::uint32_t>(record_.transitions.size() + 1));
    flow_.start(trigger.steps, player);
    return true;
}

void Simulation::triggers_armed() {
    for (TriggerNow& trigger : triggers_) trigger.spent = false;
}

// --- near rules
// --------------------------------------------------------------------------------------

void Simulation::came_anew() {
    for (const LevelId level : plan_.levels.ids()) {
        if (near_boxes_[level] > 0) came_near_.insert(level);
    }
}

bool Simulation::judge_near() {
    if (!flow_.booted()) return false;
    bool any = false;
    const auto begin = [&](LevelId level, EventKind kind) {
        const flow::RunId run = flow_.number_transition();
        Transition& begun = begin_transition(run);
        begun.near = level;
        begun.went_far = kind == EventKind::went_far;
        begun.ended = now();
        log(kind, level.value, run.value);
        any = true;
        return run;
    };
    for (const LevelId level : std::exchange(came_near_, {})) {
        if (near_boxes_[level] == 0) continue; // gone again
        const bool there = loader_.asked(level) && loader_.wanted_shown(level);
        if (!there) show(level, plan::Priority::soon, begin(level, EventKind::came_near));
    }
    for (const LevelId level : std::exchange(went_far_, {})) {
        if (not_far_boxes_[level] > 0 || !loader_.asked(level)) continue;
        if (flow_.held_by_switch(level)) {
            log(EventKind::leave_refused, level.value);
        } else {
            flow_.unload(level, begin(level, EventKind::went_far));
        }
    }
    if (any) flow_.absorb();
    return any;
}

} // namespace hestrel::walk
