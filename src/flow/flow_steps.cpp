// What each step does.

#include "flow/flow.hpp"

#include "flow/level_lists.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <memory>
#include <unordered_set>

namespace hestrel::flow {

using plan::LevelId;
using plan::Micros;

Flow::After Flow::carry_out(RunId run, const plan::Step& step) {
    return std::visit([&](const auto& what) { return carry_out(run, what); }, step.what);
}

By Flow::by(RunId run, plan::Who who) const {
    const PlayerId fired = firer(run, who);
    return {run, fired ? stage_->machine_of(fired) : MachineId{}};
}

PlayerId Flow::firer(RunId run, plan::Who who) const {
    return who == plan::Who::firer ? runs_.at(run).firer : PlayerId{};
}

// --- levels ------------------------------------------------------------------

Flow::After Flow::carry_out(RunId run, const plan::LoadStep& step) {
    const By sent = by(run, step.who);
    for (const LevelId level : step.levels) {
        if (refused(run, level)) continue;
        stage_->ask(level, step.priority, sent);
        give_way_to(plan::asked_with(tree_, level), sent);
    }
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::ShowStep& step) {
    const By sent = by(run, step.who);
    for (const LevelId level : step.levels) {
        if (!refused(run, level)) show(level, step.priority, sent);
    }
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::HideStep& step) {
    const By sent = by(run, step.who);
    for (const LevelId level : not_refused(run, step.levels)) stage_->hide(level, sent);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::UnloadStep& step) {
    const By sent = by(run, step.who);
    for (const LevelId level : not_refused(run, step.levels)) unload(level, sent);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::KeepOnlyStep& step) {
    const auto kept = std::make_shared<std::unordered_set<std::uint32_t>>();
    for (const LevelId level : kept_) kept->insert(level.value);
    for (const LevelId level : step.levels) {
        for (const LevelId each : kept_with(tree_, level)) kept->insert(each.value);
    }
    std::vector<LevelId> leaving;
    for (const LevelId level : stage_->asked_levels()) {
        if (!kept->contains(level.value)) leaving.push_back(level);
    }
    for (const LevelId level : not_refused(run, leaving)) left(level, run);
    const std::vector<LevelId> family = switch_ ? switch_->family : std::vector<LevelId>{};
    const auto stays = [this, kept, family](LevelId level) {
        return kept->contains(level.value) || held_by(family, level);
    };
    stage_->unload_others(stays, {run});
    return After::goes_on;
}

bool Flow::held_by_switch(LevelId level) const {
    return switch_ && held_by(switch_->family, level);
}

bool Flow::held_by(const std::vector<LevelId>& family, LevelId level) const {
    if (family.empty()) return false;
    // What is taken from a level is taken from all below it.
    const std::vector<LevelId> taken = plan::subtree_of(tree_, level);
    return std::any_of(taken.begin(), taken.end(), [&](LevelId each) {
        return std::find(family.begin(), family.end(), each) != family.end();
    });
}

std::vector<LevelId> Flow::not_refused(RunId run, const std::vector<LevelId>& levels) {
    std::vector<LevelId> allowed;
    for (const LevelId level : levels) {
        if (held_by_switch(level)) {
            note(EventKind::leave_refused, run, level.value);
        } else {
            allowed.push_back(level);
        }
    }
    return allowed;
}

bool Flow::refuses(LevelId level) const {
    return switch_ && refuses(switch_->family, level);
}

bool Flow::refuses(const std::vector<LevelId>& family, LevelId level) const {
    if (!has_variants_ || family.empty()) return false;
    const std::vector<LevelId> asked = without_rivals(plan::asked_with(tree_, level));
    return std::any_of(asked.begin(), asked.end(), [&](LevelId each) {
        const plan::GroupId variants = plan_->levels[each].variants;
        return variants && plan::any_of_group(*plan_, variants, [&](LevelId other) {
                   return other != each && plan::contains(family, other);
               });
    });
}

bool Flow::refused(RunId run, LevelId level) {
    if (!refuses(level)) return false;
    note(EventKind::variant_refused, run, level.value);
    return true;
}

/// Of variants of a place that are asked for together, as one that comes with its parent and
/// another by name, only the first. What comes with one that is left out is left out, too.
std::vector<LevelId> Flow::without_rivals(std::vector<LevelId> levels) const {
    if (!has_variants_) return levels;
    std::set<plan::GroupId> taken;
    std::set<LevelId> left_out;
    std::erase_if(levels, [&](LevelId level) {
        const plan::GroupId variants = plan_->levels[level].variants;
        const bool out =
            left_out.contains(tree_[level].parent) || (variants && !taken.insert(variants).second);
        if (out) left_out.insert(level);
        return out;
    });
    return levels;
}

void Flow::show(LevelId level, plan::Priority priority, By by) {
    stage_->show(level, priority, by);
    give_way_to(plan::asked_with(tree_, level), by);
}

/// Levels have been asked for: other variants of their places go.
void Flow::give_way_to(const std::vector<LevelId>& levels, By by) {
    for (const LevelId other : rivals(levels)) {
        if (stage_->is_asked(other)) unload(other, by);
    }
}

/// The other variants of places that levels which are asked for together are variants of.
std::vector<LevelId> Flow::rivals(const std::vector<LevelId>& levels) const {
    std::vector<LevelId> rivals;
    if (!has_variants_) return rivals;
    for (const LevelId each : without_rivals(levels)) {
        const plan::GroupId variants = plan_->levels[each].variants;
        if (!variants) continue;
        for (const LevelId other : plan_->groups[variants].levels) {
            if (other != each) rivals.push_back(other);
        }
    }
    return rivals;
}

std::vector<LevelId> Flow::rivals_of(LevelId level) const {
    return rivals(plan::asked_with(tree_, level));
}

void Flow::unload(LevelId level, By by) {
    left(level, by.run);
    stage_->unload(level, by);
}

void Flow::left(LevelId level, RunId run) {
    for (const LevelId each : plan::subtree_of(tree_, level)) left_by_[each] = run;
}

// --- waiting -----------------------------------------------------------------

Flow::After Flow::carry_out(RunId run, const plan::WaitStep& step) {
    Run& state = runs_.at(run);
    if (is_leave(state)) {
        note(EventKind::leave_cant_wait, run);
        return After::goes_on;
    }
    if (step.time) {
        if (step.time->count == 0) return After::goes_on;
        set_alarm(run, *step.time, false);
        return After::waits;
    }
    if (step.until) {
        // Judged once all of this moment's lists have run: what is taken back at once is not seen.
        state.until = step.until;
        until_.insert(run);
    } else if (waits_.start(run, step.awaited, step.levels, step.any_of, *stage_,
                            stage_->waited_for(by(run, step.who).only))) {
        return After::goes_on;
    } else {
        state.awaited = step.awaited;
        state.levels = waits_.levels(run);
        state.any_of = step.any_of;
    }
    if (step.at_most && !setup_.waits_for_ever) set_alarm(run, *step.at_most, true);
    return After::waits;
}

// --- veils, freezes, places --------------------------------------------------

Flow::After Flow::carry_out(RunId run, const plan::VeilStep& step) {
    raise_veil(step.veil, firer(run, step.who));
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::UnveilStep& step) {
    const Micros left = veils_.left(step.veil, stage_->now());
    if (left.count > 0) {
        Run& state = runs_.at(run);
        if (is_leave(state)) {
            note(EventKind::leave_cant_wait, run);
            return After::goes_on;
        }
        --state.cursors.back().next; // tries again then
        set_alarm(run, left, false);
        return After::waits;
    }
    take_veil(step.veil, firer(run, step.who));
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::FreezeStep& step) {
    freeze_by_step(firer(run, step.who));
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::ThawStep& step) {
    thaw_by_step(firer(run, step.who));
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::PlaceStep& step) {
    const PlayerId who = firer(run, step.who);
    if (step.veil) return place_veiled(run, step.veil, who, step.at);
    stage_->place(who, step.at, run);
    return After::goes_on;
}

/// Behind a veil, which comes down once it has been up for its `min`.
Flow::After Flow::place_veiled(RunId run, plan::VeilId veil, PlayerId who, plan::WaypointId at) {
    Run& state = runs_.at(run);
    if (is_leave(state)) {
        note(EventKind::leave_cant_wait, run);
        return After::goes_on;
    }
    raise_veil(veil, who);
    freeze(who);
    stage_->place(who, at, run);
    state.lifts = veil;
    state.lifts_for = who;
    const Micros left = veils_.left(veil, stage_->now());
    if (left.count > 0) {
        set_alarm(run, left, false);
        return After::waits;
    }
    lift(run);
    return After::goes_on;
}

void Flow::lift(RunId run) {
    Run& state = runs_.at(run);
    const PlayerId who = std::exchange(state.lifts_for, {});
    take_veil(std::exchange(state.lifts, {}), who);
    thaw(who);
}

// --- facts and checkpoints ---------------------------------------------------

void Flow::note_fact(EventKind kind, RunId run, FactSlot slot) {
    const FactSlots& slots = facts_.slots();
    stage_->note({kind, run, slots.fact(slot).value, slots.player(slot)});
}

void Flow::assign(RunId run, const std::vector<plan::Assignment>& facts, PlayerId who) {
    for (const plan::Assignment& assignment : facts) {
        facts_.slots().for_each(assignment.fact, who, [&](FactSlot slot) {
            const Facts::Assigned done = facts_.assign(assignment, slot);
            if (done.kept_at_bound) note_fact(EventKind::out_of_range, run, slot);
            if (!done.changed) return;
            note_fact(EventKind::fact_set, run, slot);
            stage_->fact_changed(assignment.fact);
        });
    }
}

void Flow::reset(RunId run, plan::FactId fact, PlayerId who) {
    facts_.slots().for_each(fact, who, [&](FactSlot slot) {
        if (!facts_.reset(slot)) return;
        note_fact(EventKind::fact_reset, run, slot);
        stage_->fact_changed(fact);
    });
}

void Flow::set_facts(const std::vector<plan::Assignment>& facts, PlayerId player) {
    assign({}, facts, player);
}

Flow::After Flow::carry_out(RunId run, const plan::SetStep& step) {
    assign(run, step.facts, firer(run, plan::Who::firer));
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::ResetStep& step) {
    if (step.session) {
        reset_facts(
            run,
            [](const plan::Fact& fact, LevelId) { return fact.lifetime != plan::Lifetime::saved; },
            {});
        stage_->triggers_armed();
    }
    for (const plan::FactId fact : step.facts) reset(run, fact, firer(run, plan::Who::firer));
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::SaveStep&) {
    facts_.save(state_.checkpoint);
    note(EventKind::saved, run);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::RestoreStep&) {
    const auto changed = facts_.restore();
    if (changed) state_.checkpoint = facts_.saved()->checkpoint;
    note(changed ? EventKind::restored : EventKind::nothing_saved, run);
    if (!changed) return After::goes_on;
    for (const FactSlot slot : *changed) {
        note_fact(EventKind::fact_set, run, slot);
        stage_->fact_changed(facts_.slots().fact(slot));
    }
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::MarkStep& step) {
    state_.checkpoint = Checkpoint{step.level, step.at};
    note(EventKind::marked, run, step.level.value);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::ReturnStep& step) {
    if (!state_.checkpoint) {
        note(EventKind::no_checkpoint, run);
        return After::goes_on;
    }
    const Checkpoint checkpoint = *state_.checkpoint;
    if (stage_->shown(checkpoint.level)) {
        const PlayerId who = firer(run, plan::Who::firer);
        if (step.how.veil) return place_veiled(run, step.how.veil, who, checkpoint.at);
        stage_->place(who, checkpoint.at, run);
        return After::goes_on;
    }
    plan::SwitchStep there = step.how;
    there.to = checkpoint.level;
    there.at = checkpoint.at;
    return begin_switch(run, there, position_of(there.to));
}

// --- menus, choices, the end -------------------------------------------------

Flow::After Flow::carry_out(RunId run, const plan::OpenStep& step) {
    const std::vector<LevelId>& in = plan_->menus[step.menu].in;
    const auto there = [&](LevelId level) {
        return stage_->shown_anywhere(level) && !state_.held.contains(level);
    };
    if (in.empty() || std::any_of(in.begin(), in.end(), there) || switch_between(in)) {
        open(step.menu, firer(run, step.who));
    } else {
        note(EventKind::menu_refused, run, step.menu.value);
    }
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::CloseStep& step) {
    close(step.menu, firer(run, step.who));
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::ChooseStep& step) {
    Run& state = runs_.at(run);
    const plan::Branch& branch = step.branches[stage_->pick(state.firer, step)];
    note(EventKind::chosen, run, branch.name.value);
    state.cursors.push_back({branch.steps, 0});
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::CaseStep& step) {
    Run& state = runs_.at(run);
    for (const plan::Case& each : step.cases) {
        if (!holds(each.when, state.firer)) continue;
        if (!step.all_told && !each.when) note(EventKind::value_without_level, run, step.by.value);
        state.cursors.push_back({each.steps, 0});
        break;
    }
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::EndStep&) {
    state_.ended = true;
    note(EventKind::session_ended, run);
    return After::waits; // nothing comes after the end
}

} // namespace hestrel::flow
