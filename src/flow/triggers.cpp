#include "flow/triggers.hpp"

#include "plan/questions.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::flow {

using plan::LevelId;
using plan::TriggerId;

Triggers::Triggers(const plan::Plan& plan, const Zones& zones, Flow& flow, Stage& stage,
                   std::vector<plan::PlayerKindId> players)
    : plan_(&plan), zones_(&zones), flow_(&flow), stage_(&stage), kinds_(std::move(players)),
      watches_(plan), triggers_of_(plan.levels.size()), inside_(kinds_.size()),
      triggers_(plan.triggers.size()), visits_(plan.triggers.size() * kinds_.size()),
      asked_zones_(kinds_.size()), near_zones_(plan.levels.size()),
      near_boxes_(plan.levels.size() * kinds_.size()), players_near_(plan.levels.size()),
      not_far_boxes_(plan.levels.size()), near_acts_(plan.levels.size(), true) {
    for (const TriggerId id : plan.triggers.ids()) {
        for (const LevelId level : plan.triggers[id].in) triggers_of_[level].push_back(id);
    }
    for (const LevelId level : plan.levels.ids()) {
        if (!plan.levels[level].near) continue;
        near_levels_.push_back(level);
        if (!plan.levels[level].near->when) continue;
        sometimes_near_[plan.levels[level].near->when].push_back(level);
        near_acts_[level] = false; // until the boot has ended
    }
    for (const ZoneId id : zones.ids()) {
        const Zone& zone = zones[id];
        const bool near =
            zone.kind == Zone::Kind::near_load || zone.kind == Zone::Kind::near_unload;
        if (near) near_zones_[zone.level()].push_back(id);
        const bool on_exit = zone.kind == Zone::Kind::trigger &&
                             plan.triggers[zone.trigger()].fires == plan::Fires::on_exit;
        if (near || on_exit) matter_behind_.push_back(id);
    }
}

// --- getting in and out ------------------------------------------------------

void Triggers::enter(PlayerId player, ZoneId id) {
    inside_[player.value].insert(id);
    movement_changed();
    const Zone& zone = (*zones_)[id];
    stage_->crossed(player, zone, true);
    switch (zone.kind) {
    case Zone::Kind::trigger: {
        Visit& here = visit(zone.trigger(), player);
        here.inside = true;
        if (std::exchange(here.left, false)) {
            here.inside_while_live = true; // nobody saw it outside
        } else {
            here.entered = true;
            here.inside_while_live = is_live(zone.trigger());
        }
        to_judge_.insert(zone.trigger());
        break;
    }
    case Zone::Kind::area:
    case Zone::Kind::seen: break;
    case Zone::Kind::near_load:
        if (near_boxes(zone.level(), player)++ > 0) break; // of another box
        ++players_near_[zone.level()];
        came_near_.insert(zone.level());
        break;
    case Zone::Kind::near_unload: ++not_far_boxes_[zone.level()]; break;
    }
}

void Triggers::leave(PlayerId player, ZoneId id) {
    inside_[player.value].erase(id);
    movement_changed();
    const Zone& zone = (*zones_)[id];
    stage_->crossed(player, zone, false);
    switch (zone.kind) {
    case Zone::Kind::trigger: {
        Visit& here = visit(zone.trigger(), player);
        here.inside = false;
        // What it is put into and out of at once, it was never seen in.
        here.left = !std::exchange(here.entered, false) && here.inside_while_live;
        here.inside_while_live = false;
        to_judge_.insert(zone.trigger());
        break;
    }
    case Zone::Kind::area:
    case Zone::Kind::seen: break;
    case Zone::Kind::near_load:
        if (--near_boxes(zone.level(), player) == 0) --players_near_[zone.level()];
        break;
    case Zone::Kind::near_unload:
        ask_all(near_zones_[zone.level()]);
        if (--not_far_boxes_[zone.level()] == 0) went_far_.insert(zone.level());
        break;
    }
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

void Triggers::became_live(LevelId level) {
    for (const TriggerId trigger : triggers_of_[level]) {
        to_judge_.insert(trigger);
        if (plan_->triggers[trigger].fires == plan::Fires::when_true) continue;
        if (flow_->live_without(level, plan_->triggers[trigger].in)) continue; // it was already
        for (std::uint32_t player = 0; player < inside_.size(); ++player) {
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
    return std::any_of(zones.begin(), zones.end(), [&](ZoneId id) {
        const Zone& zone = (*zones_)[id];
        return zone.kind == Zone::Kind::area && zone.level() == level;
    });
}

// --- triggers ----------------------------------------------------------------

bool Triggers::is_live(TriggerId trigger) const {
    return flow_->live(plan_->triggers[trigger].in);
}

bool Triggers::fits(TriggerId id, PlayerId player) const {
    return plan::fits(*plan_, kinds_[player.value], plan_->triggers[id].tags);
}

bool Triggers::holds(const plan::Trigger& trigger, PlayerId player) const {
    return flow_->holds(trigger.when, player);
}

bool Triggers::judge_triggers() {
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
    bool any = false;
    for (std::uint32_t number = 0; number < inside_.size(); ++number) {
        const PlayerId player{number};
        Visit& here = visit(id, player);
        const bool entered = std::exchange(here.entered, false);
        const bool left = std::exchange(here.left, false);
        if (!fits(id, player)) continue;
        const bool live = is_live(id); // the firing before may have let its level go
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
        if (fires && fire(id, player)) any = true;
    }
    return any;
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
    state.spent = trigger.once;
    state.may_fire_again = stage_->now() + trigger.rearm;
    stage_->firing(id);
    flow_->start(trigger.steps, player);
    return true;
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
    for (const auto& [condition, levels] : sometimes_near_) {
        for (const LevelId level : levels) near_acts_[level] = false;
    }
    to_judge_.clear();
    came_near_.clear();
    went_far_.clear();
}

// --- near rules --------------------------------------------------------------

void Triggers::rejudge_near() {
    for (const LevelId level : near_levels_) {
        ask_all(near_zones_[level]);
        if (players_near_[level] > 0) came_near_.insert(level);
    }
}

RunId Triggers::begin_near(LevelId level, bool went_far) {
    const RunId run = flow_->number_transition();
    stage_->near_began(level, went_far, run);
    return run;
}

/// Rules whose condition has begun to hold act as if every player had just come; those whose has
/// stopped let their level go, where anybody is not far from it.
bool Triggers::judge_near_conditions() {
    std::set<LevelId> changed; // in plan order, whichever condition it is
    for (const auto& [condition, levels] : sometimes_near_) {
        if (flow_->holds(condition, {}) != near_acts_[levels.front()])
            changed.insert(levels.begin(), levels.end());
    }
    bool any = false;
    for (const LevelId level : changed) {
        const bool acts = !near_acts_[level];
        near_acts_[level] = acts;
        ask_all(near_zones_[level]);
        if (acts && players_near_[level] > 0) came_near_.insert(level);
        if (!acts && not_far_boxes_[level] > 0) any = let_go_far(level) || any;
    }
    return any;
}

/// Unloads a level by its near rule. True where there was anything to unload.
bool Triggers::let_go_far(LevelId level) {
    if (!stage_->asked_levels().contains(level)) return false;
    if (flow_->held_by_switch(level)) {
        stage_->near_refused(level);
        return false;
    }
    flow_->unload(level, begin_near(level, true));
    return true;
}

bool Triggers::judge_near() {
    if (!flow_->booted() || flow_->ended()) return false;
    bool any = judge_near_conditions();
    for (const LevelId level : std::exchange(came_near_, {})) {
        if (players_near_[level] == 0 || !near_acts_[level]) continue; // gone again
        if (stage_->asked_levels().contains(level)) stage_->raise(level, plan::Priority::soon);
        if (stage_->wanted_shown(level)) continue;
        if (flow_->refuses(level)) {
            stage_->note({EventKind::variant_refused, {}, level.value});
            continue;
        }
        any = true;
        flow_->show(level, plan::Priority::soon, begin_near(level, false));
    }
    for (const LevelId level : std::exchange(went_far_, {})) {
        ask_all(near_zones_[level]);
        if (not_far_boxes_[level] == 0 && near_acts_[level]) any = let_go_far(level) || any;
    }
    if (any) flow_->apply_level_events();
    return any;
}

// --- from situation to situation ---------------------------------------------

std::vector<ZoneId> Triggers::asked_zones(PlayerId player) const {
    std::vector<ZoneId> zones = asked_zones_[player.value];
    std::sort(zones.begin(), zones.end());
    zones.erase(std::unique(zones.begin(), zones.end()), zones.end());
    return zones;
}

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
    const auto count = [&](const Zone& zone, std::uint32_t by) {
        if (zone.kind == Zone::Kind::near_load) {
            std::uint32_t& boxes = near_boxes(zone.level(), player);
            const bool before = boxes > 0;
            boxes += by;
            if (before != (boxes > 0)) players_near_[zone.level()] += by;
        }
        if (zone.kind == Zone::Kind::near_unload) not_far_boxes_[zone.level()] += by;
    };
    for (const ZoneId id : inside_[player.value]) {
        const Zone& zone = (*zones_)[id];
        if (zone.kind == Zone::Kind::trigger) visit(zone.trigger(), player) = {};
        count(zone, static_cast<std::uint32_t>(-1));
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
        count(zone, 1);
    }
}

void Triggers::resume_judged() {
    for (const auto& [condition, levels] : sometimes_near_) {
        const bool acts = flow_->holds(condition, {});
        for (const LevelId level : levels) near_acts_[level] = acts;
    }
    came_near_.clear();
    went_far_.clear();
    to_judge_.clear();
    for (const TriggerId id : watches_.by_state) {
        const plan::Trigger& trigger = plan_->triggers[id];
        const bool live = is_live(id);
        if (trigger.fires == plan::Fires::when_true) {
            triggers_[id].held = live && holds(trigger, {});
            continue;
        }
        for (std::uint32_t number = 0; number < inside_.size(); ++number) {
            const PlayerId player{number};
            Visit& here = visit(id, player);
            here.held = fits(id, player) && here.inside && live && holds(trigger, player);
        }
    }
}

} // namespace hestrel::flow
