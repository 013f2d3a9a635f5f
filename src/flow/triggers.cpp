#include "flow/triggers.hpp"

#include "plan/questions.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::flow {

using plan::LevelId;
using plan::TriggerId;

Triggers::Triggers(const plan::Plan& plan, const Zones& zones, Flow& flow, Stage& stage,
                   std::vector<plan::PlayerKindId> players, NearRules* near, AskedZones* asked)
    : plan_(&plan), zones_(&zones), flow_(&flow), stage_(&stage), kinds_(std::move(players)),
      near_(near), asked_(asked), watches_(plan), triggers_of_(plan.levels.size()),
      inside_(kinds_.size()), triggers_(plan.triggers.size()),
      visits_(plan.triggers.size() * kinds_.size()) {
    for (const TriggerId id : plan.triggers.ids()) {
        for (const LevelId level : plan.triggers[id].in) triggers_of_[level].push_back(id);
    }
    for (const ZoneId id : zones.ids()) {
        const Zone& zone = zones[id];
        const bool on_exit = zone.kind == Zone::Kind::trigger &&
                             plan.triggers[zone.trigger()].fires == plan::Fires::on_exit;
        if ((zone.is_near() && zone.sets_off()) || on_exit) matter_behind_.push_back(id);
    }
}

// --- getting in and out ------------------------------------------------------

void Triggers::enter(PlayerId player, ZoneId id) {
    inside_[player.value].insert(id);
    movement_changed();
    if (near_ != nullptr) near_->enter(player, id);
    const Zone& zone = (*zones_)[id];
    if (zone.kind != Zone::Kind::trigger) return;
    Visit& here = visit(zone.trigger(), player);
    here.inside = true;
    if (std::exchange(here.left, false)) {
        here.inside_while_live = true; // nobody saw it outside
    } else {
        here.entered = true;
        here.inside_while_live = is_live(zone.trigger(), player);
    }
    to_judge_.insert(zone.trigger());
}

void Triggers::leave(PlayerId player, ZoneId id) {
    inside_[player.value].erase(id);
    movement_changed();
    if (near_ != nullptr) near_->leave(player, id);
    const Zone& zone = (*zones_)[id];
    if (zone.kind != Zone::Kind::trigger) return;
    Visit& here = visit(zone.trigger(), player);
    here.inside = false;
    // What it is put into and out of at once, it was never seen in.
    here.left = !std::exchange(here.entered, false) && here.inside_while_live;
    here.inside_while_live = false;
    to_judge_.insert(zone.trigger());
}

void Triggers::stand_inside(PlayerId player, const std::set<ZoneId>& inside) {
    movement_changed();
    for (const ZoneId zone : matter_behind_) ask(player, zone);
    for (const ZoneId zone : inside) ask(player, zone);
    const std::set<ZoneId> before = inside_[player.value];
    for (const ZoneId zone : before) {
        if (!inside.contains(zone)) leave(player, zone);
    }
    for (const ZoneId zone : inside) {
        if (!before.contains(zone)) enter(player, zone);
    }
}

void Triggers::booted() {
    for (const TriggerId trigger : plan_->triggers.ids()) {
        if (!plan_->triggers[trigger].in.empty()) continue; // live from now on
        for (std::uint32_t player = 0; player < inside_.size(); ++player) {
            Visit& here = visit(trigger, PlayerId{player});
            if (!here.inside) continue;
            here.inside_while_live = true;
            to_judge_.insert(trigger);
        }
    }
    to_judge_.insert(watches_.always_live.begin(), watches_.always_live.end());
}

void Triggers::became_live(LevelId level, MachineId on) {
    for (const TriggerId trigger : triggers_of_[level]) {
        to_judge_.insert(trigger);
        if (plan_->triggers[trigger].fires == plan::Fires::when_true) continue;
        for (std::uint32_t player = 0; player < inside_.size(); ++player) {
            const MachineId of_player = stage_->machine_of(PlayerId{player});
            if (on && of_player != on) continue;
            if (flow_->live_without(level, plan_->triggers[trigger].in, of_player))
                continue; // it was already
            ask(PlayerId{player}, zone_of(trigger));
            Visit& here = visit(trigger, PlayerId{player});
            if (!here.inside) continue;
            here.entered = true;
            here.inside_while_live = true;
        }
    }
}

// --- what conditions ask about -----------------------------------------------

void Triggers::level_changed(const LevelEvent& event) {
    for (const TriggerId trigger : watches_.on_level[event.level]) to_judge_.insert(trigger);
    // What fires while something is so has to see that its level is gone.
    if (event.change != LevelChange::hidden) return;
    to_judge_.insert(triggers_of_[event.level].begin(), triggers_of_[event.level].end());
}

void Triggers::delivered(LevelId level) {
    to_judge_.insert(watches_.on_level[level].begin(), watches_.on_level[level].end());
}

void Triggers::fact_changed(plan::FactId fact) {
    to_judge_.insert(watches_.on_fact[fact].begin(), watches_.on_fact[fact].end());
}

void Triggers::veils_changed() {
    to_judge_.insert(watches_.on_veils.begin(), watches_.on_veils.end());
}

void Triggers::movement_changed() {
    to_judge_.insert(watches_.on_movement.begin(), watches_.on_movement.end());
}

void Triggers::menu_changed(plan::MenuId menu) {
    to_judge_.insert(watches_.on_menu[menu].begin(), watches_.on_menu[menu].end());
}

void Triggers::freezes_changed() {
    to_judge_.insert(watches_.on_freezes.begin(), watches_.on_freezes.end());
}

bool Triggers::is_inside(PlayerId player, LevelId level) const {
    const std::set<ZoneId>& zones = inside_[player.value];
    return std::any_of(zones.begin(), zones.end(),
                       [&](ZoneId id) { return (*zones_)[id].is_area_of(level); });
}

// --- triggers ----------------------------------------------------------------

bool Triggers::is_live(TriggerId trigger, PlayerId player) const {
    const MachineId on = player ? stage_->machine_of(player) : MachineId{};
    return flow_->live(plan_->triggers[trigger].in, on);
}

bool Triggers::fits(TriggerId id, PlayerId player) const {
    return plan::fits(*plan_, kinds_[player.value], plan_->triggers[id].tags);
}

bool Triggers::holds(const plan::Trigger& trigger, PlayerId player) const {
    return flow_->holds(trigger.when, player);
}

bool Triggers::judge() {
    if (!flow_->booted()) return false;
    bool any = false;
    // In plan order; what a firing changes about an earlier trigger is judged in the next round.
    for (auto next = to_judge_.begin(); next != to_judge_.end() && !flow_->ended();) {
        const TriggerId trigger = *next;
        to_judge_.erase(next);
        any = judge(trigger) || any;
        next = to_judge_.upper_bound(trigger);
    }
    return any;
}

bool Triggers::judge(TriggerId id) {
    const plan::Trigger& trigger = plan_->triggers[id];
    if (trigger.fires == plan::Fires::when_true) {
        const bool now_true = is_live(id) && holds(trigger, {});
        const bool becomes = now_true && !triggers_[id].held;
        triggers_[id].held = now_true;
        return becomes && fire(id, {});
    }
    const bool order_matters = asked_ != nullptr && inside_.size() > 1 && several_may_fire(id);
    bool any = false;
    for (std::uint32_t number = 0; number < inside_.size(); ++number) {
        const PlayerId player{number};
        Visit& here = visit(id, player);
        const bool entered = std::exchange(here.entered, false);
        const bool left = std::exchange(here.left, false);
        if (!fits(id, player)) continue;
        const bool live = is_live(id, player); // the firing before may have let its level go
        bool fires = false;
        switch (trigger.fires) {
        case plan::Fires::on_enter:
            fires = entered && here.inside && live && holds(trigger, player);
            break;
        case plan::Fires::on_exit: fires = left && live && holds(trigger, player); break;
        default: {
            ask(player, zone_of(id));
            const bool now_true = here.inside && live && holds(trigger, player);
            fires = now_true && !here.held;
            here.held = now_true;
        }
        }
        if (!fires || !fire(id, player)) continue;
        any = true;
        if (order_matters) stage_->order_mattered();
    }
    return any;
}

/// Whether more than one player may, and it matters which does first.
bool Triggers::several_may_fire(TriggerId id) const {
    std::vector<PlayerId> players;
    for (std::uint32_t number = 0; number < inside_.size(); ++number) {
        const Visit& here = visit(id, PlayerId{number});
        switch (plan_->triggers[id].fires) {
        case plan::Fires::on_enter:
            if (!here.entered) continue;
            break;
        case plan::Fires::on_exit:
            if (!here.left) continue;
            break;
        default:
            if (!here.inside) continue;
        }
        if (fits(id, PlayerId{number})) players.emplace_back(number);
    }
    return players.size() > 1 && stage_->order_matters(id, players);
}

bool Triggers::alike(PlayerId one, PlayerId other) const {
    if (inside_[one.value] != inside_[other.value]) return false;
    for (const TriggerId id : plan_->triggers.ids()) {
        if (visit(id, one) != visit(id, other)) return false;
    }
    return true;
}

bool Triggers::fire(TriggerId id, PlayerId player) {
    const plan::Trigger& trigger = plan_->triggers[id];
    TriggerNow& state = triggers_[id];
    if (flow_->ended()) return false;
    if (trigger.once) once_asked_.push_back(id);
    if (state.spent) return false;
    const bool rearming = !forgets_rearm_ && stage_->now() < state.may_fire_again;
    if (flow_->running(trigger.steps) || rearming) {
        stage_->firing_lost(id, player);
        return false;
    }
    fire_by_cue(id, player);
    return true;
}

void Triggers::fire_by_cue(TriggerId id, PlayerId player) {
    const plan::Trigger& trigger = plan_->triggers[id];
    triggers_[id].spent = trigger.once;
    triggers_[id].may_fire_again = stage_->now() + trigger.rearm;
    stage_->firing(id, player);
    flow_->start(trigger.steps, player);
}

Objection Triggers::objection(TriggerId id, PlayerId player, bool asks_when) const {
    const plan::Trigger& trigger = plan_->triggers[id];
    const TriggerNow& state = triggers_[id];
    if (player && kinds_[player.value] && !fits(id, player)) return Objection::other_kind;
    if (!is_live(id, player)) return Objection::not_live;
    if (asks_when && !holds(trigger, player)) return Objection::does_not_hold;
    if (state.spent) return Objection::spent;
    if (flow_->running(trigger.steps)) return Objection::running;
    return stage_->now() < state.may_fire_again ? Objection::too_soon : Objection::none;
}

bool Triggers::comes_true(TriggerId id) {
    const bool now_true = is_live(id) && holds(plan_->triggers[id], {});
    const bool becomes = now_true && !triggers_[id].held;
    triggers_[id].held = now_true;
    return becomes && objection(id, {}, true) == Objection::none;
}

void Triggers::arm() {
    for (const TriggerId id : plan_->triggers.ids()) {
        if (!plan_->triggers[id].once) continue;
        triggers_[id].spent = false;
        once_asked_.push_back(id);
    }
}

void Triggers::launch() {
    for (std::uint32_t player = 0; player < inside_.size(); ++player)
        stand_inside(PlayerId{player}, {});
    for (const TriggerId id : plan_->triggers.ids()) {
        if (plan_->triggers[id].once) once_asked_.push_back(id);
        triggers_[id] = {};
    }
    std::fill(visits_.begin(), visits_.end(), Visit{});
    if (near_ != nullptr) near_->launch();
    to_judge_.clear();
}

// --- from situation to situation ---------------------------------------------

Triggers::Standing Triggers::standing(PlayerId player) const {
    Standing standing;
    for (const ZoneId id : inside_[player.value]) {
        standing.inside.push_back(id);
        const Zone& zone = (*zones_)[id];
        if (zone.kind != Zone::Kind::trigger) continue;
        if (plan_->triggers[zone.trigger()].fires == plan::Fires::on_exit &&
            visit(zone.trigger(), player).inside_while_live)
            standing.was_live.push_back(zone.trigger());
    }
    return standing;
}

void Triggers::resume(PlayerId player, const Standing& standing) {
    // Where a session ended, not all was judged.
    for (const TriggerId trigger : to_judge_) visit(trigger, player) = {};
    for (const ZoneId id : inside_[player.value]) {
        const Zone& zone = (*zones_)[id];
        if (zone.kind == Zone::Kind::trigger) visit(zone.trigger(), player) = {};
        if (near_ != nullptr) near_->count(player, id, false);
    }
    inside_[player.value] = {standing.inside.begin(), standing.inside.end()};
    for (const ZoneId id : standing.inside) {
        const Zone& zone = (*zones_)[id];
        if (zone.kind == Zone::Kind::trigger) {
            Visit& here = visit(zone.trigger(), player);
            here.inside = true;
            here.inside_while_live = std::find(standing.was_live.begin(), standing.was_live.end(),
                                               zone.trigger()) != standing.was_live.end();
        }
        if (near_ != nullptr) near_->count(player, id, true);
    }
}

void Triggers::resume_judged() {
    if (near_ != nullptr) near_->resume_judged();
    to_judge_.clear();
    for (const TriggerId id : watches_.by_state) {
        const plan::Trigger& trigger = plan_->triggers[id];
        if (trigger.fires == plan::Fires::when_true) {
            triggers_[id].held = is_live(id) && holds(trigger, {});
            continue;
        }
        for (std::uint32_t number = 0; number < inside_.size(); ++number) {
            const PlayerId player{number};
            Visit& here = visit(id, player);
            here.held =
                fits(id, player) && here.inside && is_live(id, player) && holds(trigger, player);
        }
    }
}

} // namespace hestrel::flow
