// What a script tells, begun at its time, and judged by the plan.

#include "walk/replay.hpp"

#include "plan/questions.hpp"
#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using flow::Objection;
using plan::LevelId;
using plan::Micros;
using What = Cue::What;

namespace {

/// Whether a condition asks where a player is, or how fast: nobody is anywhere.
bool asks_where(const plan::Plan& plan, plan::ConditionId condition) {
    using plan::Operation;
    return condition &&
           plan.conditions[condition].asks({Operation::speed, Operation::at, Operation::inside});
}

} // namespace

/// Cues of one instant come together: the first is planned for all. Before the boot: those that
/// come while it lasts.
void Simulation::plan_early_cues() {
    if (script_ == nullptr || !script_->script.boot) return;
    const auto& cues = script_->script.cues;
    for (; script_->planned < cues.size() && cues[script_->planned].at < Micros{};
         ++script_->planned) {
        const Micros since = *script_->script.boot + cues[script_->planned].at;
        plan_cue(script_->planned, std::max(since, Micros{}));
    }
}

/// Once the game has booted, all others are; those of that very instant are due.
void Simulation::plan_script() {
    if (script_ == nullptr) return;
    const auto& cues = script_->script.cues;
    for (; script_->planned < cues.size(); ++script_->planned) {
        if (cues[script_->planned].at <= Micros{})
            script_->due_now.push_back(static_cast<std::uint32_t>(script_->planned));
        else
            plan_cue(script_->planned, cues[script_->planned].at);
    }
    plan_event(Planned::Kind::cue, now() + script_->script.end, 0, ScriptNow::the_end);
}

void Simulation::plan_cue(std::size_t number, Micros after) {
    const auto& cues = script_->script.cues;
    if (number > 0 && cues[number - 1].at == cues[number].at) return;
    plan_event(Planned::Kind::cue, now() + after, 0, static_cast<std::uint32_t>(number));
}

void Simulation::call_cue(std::uint32_t number) {
    if (number == ScriptNow::the_end) {
        script_->over = true;
        return;
    }
    const auto& cues = script_->script.cues;
    for (std::uint32_t next = number; next < cues.size() && cues[next].at == cues[number].at;
         ++next)
        script_->due_now.push_back(next);
}

/// Whether the plan would not begin it now, and why.
Objection Simulation::objection(const Cue& cue) const {
    if (flow_.ended()) return Objection::session_is_over;
    const auto holds = [&](plan::ConditionId when) {
        return asks_where(plan_, when) || flow_.holds(when, cue.player);
    };
    switch (cue.what) {
    case What::fired: {
        const plan::Trigger& trigger = plan_.triggers[plan::TriggerId{cue.subject}];
        const Objection why = triggers_.objection(plan::TriggerId{cue.subject}, cue.player,
                                                  !asks_where(plan_, trigger.when));
        const Micros rearmed = triggers_.rearmed(plan::TriggerId{cue.subject});
        const bool soon = why == Objection::too_soon && rearmed <= now() + script_->patience;
        return soon ? Objection::none : why;
    }
    case What::pressed: {
        const plan::Item& item = plan_.items[plan::ItemId{cue.subject}];
        if (!(cue.player ? flow_.menu_open(item.menu, cue.player) : flow_.menu_open(item.menu)))
            return Objection::not_open;
        return holds(item.when) ? Objection::none : Objection::does_not_hold;
    }
    case What::after: {
        const plan::MenuId menu{cue.subject};
        if (!plan_.menus[menu].after) return Objection::never_comes;
        return flow_.menu_open(menu) ? Objection::none : Objection::not_open;
    }
    case What::came_near:
    case What::went_far: {
        const auto& near = plan_.levels[LevelId{cue.subject}].near;
        if (!near) return Objection::never_streams;
        const bool acts = cue.what == What::went_far || holds(near->when);
        return acts ? Objection::none : Objection::does_not_hold;
    }
    case What::brought:
    case What::let_go:
    case What::fact_set:
    case What::arrived:
    case What::entered:
    case What::left: return Objection::none;
    }
    return Objection::none;
}

void Simulation::begin_cue(std::uint32_t number) {
    const Cue& cue = script_->script.cues[number];
    Judged& judged = script_->judged[number];
    judged.objection = objection(cue);
    judged.at = now();
    if (judged.objection != Objection::none) script_->objected.push_back(number);
    ++script_->begun;
    if (flow_.ended()) return;
    const std::uint32_t next = flow_.next_run().value;
    switch (cue.what) {
    case What::fired:
        script_->unable_at[cue.subject] = now();
        triggers_.fire_by_cue(plan::TriggerId{cue.subject}, cue.player);
        break;
    case What::pressed: {
        const flow::PlayerId player = cue.player ? cue.player : flow::PlayerId{0};
        keeper().log(EventKind::pressed, cue.subject, next, player);
        flow_.press(plan::ItemId{cue.subject}, player);
        break;
    }
    case What::after: {
        const plan::MenuId menu{cue.subject};
        if (plan_.menus[menu].after) flow_.run_after(menu, flow_.open_for(menu, cue.player));
        break;
    }
    case What::came_near: come_near_by_cue(LevelId{cue.subject}); break;
    case What::went_far: go_far_by_cue(LevelId{cue.subject}); break;
    case What::brought:
        keeper().show(LevelId{cue.subject}, plan::Priority::soon, flow::RunId{});
        keeper().give_way_to(LevelId{cue.subject}, flow::RunId{});
        break;
    case What::let_go: keeper().loader.unload(LevelId{cue.subject}); break;
    case What::fact_set:
        flow_.set_facts({{{}, plan::FactId{cue.subject}, cue.value, false}}, cue.player);
        break;
    case What::arrived: see_player(cue.player, plan::WaypointId{cue.subject}); break;
    case What::entered:
        script_->seen[cue.player.value].inside.insert(plan::TriggerId{cue.subject});
        break;
    case What::left:
        script_->seen[cue.player.value].inside.erase(plan::TriggerId{cue.subject});
        break;
    }
    if (flow_.next_run().value > next) judged.transition = next;
}

/// Whether it could fire now, whoever is where.
bool Simulation::is_able(plan::TriggerId trigger, flow::PlayerId player) const {
    const plan::Trigger& of = plan_.triggers[trigger];
    const bool by_going =
        of.fires == plan::Fires::on_enter || of.fires == plan::Fires::while_inside;
    return by_going && !asks_where(plan_, of.when) &&
           triggers_.objection(trigger, player, true) == Objection::none;
}

/// Triggers that a player gets into on the shortest way from one waypoint to another.
std::set<plan::TriggerId> Simulation::triggers_between(plan::WaypointId from, plan::WaypointId to) {
    std::set<plan::TriggerId> met;
    const auto& way = ground_.way(from, to);
    if (!way || way->empty()) return met;
    flow::Traveller traveller;
    traveller.at = from;
    set_out(plan_, *way, traveller, to, 1);
    do {
        for (const flow::Met& each : ground_.met_by(plan_, traveller)) {
            const flow::Zone& zone = ground_.zones()[each.zone];
            if (zone.kind == flow::Zone::Kind::trigger) met.insert(zone.trigger());
        }
    } while (next_piece(plan_, traveller));
    for (const flow::ZoneId inside : ground_.zones().around(plan_, from)) {
        const flow::Zone& zone = ground_.zones()[inside];
        if (zone.kind == flow::Zone::Kind::trigger) met.erase(zone.trigger()); // it was in there
    }
    return met;
}

/// A player is at a waypoint. What it went through since it was seen last should have fired, where
/// that could all the while.
void Simulation::see_player(flow::PlayerId player, plan::WaypointId at) {
    if (!player) return;
    ScriptNow::Seen& seen = script_->seen[player.value];
    if (seen.at && seen.at != at) {
        for (const plan::TriggerId trigger : triggers_between(seen.at, at)) {
            if (seen.able[trigger.value] && script_->unable_at[trigger.value] < seen.since &&
                is_able(trigger, player))
                script_->went_through.push_back({trigger, player, seen.since, now()});
        }
    }
    seen.at = at;
    seen.since = now();
    seen.able.resize(plan_.triggers.size());
    for (const plan::TriggerId trigger : plan_.triggers.ids())
        seen.able[trigger.value] = is_able(trigger, player);
}

/// Notes which triggers can't fire any more.
void Simulation::look_at_triggers() {
    if (script_ == nullptr || !flow_.booted()) return;
    for (const plan::TriggerId trigger : triggers_.take_changed()) {
        if (!is_able(trigger, {})) script_->unable_at[trigger.value] = now();
    }
}

/// As near rules do it, where a player comes near.
void Simulation::come_near_by_cue(LevelId level) {
    if (keeper().is_asked(level)) keeper().raise_near(level);
    if (keeper().is_wanted(level)) return;
    if (keeper().is_refused(level))
        keeper().near_refused(level);
    else
        keeper().come_near(level);
}

/// And where all are far.
void Simulation::go_far_by_cue(LevelId level) {
    if (!keeper().is_asked(level)) return;
    if (keeper().is_held(level))
        keeper().far_refused(level);
    else
        keeper().go_far(level);
}

/// Whether all that happened before it in the same instant has happened.
bool Simulation::comes_next(const Cue& cue) const {
    const std::vector<Event>& events = keeper().record.events;
    const auto first = std::find_if(events.rbegin(), events.rend(), [&](const Event& event) {
                           return event.at != now();
                       }).base();
    const auto is = [](const auto& before) {
        return [&](const Event& event) {
            return event.kind == before.first && event.subject == before.second;
        };
    };
    return std::all_of(cue.behind.begin(), cue.behind.end(), [&](const auto& before) {
        return std::count_if(first, events.end(), is(before)) >=
               std::count(cue.behind.begin(), cue.behind.end(), before);
    });
}

/// Begins what is told now, in order, as far as the plan would begin it too; `must`: also the next
/// that it would not. True where it began any.
bool Simulation::begin_due(bool must) {
    bool any = false;
    while (script_ != nullptr && !script_->due_now.empty()) {
        const std::uint32_t number = script_->due_now.front();
        const Cue& cue = script_->script.cues[number];
        const bool can = comes_next(cue) && objection(cue) == Objection::none;
        if (!can && !must) break;
        if (!can) must = false;
        script_->due_now.pop_front();
        begin_cue(number);
        any = true;
    }
    return any;
}

/// A list has put players somewhere: what the script says next of what they are inside of by that
/// holds for the steps that follow.
void Simulation::place_by_script(flow::PlayerId who) {
    const auto& cues = script_->script.cues;
    while (!script_->due_now.empty()) {
        const std::uint32_t number = script_->due_now.front();
        const Cue& cue = cues[number];
        if (cue.what != What::entered && cue.what != What::left) break;
        if (who && cue.player != who) break;
        script_->due_now.pop_front();
        begin_cue(number);
    }
    for (std::uint32_t player = 0; player < script_->seen.size(); ++player)
        if (!who || who.value == player) script_->seen[player].at = {};
}

/// What the plan would begin a little later is as it says.
void Simulation::look_at_objections() {
    if (script_ == nullptr) return;
    std::erase_if(script_->objected, [&](std::uint32_t number) {
        Judged& judged = script_->judged[number];
        const bool may_pass = judged.objection == Objection::not_live ||
                              judged.objection == Objection::does_not_hold ||
                              judged.objection == Objection::not_open;
        if (!may_pass || now() - judged.at > script_->patience) return true;
        // That it has fired and is running since is its own doing.
        const Objection still = objection(script_->script.cues[number]);
        const bool passed = still == Objection::none || still == Objection::spent ||
                            still == Objection::running || still == Objection::too_soon;
        if (passed) judged.objection = Objection::none;
        return passed;
    });
}

/// Triggers that fire once something holds, and that nobody needs to be anywhere for.
void Simulation::look_at_when_true() {
    if (script_ == nullptr || !flow_.booted() || flow_.ended()) return;
    for (const plan::TriggerId id : script_->when_true) {
        if (triggers_.comes_true(id)) script_->due.push_back({id, now()});
    }
}

/// Which branch a script says was chosen: the first that it has not used up. It does not say where.
std::size_t Simulation::chosen_branch(const plan::ChooseStep& choose) {
    for (std::size_t i = 0; i < script_->chosen.size(); ++i) {
        if (script_->chosen[i]) continue;
        const auto named = [&](const plan::Branch& each) {
            return each.name == script_->script.chosen[i];
        };
        const auto found = std::find_if(choose.branches.begin(), choose.branches.end(), named);
        if (found == choose.branches.end()) continue;
        script_->chosen[i] = true;
        return static_cast<std::size_t>(found - choose.branches.begin());
    }
    script_->untold_choices.push_back(now());
    return 0;
}

Replay replay(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
              const Script& script, const ReplayOptions& options, Ground& ground) {
    Options walked;
    walked.saved = options.saved;
    walked.most_transitions = std::max(walked.most_transitions, 2 * script.cues.size());
    ScriptNow now(script, options.begins, options.patience);
    now.seen.resize(plan.routes[route].players.size());
    now.unable_at.resize(plan.triggers.size(), Micros{-1});
    for (const plan::TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        if (trigger.fires == plan::Fires::when_true && !asks_where(plan, trigger.when))
            now.when_true.push_back(id);
    }
    Replay replayed;
    replayed.record =
        std::move(Simulation{plan, Cast{route, {device}}, walked, ground, &now}.run().front());
    for (Judged& each : now.judged) {
        if (each.at.count >= 0) continue; // it was begun
        each.objection =
            replayed.record.boot ? Objection::session_is_over : Objection::never_booted;
    }
    const std::optional<Micros> boot = replayed.record.boot;
    replayed.boot_end = boot ? options.begins + *boot : replayed.record.end;
    replayed.judged = std::move(now.judged);
    replayed.due = std::move(now.due);
    replayed.went_through = std::move(now.went_through);
    replayed.untold_choices = std::move(now.untold_choices);
    return replayed;
}

} // namespace hestrel::walk
