#include "flow/flow.hpp"

#include "flow/level_lists.hpp"
#include "plan/firers.hpp"
#include "plan/lists.hpp"

#include <algorithm>

namespace hestrel::flow {

using plan::LevelId;
using plan::Micros;
using plan::Priority;

namespace {

constexpr RunId boot_run{0};

/// A store as the start of a route describes it.
KeptStore store_of(const plan::Plan& plan, const plan::Start& start) {
    KeptStore store;
    for (const plan::Fact& fact : plan.facts) store.facts.push_back(fact_value(fact.initial));
    for (const plan::Assignment& each : *start.saved)
        store.facts[each.fact.value] = fact_value(each.value);
    store.checkpoint = start.checkpoint;
    return store;
}

} // namespace

Setup setup_of(const plan::Plan& plan, const plan::Start& start,
               const std::vector<std::string>& players, const std::optional<KeptStore>& saved) {
    Setup setup;
    setup.players = players.size();
    if (saved) {
        setup.saved = saved_store(plan, *saved, players);
    } else if (start.saved) {
        setup.saved = saved_store(plan, store_of(plan, start), players);
    }
    setup.checkpoint = start.checkpoint;
    setup.facts = start.facts;
    return setup;
}

Flow::Flow(const plan::Plan& plan, Stage& stage, Setup setup)
    : plan_(&plan), stage_(&stage), setup_(std::move(setup)), tree_(plan::level_tree(plan.levels)),
      menus_of_(plan.levels.size()), kept_(kept_levels(plan, tree_)),
      of_several_(plan.levels.size()), waits_(plan), running_count_(plan.lists.size()),
      runs_of_(plan.levels.size()), facts_(plan, setup_.players, setup_.saved),
      left_by_(plan.levels.size()), veils_(plan, setup_.players), freezes_(setup_.players) {
    const auto belongs_to = [&](const std::vector<LevelId>& in) {
        for (const LevelId level : in) of_several_[level] = of_several_[level] || in.size() > 1;
    };
    for (const plan::MenuId menu : plan.menus.ids()) {
        for (const LevelId level : plan.menus[menu].in) menus_of_[level].push_back(menu);
        belongs_to(plan.menus[menu].in);
    }
    for (const plan::Trigger& trigger : plan.triggers) belongs_to(trigger.in);
    for (const plan::Group& group : plan.groups) has_variants_ = has_variants_ || group.one_of;
    if (setup_.forgets_firers) {
        for (const plan::ListId list : plan.lists.ids())
            by_firer_.push(plan::goes_by_firer(plan, list));
    }
    state_.checkpoint = setup_.checkpoint;
    for (const plan::Assignment& fact : setup_.facts) {
        facts_.slots().for_each(fact.fact, {}, [&](FactSlot slot) { facts_.assign(fact, slot); });
    }
}

void Flow::boot(LevelId start, const std::vector<LevelId>& loaded) {
    boot_since_ = stage_->now();
    state_.position = position_of(start);
    freeze_for_boot(true);
    stage_->show(start, Priority::soon, {boot_run});
    const std::vector<LevelId> family =
        without_rivals(plan::boot_levels(plan_->levels, tree_, start));
    for (const LevelId level : plan_->levels.ids()) {
        if (plan_->levels[level].persist && level != start && plan::contains(family, level))
            stage_->show(level, Priority::soon, {boot_run});
    }
    std::vector<LevelId> there = family;
    for (const LevelId level : loaded) plan::append_new(there, plan::asked_with(tree_, level));
    there = without_rivals(std::move(there));
    to_load_.clear();
    for (const LevelId level : loaded) {
        if (!plan::contains(there, level)) continue;
        stage_->ask(level, Priority::soon, {boot_run});
        to_load_.push_back(level);
    }
    give_way_to(there, {boot_run});
    if (waits_.start(boot_run, plan::Awaited::shown, family, {}, *stage_)) woken_.insert(boot_run);
}

/// What is only to be loaded is waited for once all that is to be shown is.
void Flow::end_boot() {
    waits_.stop(boot_run);
    if (!waits_.start(boot_run, plan::Awaited::ready, std::exchange(to_load_, {}), {}, *stage_))
        return;
    booted_ = true;
    const std::set<LevelId> arrived = std::exchange(arrived_, {}); // one after another
    for (const LevelId level : plan_->levels.ids()) {
        if (live(level)) stage_->became_live(level, {});
        if (arrived.contains(level)) arrived_.insert(level);
    }
    stage_->rejudge_near(true);
    freeze_for_boot(false);
}

void Flow::launch(LevelId start) {
    drop_everything();
    for (const auto& [veil, who] : veils_.all_up()) {
        take_veil(veil, {});
    }
    for (const auto& [menu, who] : std::exchange(state_.open_menus, {}))
        stage_->menu_changed(menu, who, false);
    after_alarms_.clear();
    arrived_.clear();
    state_ = {};
    std::vector<PlayerId> thawed;
    for_players({}, [&](PlayerId player) {
        if (std::exchange(freezes_[player.value], 0) > 0) thawed.push_back(player);
    });
    tell_freezes({}, thawed, false);
    left_by_ = plan::Table<LevelId, RunId>(plan_->levels.size());
    facts_ = Facts(*plan_, setup_.players, facts_.saved());
    booted_ = false;
    boot(start);
}

// --- lists -------------------------------------------------------------------

bool Flow::Run::steps_left(const plan::Plan& plan) const {
    return std::any_of(cursors.begin(), cursors.end(), [&](const Cursor& cursor) {
        return cursor.next < plan.lists[cursor.list].steps.size();
    });
}

/// The level to which a list that begins now belongs.
LevelId Flow::level_of(plan::ListId list) const {
    const plan::StepList& steps = plan_->lists[list];
    const auto shown = std::find_if(steps.levels.begin(), steps.levels.end(),
                                    [&](LevelId level) { return stage_->shown_anywhere(level); });
    return shown == steps.levels.end() ? steps.level : *shown;
}

void Flow::start(plan::ListId list, PlayerId firer) {
    if (state_.ended) return;
    const RunId run{++last_run_};
    Run begun;
    begun.list = list;
    begun.cursors = {{list, 0}};
    if (by_firer_.empty() || by_firer_[list]) begun.firer = firer;
    begun.waits_since = stage_->now();
    const LevelId level = begun.level = level_of(list);
    // What a level does when it leaves is not cut short by its leaving.
    if (level && !is_leave(begun)) runs_of_[level].insert(run);
    runs_.emplace(run, std::move(begun));
    ++running_count_[list];
    stage_->note({EventKind::started, run, list.value, firer});
    proceed(run);
}

void Flow::proceed(RunId run) {
    while (!state_.ended) {
        const auto found = runs_.find(run);
        if (found == runs_.end()) return; // abandoned by its own step
        Run& state = found->second;
        Cursor& cursor = state.cursors.back();
        const std::vector<plan::Step>& steps = plan_->lists[cursor.list].steps;
        if (cursor.next == steps.size()) {
            if (state.cursors.size() == 1) {
                end_run(run);
                return;
            }
            state.cursors.pop_back(); // back to the list in which the `choose` stands
            continue;
        }
        const plan::Step& step = steps[cursor.next++];
        state.waits_since = stage_->now();
        if (carry_out(run, step) == After::waits) {
            if (!state_.ended) note(EventKind::waits, run);
            return;
        }
        apply_level_events();
    }
}

void Flow::end_run(RunId run) {
    forget(run);
    note(EventKind::ended, run);
}

/// A run is over, however it came to that; a switch that it began goes on.
void Flow::forget(RunId run) {
    Run& state = runs_.at(run);
    --running_count_[state.list];
    if (state.level) runs_of_[state.level].erase(run);
    drop_alarm(state);
    until_.erase(run);
    if (!switch_ || switch_->run != run) waits_.stop(run);
    runs_.erase(run);
}

void Flow::abandon_lists_of(LevelId level) {
    const std::set<RunId> belonging = runs_of_[level];
    for (const RunId run : belonging) {
        Run& state = runs_.at(run);
        const bool switching = switch_ && switch_->run == run;
        const bool waits_still =
            !switching && (waits_.waiting(run) || state.alarm != 0 || state.until);
        if (!state.steps_left(*plan_) && !waits_still) continue; // it ends by itself
        if (!state.lifts) {
            note(EventKind::abandoned, run, level.value);
            forget(run);
            continue;
        }
        // Whom it placed is not left behind a veil.
        if (!state.steps_left(*plan_)) continue;
        note(EventKind::abandoned, run, level.value);
        for (Cursor& cursor : state.cursors)
            cursor.next = static_cast<std::uint32_t>(plan_->lists[cursor.list].steps.size());
    }
}

bool Flow::drop_waiting() {
    const bool any = !runs_.empty();
    while (!runs_.empty()) {
        const RunId run = runs_.begin()->first;
        note(EventKind::dropped, run, runs_.at(run).list.value);
        forget(run);
        waits_.stop(run);
    }
    return any;
}

bool Flow::time_passes(std::size_t number) {
    RunId run = switch_ ? switch_->run : RunId{};
    if (number < runs_.size())
        run = std::next(runs_.begin(), static_cast<std::ptrdiff_t>(number))->first;
    for (const auto& [alarm, use] : alarms_) {
        if (use.menu || !run || use.run != run) continue;
        wake(alarm);
        return true;
    }
    return false;
}

bool Flow::ends_by_itself() const {
    return switch_ || std::any_of(alarms_.begin(), alarms_.end(),
                                  [](const auto& each) { return !each.second.menu; });
}

State Flow::state() const {
    State state = state_;
    state.booting = !booted_;
    state.has_saved = facts_.saved().has_value();
    if (state.has_saved) state.saved_checkpoint = facts_.saved()->checkpoint;
    state.veils = veils_.all_up();
    if (state.ended) { // nothing goes on after the end
        state.held.clear();
        state.let_go.clear();
        return state;
    }
    state.switched_by = static_cast<std::uint32_t>(runs_.size());
    for (const auto& [run, now] : runs_) {
        if (switch_ && switch_->run == run)
            state.switched_by = static_cast<std::uint32_t>(state.runs.size());
        state.runs.push_back(now);
    }
    if (switch_) state.switching = *switch_;
    return state;
}

void Flow::resume(const State& state) {
    drop_everything();
    booted_ = true;
    veils_.resume(state.veils, setup_.veils_just_raised);
    state_ = state;
    state_.runs.clear();
    state_.switching.reset();
    state_.veils.clear();
    freezes_.assign(setup_.players, 0);
    const auto freeze = [&](PlayerId who) {
        for_players(who, [&](PlayerId player) { ++freezes_[player.value]; });
    };
    for (const PlayerId player : state.frozen_by_step) freeze(player);
    after_alarms_.clear();
    for (const auto& [menu, who] : state.open_menus) {
        if (plan_->menus[menu].pauses) freeze(who);
    }
    for (const RunState& run : state.runs) {
        if (run.lifts) freeze(run.lifts_for);
    }
    arrived_.clear();
    for (const LevelId level : stage_->asked_levels()) {
        if (of_several_[level] && stage_->shown(level) && !state.held.contains(level))
            arrived_.insert(level);
    }
    std::vector<RunId> runs;
    for (const RunState& run : state.runs) {
        resume(run);
        runs.emplace_back(last_run_);
    }
    if (!state.switching) return;
    const bool by_list = state.switched_by < runs.size();
    resume(*state.switching, by_list ? runs[state.switched_by] : RunId{++last_run_});
}

void Flow::resume(const RunState& state) {
    const RunId run{++last_run_};
    Run now;
    static_cast<RunState&>(now) = state;
    if (now.timed) {
        now.alarm = ++last_alarm_;
        alarms_.emplace(now.alarm, AlarmUse{run, {}, {}});
    }
    if (now.until) until_.insert(run);
    if (!now.levels.empty() || !now.any_of.empty())
        waits_.start(run, now.awaited, now.levels, now.any_of, *stage_, stage_->waited_for({}));
    ++running_count_[now.list];
    if (now.level && !is_leave(now)) runs_of_[now.level].insert(run);
    runs_.emplace(run, std::move(now));
}

void Flow::resume(const SwitchState& switching, RunId by) {
    SwitchNow now;
    static_cast<SwitchState&>(now) = switching;
    now.run = by;
    switch_ = std::move(now);
    for (std::uint32_t& count : freezes_) ++count;
    const auto wait_for = [&](plan::Awaited awaited) {
        waits_.start(by, awaited, switching.family, {}, *stage_, stage_->waited_for({}));
    };
    switch (switching.stage) {
    case SwitchStage::loading: wait_for(plan::Awaited::ready); break;
    case SwitchStage::showing: wait_for(plan::Awaited::shown); break;
    case SwitchStage::lifting: alarms_.emplace(++last_alarm_, AlarmUse{by, {}, {}}); break;
    }
}

/// Whatever was going on is over: the end of a session leaves lists and a switch behind.
void Flow::drop_everything() {
    if (switch_) {
        waits_.stop(switch_->run);
        switch_.reset();
    }
    state_.held.clear();
    state_.let_go.clear();
    while (!runs_.empty()) forget(runs_.begin()->first);
    alarms_.clear();
    woken_.clear();
    until_.clear();
    level_events_.clear();
    to_start_.clear();
    applying_events_ = false;
}

std::uint32_t Flow::new_alarm(Micros delay, AlarmUse use) {
    const std::uint32_t alarm = ++last_alarm_;
    alarms_.emplace(alarm, use);
    stage_->wake_after(delay, alarm);
    return alarm;
}

void Flow::set_alarm(RunId run, Micros delay, bool gives_up) {
    Run& state = runs_.at(run);
    state.timed = true;
    state.gives_up = gives_up;
    state.alarm = new_alarm(delay, {run, {}, {}});
}

void Flow::drop_alarm(Run& run) {
    alarms_.erase(std::exchange(run.alarm, 0));
    run.timed = false;
}

/// What a run waited for has come, or counts no more.
void Flow::stop_waiting(RunId run) {
    Run& state = runs_.at(run);
    waits_.stop(run);
    until_.erase(run);
    state.until = {};
    state.awaited = plan::Awaited::shown;
    state.levels.clear();
    state.any_of.clear();
}

void Flow::wake(std::uint32_t alarm) {
    const auto found = alarms_.find(alarm);
    if (found == alarms_.end()) return;
    const AlarmUse use = found->second;
    alarms_.erase(found);
    if (use.menu) {
        start_after(use.menu, use.who);
        return;
    }
    woken_.insert(use.run);
    const auto waiting = runs_.find(use.run);
    if (waiting == runs_.end() || waiting->second.alarm != alarm) return; // a switch's
    drop_alarm(waiting->second);
    if (!waiting->second.gives_up) return;
    tell_waited(use.run);
    stop_waiting(use.run);
    note(EventKind::gave_up_waiting, use.run);
}

void Flow::wake_fulfilled() {
    for (const RunId run : until_) {
        const Run& state = runs_.at(run);
        if (holds(state.until, state.firer)) woken_.insert(run);
    }
}

/// A run's wait is over.
void Flow::tell_waited(RunId run) {
    if (waits_.of_several(run)) stage_->waited(run, waits_.machines(run));
}

bool Flow::resume_ready() {
    bool any = false;
    for (wake_fulfilled(); !woken_.empty() && !state_.ended; wake_fulfilled()) {
        const RunId run = *woken_.begin();
        woken_.erase(woken_.begin());
        if (waits_.waiting(run)) continue; // what it waited for is gone again
        const auto waiting = runs_.find(run);
        const bool gone = waiting != runs_.end() && waiting->second.until &&
                          !holds(waiting->second.until, waiting->second.firer);
        if (gone) continue;
        any = true;
        tell_waited(run);
        if (run == boot_run) {
            end_boot();
        } else if (switch_ && switch_->run == run) {
            advance_switch();
        } else if (const auto found = runs_.find(run); found != runs_.end()) {
            stop_waiting(run);
            drop_alarm(found->second);
            if (found->second.lifts) lift(run);
            proceed(run);
        }
        apply_level_events();
    }
    return any;
}

std::vector<Flow::Waiting> Flow::waiting() const {
    std::vector<Waiting> all;
    const auto add = [&](RunId run, plan::ListId list, std::size_t step, Micros since) {
        Waiting waiting;
        waiting.run = run;
        waiting.list = list;
        waiting.step = step;
        waiting.since = since;
        waiting.missing = waits_.missing(run);
        waiting.missing_groups = waits_.missing_groups(run);
        waiting.on = waits_.lacks(run);
        if (waits_.waiting(run)) waiting.awaited = waits_.awaited(run);
        all.push_back(std::move(waiting));
    };
    if (!booted_) add(boot_run, {}, 0, boot_since_);
    if (switch_ && !runs_.contains(switch_->run)) add(switch_->run, {}, 0, switch_->since);
    for (const auto& [run, state] : runs_) {
        const Cursor& cursor = state.cursors.back();
        add(run, cursor.list, cursor.next == 0 ? 0 : cursor.next - 1, state.waits_since);
        all.back().until = state.until;
        all.back().firer = state.firer;
    }
    return all;
}

// --- levels ------------------------------------------------------------------

void Flow::apply_level_events() {
    for (const LevelEvent& event : stage_->take_level_events()) level_events_.push_back(event);
    // A list that starts here, or a step of it, comes back to this: what it changes waits its turn.
    if (applying_events_) return;
    applying_events_ = true;
    while (!state_.ended && (!level_events_.empty() || !to_start_.empty())) {
        if (level_events_.empty()) {
            const plan::ListId list = to_start_.front();
            to_start_.pop_front();
            applying_events_ = false; // what this list unloads may be its own level
            start(list, {});
            applying_events_ = true;
            continue;
        }
        const LevelEvent event = level_events_.front();
        level_events_.pop_front();
        level_changed(event);
        for (const LevelEvent& more : stage_->take_level_events()) level_events_.push_back(more);
    }
    applying_events_ = false;
}

void Flow::level_changed(const LevelEvent& event) {
    switch (event.change) {
    case LevelChange::ready: break;
    case LevelChange::shown:
        if (state_.held.contains(event.level)) break;
        if (event.of_all)
            level_arrived(event.level);
        else if (booted_)
            stage_->became_live(event.level, event.on);
        break;
    case LevelChange::hidden:
        if (!event.of_all) break;
        if (arrived_.erase(event.level) > 0 && leaving_for_switch_)
            state_.let_go.insert(event.level);
        for (const plan::MenuId menu : menus_of_[event.level]) {
            if (!live_without(event.level, plan_->menus[menu].in)) close(menu, {});
        }
        if (state_.held.erase(event.level) > 0) {
            // It never arrived.
        } else if (const plan::ListId leave = plan_->levels[event.level].leave) {
            start(leave, {});
        }
        break;
    case LevelChange::unloaded:
        excuse_boot(event);
        if (!event.of_all) break;
        abandon_lists_of(event.level);
        reset_facts(
            left_by_[event.level],
            [](const plan::Fact& fact, LevelId level) {
                return fact.lifetime == plan::Lifetime::level && fact.of == level;
            },
            event.level);
        break;
    }
    for (const RunId run : waits_.look_again(event.level, *stage_)) woken_.insert(run);
}

/// Who plays on another machine can press what lets a level go before the keeper's has booted: its
/// boot does not wait for that.
void Flow::excuse_boot(const LevelEvent& event) {
    const bool of_keeper = event.on == MachineId{0U};
    if (!booted_ && of_keeper && waits_.excuse(boot_run, event.level)) woken_.insert(boot_run);
}

/// A level is shown, and nothing holds it back: its triggers live, it does what it does, its menus
/// open.
void Flow::level_arrived(LevelId level) {
    if (booted_) stage_->became_live(level, {});
    if (const plan::ListId arrive = plan_->levels[level].arrive) to_start_.push_back(arrive);
    for (const plan::MenuId menu : menus_of_[level]) {
        if (!live_without(level, plan_->menus[menu].in)) open(menu, {});
    }
    if (of_several_[level]) arrived_.insert(level);
}

void Flow::reset_facts(RunId run, bool (*which)(const plan::Fact&, LevelId), LevelId level) {
    for (const plan::FactId fact : plan_->facts.ids()) {
        if (which(plan_->facts[fact], level)) reset(run, fact, {});
    }
}

bool Flow::live(LevelId level) const {
    return booted_ && stage_->shown_anywhere(level) && !state_.held.contains(level);
}

bool Flow::live(const std::vector<LevelId>& in, MachineId on) const {
    if (in.empty()) return booted_;
    if (!booted_) return false;
    bool any = false; // each is asked about: what was live before hangs on all of them
    for (const LevelId level : in) {
        any =
            (on ? stage_->shown_on(level, on) && !state_.held.contains(level) : live(level)) || any;
    }
    return any || switch_between(in);
}

bool Flow::live_without(LevelId level, const std::vector<LevelId>& in, MachineId on) const {
    if (in.size() < 2) return false;
    const auto there = [&](LevelId other) {
        if (other == level) return false;
        stage_->note_asked(other);
        return on ? stage_->shown_on(other, on) && !state_.held.contains(other)
                  : arrived_.contains(other);
    };
    return std::any_of(in.begin(), in.end(), there) || switch_between(in);
}

/// Whether a switch under way leads from one of several levels to another.
bool Flow::switch_between(const std::vector<LevelId>& in) const {
    if (!switch_ || state_.let_go.empty()) return false;
    const auto led_to = [&](LevelId from) {
        return std::any_of(in.begin(), in.end(), [&](LevelId to) {
            return to != from && plan::contains(switch_->family, to);
        });
    };
    return std::any_of(in.begin(), in.end(),
                       [&](LevelId from) { return state_.let_go.contains(from) && led_to(from); });
}

} // namespace hestrel::flow
