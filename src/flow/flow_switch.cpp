// switch, next, back: leaving one place for another (docs/model.md section 6).

#include "flow/flow.hpp"

#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::flow {

using plan::LevelId;
using plan::Micros;
using plan::Priority;

std::optional<std::uint32_t> Flow::position_of(LevelId level) const {
    if (!setup_.edition) return std::nullopt;
    const auto& levels = plan_->editions[setup_.edition].levels;
    const auto found = std::find(levels.begin(), levels.end(), level);
    if (found == levels.end()) return std::nullopt;
    return static_cast<std::uint32_t>(found - levels.begin());
}

std::optional<plan::SwitchStep> Flow::resolved(RunId run, const plan::SwitchStep& step,
                                               std::optional<std::uint32_t>& position) {
    plan::SwitchStep target = step;
    if (step.to) {
        position = position_of(step.to);
        return target;
    }
    const std::size_t count =
        setup_.edition ? plan_->editions[setup_.edition].levels.size() : std::size_t{0};
    const auto place = plan::place_led_to(step, state_.position, count);
    if (!place) {
        const Cursor& at = runs_.at(run).cursors.back();
        const LevelId last =
            state_.position ? plan_->editions[setup_.edition].levels[*state_.position] : LevelId{};
        stage_->note({EventKind::beyond_edition,
                      run,
                      last.value,
                      {},
                      plan_->lists[at.list].steps[at.next - 1].place});
        return std::nullopt;
    }
    position = static_cast<std::uint32_t>(*place);
    target.to = plan_->editions[setup_.edition].levels[*place];
    for (const plan::Entry& entry : plan_->levels[target.to].entries) {
        if (entry.word == step.at_word) target.at = entry.waypoint;
    }
    return target;
}

Flow::After Flow::carry_out(RunId run, const plan::SwitchStep& step) {
    std::optional<std::uint32_t> position;
    const auto target = resolved(run, step, position);
    return target ? begin_switch(run, *target, position) : After::goes_on;
}

Flow::After Flow::begin_switch(RunId run, const plan::SwitchStep& step,
                               std::optional<std::uint32_t> position) {
    const bool cant_wait = is_leave(runs_.at(run));
    if (switch_ || cant_wait) {
        note(cant_wait ? EventKind::leave_cant_wait : EventKind::switch_refused, run,
             step.to.value);
        return After::goes_on;
    }
    note(EventKind::switch_began, run, step.to.value);
    SwitchNow begun;
    begun.run = run;
    begun.to = step.to;
    begun.at = step.at;
    begun.veil = step.veil;
    begun.with = step.with;
    begun.position = position;
    begun.lets_go_later = step.order == plan::SwitchOrder::load_first;
    begun.reuse = step.reuse;
    begun.blocking = step.blocking;
    begun.since = stage_->now();
    begun.target_was_loaded = stage_->loaded(step.to);
    begun.family = plan::asked_with(tree_, step.to);
    for (const LevelId level : step.with)
        plan::append_new(begun.family, plan::asked_with(tree_, level));
    begun.family = without_rivals(std::move(begun.family));
    switch_ = std::move(begun);
    stage_->switch_begins(switch_->to, switch_->family, run);
    if (step.veil) raise_veil(step.veil, {});
    freeze({});
    if (step.blocking) stage_->block_for(switch_->family);
    if (!switch_->lets_go_later) leave_old_levels();
    hold_family();
    ask_for_family();
    wait_for_family(plan::Awaited::ready);
    return After::waits;
}

/// On all machines that have joined by now.
void Flow::wait_for_family(plan::Awaited awaited) {
    const RunId run = switch_->run;
    if (waits_.start(run, awaited, switch_->family, {}, *stage_, stage_->waited_for({})))
        woken_.insert(run);
}

/// What of the family is shown before players are placed does not arrive until then.
void Flow::hold_family() {
    for (const LevelId level : switch_->family) {
        if (!stage_->shown_anywhere(level)) state_.held.insert(level);
    }
}

void Flow::ask_for_family() {
    stage_->ask(switch_->to, Priority::soon, {switch_->run});
    for (const LevelId level : switch_->with) stage_->ask(level, Priority::soon, {switch_->run});
    stage_->keep({});
    // Of other variants of places that it leads to, what came with a parent.
    if (!switch_->lets_go_later) give_way_to(switch_->family, {switch_->run});
}

bool Flow::leaves(const Leaving& leaving, LevelId level, bool target_was_loaded) const {
    const bool kept = std::binary_search(kept_.begin(), kept_.end(), level);
    const bool of_family = plan::contains(leaving.family, level);
    const bool comes_back = level == leaving.to && target_was_loaded && !leaving.reuse;
    const bool gives_way = !of_family && refuses(leaving.family, level); // another variant comes
    return gives_way || (!kept && (!of_family || comes_back));
}

void Flow::leave_old_levels() {
    const SwitchNow& now = *switch_;
    const Leaving leaving{now.to, now.family, now.reuse, now.target_was_loaded};
    for (const LevelId level : stage_->asked_levels()) {
        if (leaves(leaving, level, now.target_was_loaded)) left(level, now.run);
    }
    stage_->keep(now.family); // until it is asked for
    stage_->leave(leaving);
    switch_->lets_go_later = switch_->reuse = switch_->target_was_loaded = false;
    leaving_for_switch_ = true;
    apply_level_events();
    leaving_for_switch_ = false;
    reset_facts(now.run,
                [](const plan::Fact& fact, LevelId) {
                    return fact.lifetime == plan::Lifetime::level && !fact.of;
                },
                {});
}

void Flow::advance_switch() {
    waits_.stop(switch_->run);
    switch (switch_->stage) {
    case SwitchStage::loading:
        if (switch_->lets_go_later) {
            leave_old_levels();
            hold_family();
            ask_for_family(); // a target that was loaded already comes back
        }
        show_family();
        break;
    case SwitchStage::showing: arrive(); break;
    case SwitchStage::lifting: end_switch(); break;
    }
}

void Flow::show_family() {
    switch_->stage = SwitchStage::showing;
    stage_->show(switch_->to, Priority::soon, {switch_->run});
    for (const LevelId level : switch_->with) stage_->show(level, Priority::soon, {switch_->run});
    give_way_to(switch_->family, {switch_->run});
    if (std::exchange(switch_->blocking, false)) stage_->show_block();
    wait_for_family(plan::Awaited::shown);
    note(EventKind::waits, switch_->run);
}

void Flow::arrive() {
    const plan::VeilId veil = switch_->veil;
    const plan::WaypointId at =
        switch_->at ? switch_->at : plan::first_entry(plan_->levels[switch_->to]);
    state_.position = switch_->position;
    stage_->switch_arrives(at);
    stage_->place({}, at, switch_->run);
    const std::vector<LevelId> family = switch_->family;
    for (const LevelId level : family) {
        if (state_.held.erase(level) > 0) level_arrived(level);
    }
    state_.let_go.clear();
    apply_level_events(); // runs their `arrive` steps
    const Micros left = veil ? veils_.left(veil, stage_->now()) : Micros{};
    if (left.count > 0) {
        switch_->stage = SwitchStage::lifting;
        new_alarm(left, {switch_->run, {}, {}});
        note(EventKind::waits, switch_->run);
    } else {
        end_switch();
    }
}

void Flow::end_switch() {
    const RunId run = switch_->run;
    const plan::VeilId veil = switch_->veil;
    const LevelId to = switch_->to;
    switch_.reset();
    if (veil) take_veil(veil, {});
    stage_->rejudge_near(false);
    thaw({});
    stage_->switch_ended();
    note(EventKind::switch_ended, run, to.value);
    if (runs_.contains(run)) proceed(run);
}

} // namespace hestrel::flow
