#include "flow/flow.hpp"

#include <algorithm>
#include <stdexcept>
#include <unordered_set>

namespace hestrel::flow {

using plan::LevelId;
using plan::Micros;
using plan::Priority;

namespace {

constexpr RunId boot_run{0};

void append_new(std::vector<LevelId>& levels, const std::vector<LevelId>& more) {
    std::unordered_set<std::uint32_t> seen;
    for (const LevelId level : levels) seen.insert(level.value);
    for (const LevelId level : more) {
        if (seen.insert(level.value).second) levels.push_back(level);
    }
}

/// What stays with a level that stays: its ancestors, itself, its `with-parent` sublevels (section
/// 2).
std::vector<LevelId> kept_with(const plan::LevelTree& tree, LevelId level) {
    std::vector<LevelId> kept{level};
    for (std::size_t next = 0; next < kept.size(); ++next) {
        const auto& with_parent = tree[kept[next]].with_parent;
        kept.insert(kept.end(), with_parent.begin(), with_parent.end());
    }
    append_new(kept, plan::ancestors_of(tree, level));
    return kept;
}

/// What `switch` and `keep-only` never unload: persisting levels and what stays with them. Sorted.
std::vector<LevelId> kept_levels(const plan::Plan& plan, const plan::LevelTree& tree) {
    std::vector<LevelId> kept;
    for (const LevelId level : plan.levels.ids()) {
        if (plan.levels[level].persist) append_new(kept, kept_with(tree, level));
    }
    std::sort(kept.begin(), kept.end());
    return kept;
}

} // namespace

Flow::Flow(const plan::Plan& plan, Stage& stage)
    : plan_(&plan), stage_(&stage), tree_(plan::level_tree(plan.levels)),
      menus_of_(plan.levels.size()), kept_(kept_levels(plan, tree_)), waits_(plan.levels.size()),
      running_count_(plan.lists.size()), runs_of_(plan.levels.size()), held_(plan.levels.size()),
      veils_(plan.veils.size()) {
    for (const plan::MenuId menu : plan.menus.ids()) {
        if (plan.menus[menu].in) menus_of_[plan.menus[menu].in].push_back(menu);
    }
}

void Flow::boot(LevelId start) {
    boot_since_ = stage_->now();
    freeze();
    std::vector<LevelId> levels{start};
    for (const LevelId level : plan_->levels.ids()) {
        if (plan_->levels[level].persist) append_new(levels, {level});
    }
    std::vector<LevelId> family;
    for (const LevelId level : levels) {
        stage_->show(level, Priority::soon, boot_run);
        append_new(family, plan::asked_with(tree_, level));
    }
    if (waits_.start(boot_run, plan::Awaited::shown, family, *stage_)) woken_.insert(boot_run);
}

void Flow::end_boot() {
    waits_.stop(boot_run);
    booted_ = true;
    for (const LevelId level : plan_->levels.ids()) {
        if (live(level)) stage_->became_live(level);
    }
    thaw();
}

// --- lists
// -------------------------------------------------------------------------------------------

void Flow::start(plan::ListId list) {
    const RunId run{++last_run_};
    runs_.emplace(run, Run{list, 0, stage_->now(), 0, false});
    ++running_count_[list];
    if (plan_->lists[list].level) runs_of_[plan_->lists[list].level].insert(run);
    stage_->note({NoteKind::started, run, list.value});
    proceed(run);
}

void Flow::press(plan::ItemId item) {
    close(plan_->items[item].menu);
    start(plan_->items[item].steps);
}

void Flow::proceed(RunId run) {
    while (true) {
        const auto found = runs_.find(run);
        if (found == runs_.end()) return; // abandoned by its own step
        Run& state = found->second;
        const std::vector<plan::Step>& steps = plan_->lists[state.list].steps;
        if (state.next == steps.size()) {
            end_run(run);
            return;
        }
        const plan::Step& step = steps[state.next++];
        state.waits_since = stage_->now();
        if (carry_out(run, step) == After::waits) return;
        absorb();
    }
}

void Flow::end_run(RunId run) {
    const plan::ListId list = runs_.at(run).list;
    --running_count_[list];
    if (plan_->lists[list].level) runs_of_[plan_->lists[list].level].erase(run);
    waits_.stop(run);
    runs_.erase(run);
    stage_->note({NoteKind::ended, run});
}

void Flow::abandon_lists_of(LevelId level) {
    const std::set<RunId> belonging = runs_of_[level];
    for (const RunId run : belonging) {
        const Run& state = runs_.at(run);
        const bool switching = switch_ && switch_->run == run;
        const bool waits_still = !switching && (waits_.waiting(run) || state.alarm != 0);
        const bool anything_left = state.next < plan_->lists[state.list].steps.size();
        if (!anything_left && !waits_still) continue; // it ends by itself
        stage_->note({NoteKind::abandoned, run, level.value});
        --running_count_[state.list];
        if (!switching) waits_.stop(run); // the game itself carries a switch to its end
        runs_.erase(run);
        runs_of_[level].erase(run);
    }
}

void Flow::set_alarm(RunId run, Micros delay, bool gives_up) {
    Run& state = runs_.at(run);
    state.gives_up = gives_up;
    state.alarm = ++last_alarm_;
    stage_->wake_after(delay, run, state.alarm);
}

bool Flow::awaits(RunId run, std::uint32_t alarm) const {
    if (switch_ && switch_->run == run) return switch_->alarm == alarm;
    const auto found = runs_.find(run);
    return found != runs_.end() && found->second.alarm == alarm;
}

void Flow::wake(RunId run, std::uint32_t alarm) {
    if (!awaits(run, alarm)) return;
    woken_.insert(run);
    if (switch_ && switch_->run == run) return;
    Run& state = runs_.at(run);
    state.alarm = 0;
    if (!state.gives_up) return;
    waits_.stop(run);
    stage_->note({NoteKind::gave_up_waiting, run});
}

void Flow::absorb() {
    for (const LevelEvent& event : stage_->take_level_events()) {
        switch (event.change) {
        case LevelChange::ready: break;
        case LevelChange::shown:
            if (!held_[event.level]) {
                if (booted_) stage_->became_live(event.level);
                open_menus_of(event.level);
            }
            break;
        case LevelChange::hidden: close_menus_of(event.level); break;
        case LevelChange::unloaded: abandon_lists_of(event.level); break;
        }
        for (const RunId run : waits_.look_again(event.level, *stage_)) woken_.insert(run);
    }
}

bool Flow::go_on() {
    bool any = false;
    while (!woken_.empty()) {
        const RunId run = *woken_.begin();
        woken_.erase(woken_.begin());
        if (waits_.waiting(run)) continue; // what it waited for is gone again
        any = true;
        if (run == boot_run) {
            end_boot();
        } else if (switch_ && switch_->run == run) {
            advance_switch();
        } else if (const auto found = runs_.find(run); found != runs_.end()) {
            waits_.stop(run);
            found->second.alarm = 0;
            proceed(run);
        }
        absorb();
    }
    return any;
}

std::vector<Flow::Waiting> Flow::waiting() const {
    std::vector<Waiting> all;
    const auto add = [&](RunId run, plan::ListId list, std::size_t step, Micros since) {
        Waiting waiting{run, list, step, since, plan::Awaited::shown, waits_.missing(run)};
        if (waits_.waiting(run)) waiting.awaited = waits_.awaited(run);
        all.push_back(std::move(waiting));
    };
    if (!booted_) add(boot_run, {}, 0, boot_since_);
    if (switch_ && !runs_.contains(switch_->run)) add(switch_->run, {}, 0, switch_->since);
    for (const auto& [run, state] : runs_) add(run, state.list, state.next - 1, state.waits_since);
    return all;
}

// --- steps
// -------------------------------------------------------------------------------------------

Flow::After Flow::carry_out(RunId run, const plan::Step& step) {
    return std::visit(
        [&](const auto& what) -> After {
            if constexpr (requires { carry_out(run, what); }) {
                return carry_out(run, what);
            } else {
                // Whoever starts a walk refuses plans with steps that are not simulated yet.
                throw std::logic_error("a step that is not simulated yet");
            }
        },
        step.what);
}

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
    for (const LevelId level : not_refused(run, step.levels)) stage_->unload(level);
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
    for (const LevelId level : not_refused(run, leaving)) stage_->unload(level);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::WaitStep& step) {
    if (step.time) {
        if (step.time->count == 0) return After::goes_on;
        set_alarm(run, *step.time, false);
        return After::waits;
    }
    if (waits_.start(run, step.awaited, step.levels, *stage_)) return After::goes_on;
    if (step.at_most) set_alarm(run, *step.at_most, true);
    return After::waits;
}

Flow::After Flow::carry_out(RunId, const plan::VeilStep& step) {
    raise_veil(step.veil);
    return After::goes_on;
}

Flow::After Flow::carry_out(RunId run, const plan::UnveilStep& step) {
    const Micros left = veil_left(step.veil);
    if (left.count > 0) {
        --runs_.at(run).next; // tries again then
        set_alarm(run, left, false);
        return After::waits;
    }
    take_veil(step.veil);
    return After::goes_on;
}

std::vector<LevelId> Flow::not_refused(RunId run, const std::vector<LevelId>& levels) {
    std::vector<LevelId> allowed;
    for (const LevelId level : levels) {
        const bool refused = switch_ && std::find(switch_->family.begin(), switch_->family.end(),
                                                  level) != switch_->family.end();
        if (refused) {
            stage_->note({NoteKind::leave_refused, run, level.value});
        } else {
            allowed.push_back(level);
        }
    }
    return allowed;
}

// --- switch
// ------------------------------------------------------------------------------------------

Flow::After Flow::carry_out(RunId run, const plan::SwitchStep& step) {
    if (switch_) {
        stage_->note({NoteKind::switch_refused, run, step.to.value});
        return After::goes_on;
    }
    stage_->note({NoteKind::switch_began, run, step.to.value});
    SwitchNow begun;
    begun.run = run;
    begun.step = &step;
    begun.since = stage_->now();
    begun.target_was_loaded = stage_->loaded(step.to);
    begun.family = plan::asked_with(tree_, step.to);
    for (const LevelId level : step.with) append_new(begun.family, plan::asked_with(tree_, level));
    switch_ = std::move(begun);
    if (step.veil) raise_veil(step.veil);
    freeze();
    if (step.order == plan::SwitchOrder::free_first) leave_old_levels();
    if (step.blocking) stage_->block_for(switch_->family);
    ask_for_family();
    if (waits_.start(run, plan::Awaited::ready, switch_->family, *stage_)) woken_.insert(run);
    return After::waits;
}

void Flow::ask_for_family() {
    stage_->ask(switch_->step->to, Priority::soon, switch_->run);
    for (const LevelId level : switch_->step->with)
        stage_->ask(level, Priority::soon, switch_->run);
}

void Flow::leave_old_levels() {
    const SwitchNow& now = *switch_;
    std::vector<LevelId> leaving;
    const auto kept = [&](LevelId level) {
        return std::binary_search(kept_.begin(), kept_.end(), level);
    };
    for (const LevelId level : stage_->asked_levels()) {
        const bool of_family =
            std::find(now.family.begin(), now.family.end(), level) != now.family.end();
        const bool comes_back = level == now.step->to && now.target_was_loaded && !now.step->reuse;
        if (!kept(level) && (!of_family || comes_back)) leaving.push_back(level);
    }
    stage_->unload_now(leaving, now.family);
    absorb();
}

void Flow::advance_switch() {
    waits_.stop(switch_->run);
    switch (switch_->stage) {
    case SwitchStage::loading:
        if (switch_->step->order == plan::SwitchOrder::load_first) {
            leave_old_levels();
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
    for (const LevelId level : switch_->family) held_[level] = !stage_->shown(level);
    stage_->show(switch_->step->to, Priority::soon, switch_->run);
    for (const LevelId level : switch_->step->with)
        stage_->show(level, Priority::soon, switch_->run);
    const RunId run = switch_->run;
    if (waits_.start(run, plan::Awaited::shown, switch_->family, *stage_)) woken_.insert(run);
}

void Flow::arrive() {
    const plan::SwitchStep& step = *switch_->step;
    plan::WaypointId at = step.at;
    const auto& entries = plan_->levels[step.to].entries;
    if (!at && !entries.empty()) at = entries.front().waypoint;
    stage_->place_players(at);
    for (const LevelId level : switch_->family) {
        if (!held_[level]) continue;
        held_[level] = false;
        stage_->became_live(level);
        open_menus_of(level);
    }
    const Micros left = step.veil ? veil_left(step.veil) : Micros{};
    if (left.count > 0) {
        switch_->stage = SwitchStage::lifting;
        switch_->alarm = ++last_alarm_;
        stage_->wake_after(left, switch_->run, switch_->alarm);
    } else {
        end_switch();
    }
}

void Flow::end_switch() {
    const RunId run = switch_->run;
    const plan::SwitchStep& step = *switch_->step;
    switch_.reset();
    if (step.veil) take_veil(step.veil);
    thaw();
    stage_->note({NoteKind::switch_ended, run, step.to.value});
    if (runs_.contains(run)) proceed(run);
}

bool Flow::live(LevelId level) const {
    return booted_ && stage_->shown(level) && !held_[level];
}

// --- veils, freezes, menus
// ---------------------------------------------------------------------------

void Flow::raise_veil(plan::VeilId veil) {
    VeilNow& state = veils_[veil];
    if (state.up) return;
    state = {true, stage_->now()};
    ++veils_up_;
    stage_->veil_changed(veil, true);
}

Micros Flow::veil_left(plan::VeilId veil) const {
    const VeilNow& state = veils_[veil];
    if (!state.up) return {};
    return std::max(Micros{}, state.raised + plan_->veils[veil].min - stage_->now());
}

void Flow::take_veil(plan::VeilId veil) {
    VeilNow& state = veils_[veil];
    if (!state.up) return;
    state.up = false;
    --veils_up_;
    stage_->veil_changed(veil, false);
}

void Flow::freeze() {
    if (freezes_++ == 0) stage_->freeze_changed(true);
}

void Flow::thaw() {
    if (--freezes_ == 0) stage_->freeze_changed(false);
}

void Flow::open_menus_of(LevelId level) {
    for (const plan::MenuId menu : menus_of_[level]) {
        if (open_menus_.insert(menu).second) stage_->menu_changed(menu, true);
    }
}

void Flow::close_menus_of(LevelId level) {
    for (const plan::MenuId menu : menus_of_[level]) close(menu);
}

void Flow::close(plan::MenuId menu) {
    if (open_menus_.erase(menu) > 0) stage_->menu_changed(menu, false);
}

} // namespace hestrel::flow
