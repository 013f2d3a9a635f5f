#pragma once
// What steps mean (docs/model.md section 6): one interpreter of lists of steps, used by every
// engine. It keeps the state of the game that steps change (running lists, the switch under way,
// facts, veils, freezes, open menus) and asks a Stage for everything else.
//
// Order inside an instant (section 3): after each event call `apply_level_events()` and
// `resume_ready()`; the caller then judges triggers, near rules and routes, and repeats until
// nothing changes.

#include "flow/conditions.hpp"
#include "flow/facts.hpp"
#include "flow/level_waits.hpp"
#include "flow/stage.hpp"
#include "flow/state.hpp"
#include "flow/veils.hpp"
#include "plan/level_tree.hpp"

#include <deque>
#include <map>
#include <optional>
#include <set>
#include <vector>

namespace hestrel::flow {

/// With what a game begins.
struct Setup {
    std::size_t players = 1;
    plan::EditionId edition; ///< being played; unset: none
    std::optional<SavedStore> saved;
    std::optional<Checkpoint> checkpoint = std::nullopt; ///< marked before the game begins
    std::vector<plan::Assignment> facts = {};            ///< hold from time 0
    /// A menu's `after` comes only where `run_after` says so (section 8).
    bool after_is_told = false;
    /// No `at-most` gives up.
    bool waits_for_ever = false;
    /// Who fired is forgotten where it does not matter to the list (section 8).
    bool forgets_firers = false;
    /// Veils that are up where it goes on from a situation were raised just then, not long before.
    bool veils_just_raised = false;
};

/// That of a game which begins as a route says, with players of these names; `saved` wins over its
/// store.
Setup setup_of(const plan::Plan& plan, const plan::Start& start,
               const std::vector<std::string>& players, const std::optional<KeptStore>& saved);

/// The game as far as steps are concerned.
class Flow final : private ConditionWorld {
public:
    Flow(const plan::Plan& plan, Stage& stage, Setup setup);

    /// Starts the boot (section 7): asks for the start level and all persisting ones and wants them
    /// shown; players are frozen until they all are.
    /// Asks also for all of `loaded`, and waits until they are ready.
    void boot(plan::LevelId start, const std::vector<plan::LevelId>& loaded = {});
    [[nodiscard]] bool booted() const { return booted_; }
    /// The game is switched off and launched again: all is gone but the saved store, then `boot`
    /// (section 7). The stage has let go of all levels before, and places the players after.
    void launch(plan::LevelId start);

    /// Starts a list, which runs until its first wait. `firer`: the player who fired, if one did.
    void start(plan::ListId list, PlayerId firer);
    /// The next transition's number, for what is no list of steps.
    RunId number_transition() { return RunId{++last_run_}; }
    /// The number that it will have.
    [[nodiscard]] RunId next_run() const { return RunId{last_run_ + 1}; }
    /// Presses an item of an open menu: closes the menu, unless the item stays, and starts its
    /// list.
    void press(plan::ItemId item, PlayerId player);
    /// Whether a switch under way keeps a level, or one below it, from being hidden and unloaded.
    [[nodiscard]] bool held_by_switch(plan::LevelId level) const;
    /// Whether the family of a switch keeps it.
    [[nodiscard]] bool held_by(const std::vector<plan::LevelId>& family, plan::LevelId level) const;
    /// Unloads a level for a transition.
    void unload(plan::LevelId level, By by);
    /// A level has been let go for a transition, and what comes with it.
    void left(plan::LevelId level, RunId run);
    /// Whether a switch under way leads to another variant of a place than a level, or what comes
    /// with it, is one of.
    [[nodiscard]] bool refuses(plan::LevelId level) const;
    /// Whether a switch with that family does.
    [[nodiscard]] bool refuses(const std::vector<plan::LevelId>& family, plan::LevelId level) const;
    /// Asks for a level, wanted shown, for a transition; other variants of its place go.
    void show(plan::LevelId level, plan::Priority priority, By by);
    /// The other variants of places that a level, and what comes with it, are variants of.
    [[nodiscard]] std::vector<plan::LevelId> rivals_of(plan::LevelId level) const;
    /// Whether a switch unloads a level that is there; `target_was_loaded`: before it began.
    [[nodiscard]] bool leaves(const Leaving& leaving, plan::LevelId level,
                              bool target_was_loaded) const;
    /// A menu's `after` comes now: of a menu that is open for one player, or (unset) for all.
    void run_after(plan::MenuId menu, PlayerId who) { start_after(menu, who); }
    /// Lists whose wait can't end any more are dropped, and what they were at is left as it is.
    /// True where there were any.
    bool drop_waiting();
    /// A wait of the list of that number in `State::runs` (their number: of the switch) that time
    /// ends, ends. False where time ends none.
    bool time_passes(std::size_t number);
    /// Whether time ends a wait, or a switch is under way.
    [[nodiscard]] bool ends_by_itself() const;
    /// Sets facts, as a route may.
    void set_facts(const std::vector<plan::Assignment>& facts, PlayerId player);

    /// Takes note of what changed about levels since the last call.
    void apply_level_events();
    /// Lets lists whose wait has ended go on, oldest first. True where any did.
    bool resume_ready();
    /// An alarm of `Stage::wake_after` went off.
    void wake(std::uint32_t alarm);
    /// Whether that alarm still matters to anybody.
    [[nodiscard]] bool awaits(std::uint32_t alarm) const { return alarms_.contains(alarm); }

    /// Whether a condition holds for a player (unset: nobody fired); an unset one always does.
    [[nodiscard]] bool holds(plan::ConditionId condition, PlayerId player) const {
        const bool so = !condition || flow::holds(plan_->conditions[condition], *this, player);
        if (so && condition && came_true_ != nullptr) (*came_true_)[condition.value] = true;
        return so;
    }
    /// The parts of a condition that do not hold.
    [[nodiscard]] std::vector<std::uint32_t> unmet(plan::ConditionId condition,
                                                   PlayerId player) const {
        return flow::unmet(plan_->conditions[condition], *this, player);
    }
    /// What each fact and word of a condition is for a player.
    [[nodiscard]] std::vector<plan::TermValue> leaf_values(plan::ConditionId condition,
                                                           PlayerId player) const {
        return flow::leaf_values(plan_->conditions[condition], *this, player);
    }
    /// The parts of a condition of nobody in particular that hold.
    [[nodiscard]] std::vector<std::uint32_t> met(plan::ConditionId condition) const {
        return flow::met(plan_->conditions[condition], *this, {});
    }
    /// From now on marks in `came_true`, by condition, which ever held when asked about.
    void record_true(std::vector<bool>* came_true) { came_true_ = came_true; }
    /// For anybody.
    [[nodiscard]] bool menu_open(plan::MenuId menu) const {
        const auto first = state_.open_menus.lower_bound({menu, PlayerId{0}});
        return first != state_.open_menus.end() && first->first == menu;
    }
    [[nodiscard]] bool menu_open(plan::MenuId menu, PlayerId player) const {
        return state_.open_menus.contains({menu, player}) ||
               state_.open_menus.contains({menu, PlayerId{}});
    }
    /// For whom a menu is open that is so for a player: for that player, or (unset) for all.
    [[nodiscard]] PlayerId open_for(plan::MenuId menu, PlayerId player) const {
        return state_.open_menus.contains({menu, player}) ? player : PlayerId{};
    }
    /// Triggers of `level` can fire: it is shown, and no switch or boot holds it back.
    [[nodiscard]] bool live(plan::LevelId level) const;
    /// Triggers that belong to any of several levels can fire: one of these is shown, or a switch
    /// leads from one to another; `on`: for players at that machine.
    [[nodiscard]] bool live(const std::vector<plan::LevelId>& in, MachineId on = {}) const;
    /// Whether what belongs to any of several levels was live before this one of them came, or is
    /// so when it has gone; `on`: for players at that machine.
    [[nodiscard]] bool live_without(plan::LevelId level, const std::vector<plan::LevelId>& in,
                                    MachineId on = {}) const;
    /// Whether a run of `list` has not ended yet.
    [[nodiscard]] bool running(plan::ListId list) const { return running_count_[list] > 0; }
    [[nodiscard]] bool frozen(PlayerId player) const { return freezes_[player.value] > 0; }
    [[nodiscard]] const Veils& veils() const { return veils_; }
    [[nodiscard]] const Facts& facts() const { return facts_; }
    [[nodiscard]] Facts& facts() { return facts_; }
    [[nodiscard]] State state() const;
    /// Goes on from there, booted; facts are resumed by the caller, and levels are the stage's.
    /// Lists that run get the next numbers. Nothing is left of when they began to wait: where time
    /// ends a wait, `time_passes` does.
    void resume(const State& state);
    /// The game is over.
    [[nodiscard]] bool ended() const { return state_.ended; }
    /// A switch is under way.
    [[nodiscard]] bool in_switch() const { return switch_.has_value(); }
    /// One is that has not placed its players yet.
    [[nodiscard]] bool switching() const {
        return switch_ && switch_->stage != SwitchStage::lifting;
    }
    /// No list is running, and neither boot nor switch is under way.
    [[nodiscard]] bool idle() const { return runs_.empty() && !switch_ && booted_; }

    /// A run that waits, for whoever explains why nothing goes on.
    struct Waiting {
        RunId run;
        plan::ListId list; ///< unset: the boot, or the switch of an abandoned list
        std::size_t step = 0;
        plan::Micros since;
        plan::Awaited awaited = plan::Awaited::shown;
        std::vector<plan::LevelId> missing;        ///< levels it still waits for
        std::vector<plan::GroupId> missing_groups; ///< and groups of which any one will do
        MachineId on;                              ///< the first machine that lacks any of them
        plan::ConditionId until;                   ///< set: it waits for this
        PlayerId firer;
    };
    [[nodiscard]] std::vector<Waiting> waiting() const;

private:
    struct Run : RunState {
        plan::Micros waits_since;
        std::uint32_t alarm = 0; ///< 0: none is set
        [[nodiscard]] bool steps_left(const plan::Plan& plan) const;
    };
    struct SwitchNow : SwitchState {
        RunId run;
        plan::Micros since;
    };
    /// Whom an alarm wakes.
    struct AlarmUse {
        RunId run;
        plan::MenuId menu; ///< set: its `after`
        PlayerId who;      ///< for whom that is open
    };
    /// What a step leaves a list doing.
    enum class After : std::uint8_t { goes_on, waits };

    // flow::ConditionWorld
    [[nodiscard]] std::int64_t fact_now(plan::FactId fact, PlayerId player) const override {
        return facts_.value(fact, player);
    }
    [[nodiscard]] std::size_t players() const override { return setup_.players; }
    [[nodiscard]] const plan::Group& group(plan::GroupId group) const override {
        return plan_->groups[group];
    }
    [[nodiscard]] bool shown_now(plan::LevelId level) const override {
        return stage_->shown(level);
    }
    [[nodiscard]] bool ready_now(plan::LevelId level) const override {
        return stage_->loaded(level);
    }
    [[nodiscard]] bool delivered_now(plan::LevelId level) const override {
        return stage_->delivered(level);
    }
    [[nodiscard]] bool veiled_now() const override { return veils_.any(); }
    [[nodiscard]] double speed_now(PlayerId player) const override {
        return player ? stage_->speed_of(player) : 0;
    }
    [[nodiscard]] bool of_any(PlayerId player, const auto& holds) const {
        if (player) return holds(player);
        for (std::uint32_t each = 0; each < setup_.players; ++each) {
            if (holds(PlayerId{each})) return true;
        }
        return false;
    }
    [[nodiscard]] bool at_now(plan::WaypointId waypoint, PlayerId player) const override {
        return of_any(player, [&](PlayerId each) { return stage_->stands_at(each, waypoint); });
    }
    [[nodiscard]] bool inside_now(plan::TriggerId trigger, PlayerId player) const override {
        return of_any(player, [&](PlayerId each) { return stage_->is_inside(each, trigger); });
    }
    [[nodiscard]] bool inside_now(plan::LevelId level, PlayerId player) const override {
        return of_any(player, [&](PlayerId each) { return stage_->is_inside(each, level); });
    }
    [[nodiscard]] bool open_now(plan::MenuId menu, PlayerId player) const override {
        return player ? menu_open(menu, player) : menu_open(menu);
    }
    [[nodiscard]] bool frozen_now(PlayerId player) const override {
        return of_any(player,
                      [&](PlayerId each) { return frozen(each) || !stage_->has_joined(each); });
    }
    [[nodiscard]] bool queued_now(plan::LevelId level) const override {
        return stage_->queued(level);
    }
    [[nodiscard]] double memory_now(PlayerId player) const override {
        return plan::in_mebibytes(stage_->memory(player));
    }

    // Lists (flow.cpp).
    void proceed(RunId run);
    void end_run(RunId run);
    void forget(RunId run);
    [[nodiscard]] plan::LevelId level_of(plan::ListId list) const;
    void resume(const RunState& state);
    void resume(const SwitchState& switching, RunId by);
    void abandon_lists_of(plan::LevelId level);
    [[nodiscard]] bool is_leave(const Run& run) const {
        return plan_->lists[run.list].owner == plan::OwnerKind::leave;
    }
    std::uint32_t new_alarm(plan::Micros delay, AlarmUse use);
    void set_alarm(RunId run, plan::Micros delay, bool gives_up);
    void drop_alarm(Run& run);
    void stop_waiting(RunId run);
    void wake_fulfilled();
    void level_changed(const LevelEvent& event);
    void level_arrived(plan::LevelId level);
    void excuse_boot(const LevelEvent& event);
    void tell_waited(RunId run);
    [[nodiscard]] bool switch_between(const std::vector<plan::LevelId>& in) const;
    void drop_everything();
    void reset_facts(RunId run, bool (*which)(const plan::Fact&, plan::LevelId),
                     plan::LevelId level);
    void end_boot();
    void note(EventKind kind, RunId run, std::uint32_t detail = 0) {
        stage_->note({kind, run, detail});
    }

    // Steps (flow_steps.cpp).
    After carry_out(RunId run, const plan::Step& step);
    After carry_out(RunId run, const plan::LoadStep& step);
    After carry_out(RunId run, const plan::ShowStep& step);
    After carry_out(RunId run, const plan::HideStep& step);
    After carry_out(RunId run, const plan::UnloadStep& step);
    After carry_out(RunId run, const plan::KeepOnlyStep& step);
    After carry_out(RunId run, const plan::WaitStep& step);
    After carry_out(RunId run, const plan::VeilStep& step);
    After carry_out(RunId run, const plan::UnveilStep& step);
    After carry_out(RunId run, const plan::FreezeStep& step);
    After carry_out(RunId run, const plan::ThawStep& step);
    After carry_out(RunId run, const plan::PlaceStep& step);
    After carry_out(RunId run, const plan::SwitchStep& step);
    After carry_out(RunId run, const plan::SetStep& step);
    After carry_out(RunId run, const plan::ResetStep& step);
    After carry_out(RunId run, const plan::SaveStep& step);
    After carry_out(RunId run, const plan::RestoreStep& step);
    After carry_out(RunId run, const plan::MarkStep& step);
    After carry_out(RunId run, const plan::ReturnStep& step);
    After carry_out(RunId run, const plan::OpenStep& step);
    After carry_out(RunId run, const plan::CloseStep& step);
    After carry_out(RunId run, const plan::ChooseStep& step);
    After carry_out(RunId run, const plan::CaseStep& step);
    After carry_out(RunId run, const plan::EndStep& step);
    void assign(RunId run, const std::vector<plan::Assignment>& facts, PlayerId who);
    void reset(RunId run, plan::FactId fact, PlayerId who);
    void note_fact(EventKind kind, RunId run, FactSlot slot);
    [[nodiscard]] PlayerId firer(RunId run, plan::Who who) const;
    After place_veiled(RunId run, plan::VeilId veil, PlayerId who, plan::WaypointId at);
    void lift(RunId run);
    [[nodiscard]] By by(RunId run, plan::Who who) const;
    bool refused(RunId run, plan::LevelId level);
    void give_way_to(const std::vector<plan::LevelId>& levels, By by);
    [[nodiscard]] std::vector<plan::LevelId> rivals(const std::vector<plan::LevelId>& levels) const;
    [[nodiscard]] std::vector<plan::LevelId>
    without_rivals(std::vector<plan::LevelId> levels) const;
    /// Levels of `levels` that nobody holds back; notes those that a switch refuses to let go.
    std::vector<plan::LevelId> not_refused(RunId run, const std::vector<plan::LevelId>& levels);

    // Switching (flow_switch.cpp).
    /// The step with its target resolved; nothing, and a note, where the edition has none.
    std::optional<plan::SwitchStep> resolved(RunId run, const plan::SwitchStep& step,
                                             std::optional<std::uint32_t>& position);
    [[nodiscard]] std::optional<std::uint32_t> position_of(plan::LevelId level) const;
    After begin_switch(RunId run, const plan::SwitchStep& step,
                       std::optional<std::uint32_t> position);
    void leave_old_levels();
    void hold_family();
    void wait_for_family(plan::Awaited awaited);
    void ask_for_family();
    void advance_switch();
    void show_family();
    void arrive();
    void end_switch();

    // Veils, freezes, menus (flow_menus.cpp).
    void raise_veil(plan::VeilId veil, PlayerId who);
    void take_veil(plan::VeilId veil, PlayerId who);
    void freeze(PlayerId who);
    void thaw(PlayerId who);
    void freeze_for_boot(bool frozen);
    void tell_freezes(PlayerId who, const std::vector<PlayerId>& changed, bool frozen);
    void freeze_by_step(PlayerId who);
    void thaw_by_step(PlayerId who);
    void open(plan::MenuId menu, PlayerId who);
    void close(plan::MenuId menu, PlayerId who);
    void close_one(const OpenMenu& open);
    bool drop_after(const OpenMenu& open);
    void begin_after(const OpenMenu& open);
    void start_after(plan::MenuId menu, PlayerId who);
    /// Calls `each(player)` for one player, or (unset) for all.
    void for_players(PlayerId who, const auto& each) const {
        for (std::uint32_t player = 0; player < setup_.players; ++player) {
            if (!who || who.value == player) each(PlayerId{player});
        }
    }

    const plan::Plan* plan_;
    Stage* stage_;
    Setup setup_;
    plan::LevelTree tree_;
    plan::Table<plan::LevelId, std::vector<plan::MenuId>> menus_of_;
    std::vector<plan::LevelId>
        kept_;                  ///< persisting levels, their ancestors and with-parent sublevels
    bool has_variants_ = false; ///< some place of the plan has
    /// Who fired it matters; only where firers are forgotten.
    plan::Table<plan::ListId, bool> by_firer_;
    /// Whether anything belongs to it or other levels.
    plan::Table<plan::LevelId, bool> of_several_;

    std::map<RunId, Run> runs_;
    std::uint32_t last_run_ = 0;
    std::uint32_t last_alarm_ = 0;
    std::map<std::uint32_t, AlarmUse> alarms_;
    std::set<RunId> woken_;
    std::set<RunId> until_; ///< runs that wait for a condition
    LevelWaits waits_;
    plan::Table<plan::ListId, std::uint32_t> running_count_;
    plan::Table<plan::LevelId, std::set<RunId>> runs_of_; ///< running lists that belong to a level
    std::deque<LevelEvent> level_events_;
    std::deque<plan::ListId> to_start_; ///< `arrive` lists of levels that have just been shown
    bool applying_events_ = false;

    /// What is not kept in a form of its own: without runs, switch, veils and the saved store.
    State state_;
    Facts facts_;
    std::optional<SwitchNow> switch_;
    plan::Table<plan::LevelId, RunId> left_by_; ///< what unloaded it last
    Veils veils_;
    std::vector<std::uint32_t> freezes_;             ///< by player
    std::map<OpenMenu, std::uint32_t> after_alarms_; ///< of open menus whose `after` is to come
    std::set<plan::LevelId> arrived_; ///< of those `of_several_`: shown, and not held
    bool leaving_for_switch_ = false; ///< what is hidden now, a switch lets go
    bool booted_ = false;
    std::vector<bool>* came_true_ = nullptr;
    plan::Micros boot_since_;
    std::vector<plan::LevelId> to_load_; ///< by the boot, not to be shown
};

} // namespace hestrel::flow
