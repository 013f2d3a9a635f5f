// What flow asks of its stage: orders to each machine, questions about what is known of them.

#include "plan/questions.hpp"
#include "walk/simulation.hpp"

#include <algorithm>

namespace hestrel::walk {

using flow::PlayerId;
using plan::LevelId;
using plan::Micros;

// --- levels ------------------------------------------------------------------

void Simulation::tell_levels(Machine& machine, LevelId level, OrderNumber number,
                             void (KnownLevels::*how)(LevelId, OrderNumber,
                                                      std::vector<flow::LevelEvent>&)) {
    std::vector<flow::LevelEvent> events;
    const std::vector<LevelId> levels = plan::subtree_of(tree_, level);
    for (auto each = levels.rbegin(); each != levels.rend(); ++each)
        (machine.known.*how)(*each, number, events);
    for (const flow::LevelEvent& event : events) add_news(machine, event.level, event.change);
}

void Simulation::tell_unloaded(Machine& machine, OrderNumber number,
                               const std::function<bool(LevelId)>& leaves) {
    for (const LevelId level : plan_.levels.ids()) {
        if (leaves(level)) tell_levels(machine, level, number, &KnownLevels::tell_unloaded);
    }
}

/// Asks for a level, or also wants it shown.
void Simulation::bring(LevelId level, plan::Priority priority, flow::By by, bool to_show) {
    const auto tell = [&](Machine& machine, OrderNumber number) {
        for (const LevelId each : plan::asked_with(tree_, level))
            machine.known.tell_asked(each, number);
    };
    order(by.only, by.run, tell, [this, level, priority, to_show, run = by.run](Machine& machine) {
        if (to_show)
            machine.show(level, priority, run);
        else
            machine.ask(level, priority, run);
        give_way(machine, level, run);
    });
}

/// What came near to a machine, unknown to the keeper, gives way there.
void Simulation::give_way(Machine& machine, LevelId level, flow::RunId run) {
    if (machine.near_keeper()) return; // told of each
    take_news(machine, true);
    machine.give_way_to(level, run);
    take_news(machine, false);
}

void Simulation::hide(LevelId level, flow::By by) {
    const auto tell = [&](Machine& machine, OrderNumber number) {
        tell_levels(machine, level, number, &KnownLevels::tell_hidden);
    };
    order(by.only, by.run, tell, [level](Machine& machine) { machine.loader.hide(level); });
}

void Simulation::unload(LevelId level, flow::By by) {
    const auto tell = [&](Machine& machine, OrderNumber number) {
        tell_levels(machine, level, number, &KnownLevels::tell_unloaded);
    };
    order(by.only, by.run, tell, [level](Machine& machine) { machine.loader.unload(level); });
}

void Simulation::unload_others(const std::function<bool(LevelId)>& stays, flow::By by) {
    const auto tell = [&](Machine& machine, OrderNumber number) {
        tell_unloaded(machine, number, [&](LevelId level) { return !stays(level); });
    };
    order(by.only, by.run, tell, [stays](Machine& machine) { machine.unload_others(stays); });
}

void Simulation::keep(std::span<const LevelId> family) {
    const std::vector<LevelId> kept(family.begin(), family.end());
    order({}, {}, [kept](Machine& machine) { machine.loader.keep(kept); });
}

void Simulation::leave(const flow::Leaving& leaving) {
    const auto tell = [&](Machine& machine, OrderNumber number) {
        const bool was_loaded = machine.known.ready_before(leaving.to, machine.switch_order);
        tell_unloaded(machine, number,
                      [&](LevelId level) { return flow_.leaves(leaving, level, was_loaded); });
    };
    order({}, {}, tell, [leaving](Machine& machine) { machine.leave(leaving); });
}

void Simulation::block_for(std::span<const LevelId> family) {
    const std::vector<LevelId> block(family.begin(), family.end());
    order({}, {}, [block](Machine& machine) { machine.loader.block_for(block); });
}

void Simulation::show_block() {
    order({}, {}, [](Machine& machine) { machine.loader.show_block(); });
}

bool Simulation::shown(LevelId level) const {
    return std::all_of(machines_.begin(), machines_.end(), [&](const auto& each) {
        return !each->joined || known_shown(*each, level);
    });
}

bool Simulation::loaded(LevelId level) const {
    return std::all_of(machines_.begin(), machines_.end(), [&](const auto& each) {
        return !each->joined || known_loaded(*each, level);
    });
}

bool Simulation::shown_on(LevelId level, flow::MachineId on) const {
    return on ? known_shown(*machines_[on.value], level) : shown(level);
}

bool Simulation::loaded_on(LevelId level, flow::MachineId on) const {
    return on ? known_loaded(*machines_[on.value], level) : loaded(level);
}

bool Simulation::shown_anywhere(LevelId level) const {
    return std::any_of(machines_.begin(), machines_.end(), [&](const auto& each) {
        return !each->setup().headless && known_shown(*each, level);
    });
}

const std::set<LevelId>& Simulation::asked_levels() const {
    if (!several()) return known_asked(keeper());
    asked_anywhere_.clear();
    for (const auto& machine : machines_) {
        const std::set<LevelId>& there = known_asked(*machine);
        asked_anywhere_.insert(there.begin(), there.end());
    }
    return asked_anywhere_;
}

bool Simulation::queued(LevelId level) const {
    return std::any_of(machines_.begin(), machines_.end(), [&](const auto& each) {
        return each->loader.condition(level) == loading::LevelCondition::queued;
    });
}

std::vector<flow::MachineId> Simulation::waited_for(flow::MachineId only) const {
    std::vector<flow::MachineId> all;
    for (const auto& machine : machines_) {
        if (machine->joined && (!only || machine->number() == only))
            all.push_back(machine->number());
    }
    return all;
}

// --- the rest ----------------------------------------------------------------

void Simulation::wake_after(Micros delay, std::uint32_t alarm) {
    plan_event(Planned::Kind::alarm, now() + delay, 0, alarm);
}

void Simulation::veil_told(plan::VeilId veil, PlayerId who, bool up) {
    order({}, {}, [veil, who, up](Machine& machine) { machine.change_veil(veil, who, up); });
}

void Simulation::menu_changed(plan::MenuId menu, PlayerId who, bool open) {
    triggers_.menu_changed(menu);
    order({}, {}, [menu, who, open](Machine& machine) { machine.change_menu(menu, who, open); });
}

void Simulation::rejudge_near(bool boots) {
    order(boots ? keeper().number() : flow::MachineId{}, {},
          [](Machine& machine) { machine.near.rejudge(); });
}

void Simulation::firing(plan::TriggerId trigger, PlayerId player) {
    keeper().log(EventKind::fired, trigger.value, flow_.next_run().value, player);
}

void Simulation::firing_lost(plan::TriggerId trigger, PlayerId player) {
    log(EventKind::firing_lost, trigger.value, player.value);
}

/// A menu's `after` has come, where the list is one.
void Simulation::log_after(plan::ListId list, flow::RunId run, PlayerId player) {
    const plan::StepList& begun = plan_.lists[list];
    if (begun.owner != plan::OwnerKind::after) return;
    keeper().log(EventKind::after_came, begun.index, run.value, player);
}

/// Whether a list runs more often than anything in a game does, or too much has happened in all
/// (docs/model.md, "A walk"). What routes press is as often as they say.
void Simulation::look_for_circle(plan::ListId list) {
    if (keeper().record.transitions.size() > most_transitions_) endless_ = list;
    if (plan_.lists[list].owner == plan::OwnerKind::item) return;
    constexpr Micros second = plan::seconds(1);
    constexpr std::uint64_t often = 500;
    Runs& runs = runs_[list];
    if (now() - runs.since > second && !routes_done()) runs = {now(), 0};
    if (++runs.count > often * walkers_.size()) endless_ = list;
}

void Simulation::note(const flow::Event& note) {
    const auto run = note.run.value;
    const Transition* of = keeper().transition(note.run);
    carried_.note(note, of != nullptr ? flow::CarryCause{of->list, of->near} : flow::CarryCause{},
                  flow_.facts());
    const auto fact_event = [&](EventKind kind) {
        const flow::Facts& facts = flow_.facts();
        const auto value = facts.all()[facts.slots().of(plan::FactId{note.detail}, note.player)];
        const auto told = static_cast<std::uint32_t>(static_cast<std::int32_t>(value));
        keeper().log(kind, note.detail, told, note.player);
    };
    switch (note.kind) {
    case flow::EventKind::started:
        went_on();
        for (const auto& machine : machines_) {
            Transition& begun = machine->begin_transition(note.run);
            begun.list = plan::ListId{note.detail};
            begun.firer = note.player;
        }
        log_after(plan::ListId{note.detail}, note.run, note.player);
        look_for_circle(plan::ListId{note.detail});
        return;
    case flow::EventKind::ended:
        went_on();
        for_transition(note.run, [&](Transition& each) { each.ended = now(); });
        log(EventKind::list_ended, of->list.value, run);
        return;
    case flow::EventKind::abandoned:
        for_transition(note.run, [](Transition& each) { each.abandoned = true; });
        log(EventKind::list_abandoned, note.detail, run);
        return;
    case flow::EventKind::dropped:
        went_on();
        for_transition(note.run, [](Transition& each) { each.abandoned = true; });
        log(EventKind::list_dropped, note.detail, run);
        return;
    case flow::EventKind::waits: return;
    case flow::EventKind::gave_up_waiting:
        log(EventKind::gave_up_waiting, of->list.value, run);
        return;
    case flow::EventKind::switch_began: log(EventKind::switch_began, note.detail, run); return;
    case flow::EventKind::switch_ended:
        went_on();
        log(EventKind::switch_ended, note.detail, run);
        return;
    case flow::EventKind::switch_refused: log(EventKind::switch_refused, note.detail, run); return;
    case flow::EventKind::variant_refused:
        log(EventKind::variant_refused, note.detail, run);
        return;
    case flow::EventKind::leave_refused: log(EventKind::leave_refused, note.detail, run); return;
    case flow::EventKind::leave_cant_wait: log(EventKind::leave_cant_wait, run); return;
    case flow::EventKind::fact_set: fact_event(EventKind::fact_set); return;
    case flow::EventKind::fact_reset:
        fact_event(EventKind::fact_reset);
        if (Transition* by = keeper().transition(note.run))
            by->facts_reset.emplace_back(note.detail);
        return;
    case flow::EventKind::out_of_range: log(EventKind::out_of_range, note.detail, run); return;
    case flow::EventKind::value_without_level:
        log(EventKind::value_without_level, note.detail, run);
        return;
    case flow::EventKind::marked: log(EventKind::marked, note.detail, run); return;
    case flow::EventKind::saved: log(EventKind::saved, run); return;
    case flow::EventKind::restored: log(EventKind::restored, run); return;
    case flow::EventKind::nothing_saved: log(EventKind::nothing_saved, run); return;
    case flow::EventKind::no_checkpoint: log(EventKind::no_checkpoint, run); return;
    case flow::EventKind::beyond_edition:
        log(EventKind::beyond_edition, run);
        keeper().record.beyond_edition.push_back({now(), run, note.place, LevelId{note.detail}});
        return;
    case flow::EventKind::menu_refused: log(EventKind::menu_refused, note.detail, run); return;
    case flow::EventKind::chosen:
        keeper().log(EventKind::chosen, of->list.value, note.detail, of->firer);
        return;
    case flow::EventKind::session_ended:
        log(EventKind::session_ended, run);
        end_session();
        return;
    }
}

} // namespace hestrel::walk
