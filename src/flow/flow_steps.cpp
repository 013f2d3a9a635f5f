// What each step does.

#include "flow/flow.hpp"

#include "flow/level_lists.hpp"

#include <algorithm>
#include <unordered_set>

namespace hestrel::flow {

using plan::LevelId;
using plan::Micros;

Flow::After Flow::carry_out(RunId run, const plan::Step& step) {
    return std::visit([&](const auto& what) { return carry_out(run, what); }, step.what);
}

PlayerId Flow::firer(RunId run, plan::Who who) const {
    return who == plan::Who::firer ? runs_.at(run).firer : PlayerId{};
}

// --- levels ------------------------------------------------------------------

Flow::After Flow::carry_out(RunId run, const plan::LoadStep& step) {
    for (const LevelId level : step.levels) stage_->ask(level, step.priority, run);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::ShowStep& step) {
    for (const LevelId level : step.levels) stage_->show(level, step.priority, run);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::HideStep& step) {
    for (const LevelId level : not_refused(run, step.levels)) stage_->hide(level);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::UnloadStep& step) {
    for (const LevelId level : not_refused(run, step.levels)) unload(level, run);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::KeepOnlyStep& step) {
    std::unordered_set<std::uint32_t> kept;
    for (const LevelId level : kept_) kept.insert(level.value);
    for (const LevelId level : step.levels) {
        for (const LevelId each : kept_with(tree_, level)) kept.insert(each.value);
    }
    std::vector<LevelId> leaving;
    for (const LevelId level : stage_->asked_levels()) {
        if (!kept.contains(level.value)) leaving.push_back(level);
    }
    for (const LevelId level : not_refused(run, leaving)) unload(level, run);
    return After::goes_on;
}

bool Flow::held_by_switch(LevelId level) const {
    if (!switch_) return false;
    // What is taken from a level is taken from all below it.
    const std::vector<LevelId> taken = plan::subtree_of(tree_, level);
    const std::vector<LevelId>& family = switch_->family;
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

void Flow::unload(LevelId level, RunId run) {
    for (const LevelId each : plan::subtree_of(tree_, level)) left_by_[each] = run;
    stage_->unload(level);
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
    } else if (waits_.start(run, step.awaited, step.levels, *stage_)) {
        return After::goes_on;
    } else {
        state.awaited = step.awaited;
        state.levels = waits_.levels(run);
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

Flow::After Flow::carry_out(RunId, const plan::FreezeStep&) {
    if (!std::exchange(state_.frozen_by_step, true)) freeze();
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId, const plan::ThawStep&) {
    if (std::exchange(state_.frozen_by_step, false)) thaw();
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::PlaceStep& step) {
    stage_->place(firer(run, step.who), step.at, run);
    return After::goes_on;
}

// --- facts and checkpoints ---------------------------------------------------

void Flow::assign(RunId run, const std::vector<plan::Assignment>& facts) {
    for (const plan::Assignment& assignment : facts) {
        const Facts::Assigned done = facts_.assign(assignment);
        if (done.kept_at_bound) note(EventKind::out_of_range, run, assignment.fact.value);
        if (!done.changed) continue;
        note(EventKind::fact_set, run, assignment.fact.value);
        stage_->fact_changed(assignment.fact);
    }
}

void Flow::set_facts(const std::vector<plan::Assignment>& facts) {
    assign({}, facts);
}

Flow::After Flow::carry_out(RunId run, const plan::SetStep& step) {
    assign(run, step.facts);
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
    for (const plan::FactId fact : step.facts) {
        if (!facts_.reset(fact)) continue;
        note(EventKind::fact_reset, run, fact.value);
        stage_->fact_changed(fact);
    }
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
    for (const plan::FactId fact : *changed) {
        note(EventKind::fact_set, run, fact.value);
        stage_->fact_changed(fact);
    }
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::MarkStep& step) {
    state_.checkpoint = Checkpoint{step.level, step.at};
    note(EventKind::marked, run, step.level.value);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::ReturnStep&) {
    if (!state_.checkpoint) {
        note(EventKind::no_checkpoint, run);
        return After::goes_on;
    }
    const Checkpoint checkpoint = *state_.checkpoint;
    if (stage_->shown(checkpoint.level)) {
        stage_->place(firer(run, plan::Who::firer), checkpoint.at, run);
        return After::goes_on;
    }
    plan::SwitchStep there;
    there.to = checkpoint.level;
    there.at = checkpoint.at;
    return begin_switch(run, there, position_of(there.to));
}

// --- menus, choices, the end -------------------------------------------------

Flow::After Flow::carry_out(RunId run, const plan::OpenStep& step) {
    const LevelId level = plan_->menus[step.menu].in;
    if (level && (!stage_->shown(level) || state_.held.contains(level))) {
        note(EventKind::menu_refused, run, step.menu.value);
    } else {
        open(step.menu);
    }
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId, const plan::CloseStep& step) {
    close(step.menu);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::ChooseStep& step) {
    Run& state = runs_.at(run);
    // In lists that no player fired, the first player picks.
    const PlayerId picks = state.firer ? state.firer : PlayerId{0};
    const plan::Branch& branch = step.branches[stage_->pick(picks, step)];
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
