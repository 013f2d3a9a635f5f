#pragma once
// The inside of a walk: the clock, the players, and the stage that flow plays on. Everything here
// is private to src/walk.
//
// Flow runs on the machine that keeps the game. What it asks of machines is an order to each, what
// they do is news of each; both take the machine's delay (docs/model.md section 11). Where all
// players share one machine, it keeps the game, and nothing takes any time.

#include "flow/flow.hpp"
#include "flow/traveller.hpp"
#include "flow/triggers.hpp"
#include "walk/agenda.hpp"
#include "walk/delivery.hpp"
#include "walk/ground.hpp"
#include "walk/machine.hpp"
#include "walk/record.hpp"
#include "walk/replay.hpp"
#include "walk/walk.hpp"
#include "walk/walker.hpp"

#include <deque>
#include <functional>
#include <memory>
#include <set>
#include <vector>

namespace hestrel::walk {

/// A script, and how far it has come.
struct ScriptNow {
    ScriptNow(const Script& of, plan::Micros from, plan::Micros waits)
        : script(of), begins(from), patience(waits), judged(of.cues.size()),
          chosen(of.chosen.size()) {}

    const Script& script;
    plan::Micros begins;
    plan::Micros patience;
    std::vector<Judged> judged;             ///< by cue
    std::vector<bool> chosen;               ///< by branch of the script: it was taken
    std::vector<plan::TriggerId> when_true; ///< triggers that need nobody to fire
    std::vector<CameTrue> due;
    /// Where a player was when the script said so last.
    struct Seen {
        std::set<plan::TriggerId> inside;
        plan::WaypointId at; ///< unset: not known
        plan::Micros since;
        std::vector<bool> able; ///< by trigger: it could fire then
    };
    std::vector<Seen> seen;              ///< by player
    std::vector<plan::Micros> unable_at; ///< by trigger: when it could not fire last
    std::vector<WentThrough> went_through;
    std::vector<plan::Micros> untold_choices;
    std::deque<std::uint32_t> due_now;   ///< to begin in this instant
    std::vector<std::uint32_t> objected; ///< begun, and the plan may still come to agree
    std::size_t begun = 0;
    std::size_t planned = 0; ///< so many of its cues are
    bool over = false;       ///< its end has come
    /// Instead of a cue's number.
    static constexpr std::uint32_t the_end = UINT32_MAX;
};

/// One walk under way.
class Simulation final : public flow::Stage {
public:
    /// `script`: instead of routes; null: there is none.
    Simulation(const plan::Plan& plan, const Cast& cast, const Options& options, Ground& ground,
               ScriptNow* script = nullptr);
    /// Of each machine, in the order written.
    std::vector<Record> run();

    // flow::Stage: levels (stage.cpp)
    void ask(plan::LevelId level, plan::Priority priority, flow::By by) override {
        bring(level, priority, by, false);
    }
    void show(plan::LevelId level, plan::Priority priority, flow::By by) override {
        bring(level, priority, by, true);
    }
    void hide(plan::LevelId level, flow::By by) override;
    void unload(plan::LevelId level, flow::By by) override;
    void unload_others(const std::function<bool(plan::LevelId)>& stays, flow::By by) override;
    void keep(std::span<const plan::LevelId> family) override;
    void leave(const flow::Leaving& leaving) override;
    void block_for(std::span<const plan::LevelId> family) override;
    void show_block() override;
    [[nodiscard]] bool shown(plan::LevelId level) const override;
    [[nodiscard]] bool loaded(plan::LevelId level) const override;
    [[nodiscard]] bool shown_on(plan::LevelId level, flow::MachineId on) const override;
    [[nodiscard]] bool loaded_on(plan::LevelId level, flow::MachineId on) const override;
    [[nodiscard]] bool shown_anywhere(plan::LevelId level) const override;
    [[nodiscard]] bool delivered(plan::LevelId level) const override {
        return keeper().delivered(level);
    }
    [[nodiscard]] const std::set<plan::LevelId>& asked_levels() const override;
    [[nodiscard]] bool queued(plan::LevelId level) const override;
    [[nodiscard]] plan::Bytes memory(flow::PlayerId of) const override {
        return (of ? machine_at(of.value) : keeper()).loader.ledger().total();
    }
    std::vector<flow::LevelEvent> take_level_events() override;

    // flow::Stage: machines
    [[nodiscard]] std::vector<flow::MachineId> waited_for(flow::MachineId only) const override;
    [[nodiscard]] flow::MachineId machine_of(flow::PlayerId player) const override {
        return several() ? machine_at(player.value).number() : flow::MachineId{};
    }
    [[nodiscard]] bool boots_apart(flow::PlayerId player) const override {
        return !machine_at(player.value).keeps_game();
    }
    [[nodiscard]] bool has_joined(flow::PlayerId player) const override {
        return machine_at(player.value).joined;
    }
    void waited(flow::RunId run, const std::vector<flow::Waited>& machines) override;
    void switch_begins(plan::LevelId to, const std::vector<plan::LevelId>& family,
                       flow::RunId run) override;
    void switch_arrives(plan::WaypointId at) override;
    void switch_ended() override;

    // flow::Stage: the rest
    [[nodiscard]] plan::Micros now() const override { return now_; }
    void wake_after(plan::Micros delay, std::uint32_t alarm) override;
    [[nodiscard]] double speed_of(flow::PlayerId player) const override {
        return movement_of(player).speed;
    }
    [[nodiscard]] bool stands_at(flow::PlayerId player, plan::WaypointId waypoint) const override {
        return movement_of(player).at == waypoint;
    }
    [[nodiscard]] bool is_inside(flow::PlayerId player, plan::TriggerId trigger) const override {
        return script_ != nullptr ? script_->seen[player.value].inside.contains(trigger)
                                  : triggers_.is_inside(player, trigger);
    }
    [[nodiscard]] bool is_inside(flow::PlayerId player, plan::LevelId level) const override {
        return triggers_.is_inside(player, level);
    }
    void place(flow::PlayerId who, plan::WaypointId at, flow::RunId run) override;
    std::size_t pick(flow::PlayerId firer, const plan::ChooseStep& choose) override;
    void veil_changed(plan::VeilId, bool) override { triggers_.veils_changed(); }
    void veil_told(plan::VeilId veil, flow::PlayerId who, bool up) override;
    void freeze_changed(flow::PlayerId who, bool frozen) override;
    void became_live(plan::LevelId level, flow::MachineId on) override {
        triggers_.became_live(level, on);
    }
    void menu_changed(plan::MenuId menu, flow::PlayerId who, bool open) override;
    void fact_changed(plan::FactId fact) override { triggers_.fact_changed(fact); }
    void rejudge_near(bool boots) override;
    void triggers_armed() override { triggers_.arm(); }
    void note(const flow::Event& note) override;
    void firing(plan::TriggerId trigger, flow::PlayerId player) override;
    void firing_lost(plan::TriggerId trigger, flow::PlayerId player) override;

private:
    // Machines.
    [[nodiscard]] bool several() const { return machines_.size() > 1; }
    [[nodiscard]] Machine& keeper() { return *machines_.front(); }
    [[nodiscard]] const Machine& keeper() const { return *machines_.front(); }
    [[nodiscard]] Machine& machine_at(PlayerNumber player) { return *machine_of_[player]; }
    [[nodiscard]] const Machine& machine_at(PlayerNumber player) const {
        return *machine_of_[player];
    }
    [[nodiscard]] Walker::Movement movement_of(flow::PlayerId player) const {
        const Walker& walker = walkers_[player.value];
        return machine_at(player.value).near_keeper() ? walker.movement() : walker.known;
    }
    [[nodiscard]] static bool known_shown(const Machine& machine, plan::LevelId level) {
        return machine.near_keeper() ? machine.loader.shown(level) : machine.known.shown(level);
    }
    [[nodiscard]] static bool known_loaded(const Machine& machine, plan::LevelId level) {
        return machine.near_keeper() ? machine.loader.loaded(level) : machine.known.ready(level);
    }
    [[nodiscard]] static const std::set<plan::LevelId>& known_asked(const Machine& machine) {
        return machine.near_keeper() ? machine.loader.levels().asked() : machine.known.asked();
    }

    void log(EventKind kind, std::uint32_t subject = 0, std::uint32_t detail = 0) {
        keeper().log(kind, subject, detail);
    }
    void log_of(PlayerNumber player, EventKind kind, std::uint32_t subject, std::uint32_t detail) {
        machine_at(player).log(kind, subject, detail);
    }
    /// Calls `what(transition)` with that of each machine.
    void for_transition(flow::RunId run, const auto& what) {
        for (const auto& machine : machines_) {
            if (Transition* found = machine->transition(run)) what(*found);
        }
    }
    void look_for_circle(plan::ListId list);
    void log_after(plan::ListId list, flow::RunId run, flow::PlayerId player);

    // Orders and news (session.cpp).
    /// Gives an order of a transition to a machine, or (unset) to all whose boot has begun:
    /// `what(machine)` is done there when it arrives. Where that takes time, the keeper takes it to
    /// be done as `tell(machine, its number)` says.
    void order(flow::MachineId only, flow::RunId run, const auto& tell, const auto& what);
    void order(flow::MachineId only, flow::RunId run, const auto& what) {
        order(
            only, run, [](Machine&, OrderNumber) {}, what);
    }
    void bring(plan::LevelId level, plan::Priority priority, flow::By by, bool to_show);
    /// The keeper takes a level, and what is below it, to be let go.
    void tell_levels(Machine& machine, plan::LevelId level, OrderNumber number,
                     void (KnownLevels::*how)(plan::LevelId, OrderNumber,
                                              std::vector<flow::LevelEvent>&));
    /// The same of levels that a machine lets go where they are there.
    void tell_unloaded(Machine& machine, OrderNumber number,
                       const std::function<bool(plan::LevelId)>& leaves);
    void send(Machine& machine, std::function<void()> what);
    void tell_keeper(Machine& machine, std::function<void()> what);
    void carry_out(Machine& machine);
    void give_way(Machine& machine, plan::LevelId level, flow::RunId run);
    void take_news(Machine& machine, bool by_order);
    void tell(Machine& machine, loading::LevelEvent event);
    void tell_again(Machine& machine);
    void add_news(const Machine& machine, plan::LevelId level, flow::LevelChange change);
    void join_when_due(Machine& machine);
    void begin_boot(Machine& machine);
    bool end_boots();
    void end_boot(Machine& machine);
    void join(Machine& machine, plan::WaypointId at, OrderNumber after);
    [[nodiscard]] plan::WaypointId where_to_join(const Machine& machine) const;
    void cross(PlayerNumber player, flow::ZoneId zone, bool enters);
    void cross_here(PlayerNumber player, flow::ZoneId id, bool enters);
    /// A player begins to move or stops, on its machine.
    void moved(PlayerNumber player) {
        if (machine_at(player).near_keeper()) triggers_.movement_changed();
    }
    void stand_inside(PlayerNumber player, const std::set<flow::ZoneId>& inside);
    void place_here(Machine& machine, flow::PlayerId who, plan::WaypointId at, flow::RunId run);
    void place_one(PlayerNumber player, plan::WaypointId at, flow::RunId run);
    void tell_movement();
    bool press(PlayerNumber player, plan::ItemId item);
    void end_session();

    // The clock (clock.cpp).
    void plan_event(Planned::Kind kind, plan::Micros at, std::uint32_t of, std::uint32_t index);
    [[nodiscard]] bool holds(const Planned& event) const;
    [[nodiscard]] loading::Due next_planned();
    [[nodiscard]] plan::Micros next_instant();
    [[nodiscard]] loading::Due next_loading() const;
    void run_instant(plan::Micros at);
    bool run_next_event(plan::Micros at);
    void happen(const Planned& event);
    void settle();
    [[nodiscard]] bool routes_done() const;
    [[nodiscard]] bool nothing_going_on() const;
    [[nodiscard]] bool releasing() const;
    /// Whether players, unhurried, stand still until more has settled.
    [[nodiscard]] bool lingering() const {
        return route_.unhurried && !flow_.ended() && (!nothing_going_on() || releasing());
    }
    [[nodiscard]] bool frozen(PlayerNumber player) const {
        return machine_at(player).frozen(player);
    }
    [[nodiscard]] bool held(PlayerNumber player) const { return frozen(player) || lingering(); }
    void linger();
    bool drop_waiting();
    [[nodiscard]] bool session_over() const;
    [[nodiscard]] bool done() const {
        return session_over() ||
               (!flow_.ended() && routes_done() && all_cues_begun() && nothing_going_on());
    }
    void boot_ended(Machine& machine);
    void arrive_parcel(std::uint32_t number);
    /// Some step, of a route or of a list, went on now.
    void went_on() { went_on_at_ = now(); }
    void take_standing();
    [[nodiscard]] Standing standing() const;
    [[nodiscard]] flow::Snapshot snapshot() const;
    [[nodiscard]] bool can_press(plan::ItemId item, flow::PlayerId player) const;
    [[nodiscard]] std::optional<Stuck> why_it_stopped(plan::Micros next);
    void begin();
    void hold_back_parcels();
    void let_pass(plan::Micros to);
    bool judge_near();
    void finish();
    void finish(Machine& machine);
    static void add_peak(Record& record);
    static void cut_off(Record& record);
    void add_shares(Record& record) const;

    // The routes (routing.cpp).
    bool advance_routes();
    bool advance(PlayerNumber player);
    bool is_wanted(PlayerNumber player, const plan::RouteStep& step);
    [[nodiscard]] bool has_turn(PlayerNumber player) const;
    /// The boot of a player's machine has ended, and the session has not.
    [[nodiscard]] bool plays(PlayerNumber player) const {
        return machine_at(player).booted && !machine_at(player).over && !flow_.ended();
    }
    bool begin(PlayerNumber player, const plan::RouteStep& step);
    bool begin_go(PlayerNumber player, const plan::GoStep& go);
    bool begin_expect(PlayerNumber player, const plan::ExpectStep& expect);
    void add_expectation(PlayerNumber player, Expectation::Outcome outcome);
    [[nodiscard]] bool lose_patience();
    bool ask_routes_again();
    void add_never_reached();
    void next_step(PlayerNumber player);

    // Scripts (replay.cpp).
    void plan_early_cues();
    void plan_script();
    void plan_cue(std::size_t number, plan::Micros after);
    void call_cue(std::uint32_t number);
    [[nodiscard]] bool all_cues_begun() const {
        return script_ == nullptr ||
               (script_->over && script_->begun == script_->script.cues.size());
    }
    [[nodiscard]] flow::Objection objection(const Cue& cue) const;
    [[nodiscard]] bool comes_next(const Cue& cue) const;
    void begin_cue(std::uint32_t number);
    void see_player(flow::PlayerId player, plan::WaypointId at);
    void place_by_script(flow::PlayerId who);
    [[nodiscard]] bool is_able(plan::TriggerId trigger, flow::PlayerId player) const;
    [[nodiscard]] std::set<plan::TriggerId> triggers_between(plan::WaypointId from,
                                                             plan::WaypointId to);
    void look_at_triggers();
    void come_near_by_cue(plan::LevelId level);
    void go_far_by_cue(plan::LevelId level);
    bool begin_due(bool must);
    void look_at_objections();
    void look_at_when_true();
    [[nodiscard]] std::size_t chosen_branch(const plan::ChooseStep& choose);

    // Launching again (launching.cpp).
    void stand_at_start(plan::WaypointId at);
    void launch();
    void leave_behind();
    void leave_step(PlayerNumber player);
    [[nodiscard]] bool launch_after_end();
    void close_needs();

    [[nodiscard]] bool gate_closed(PlayerNumber player) const;
    void begin_leg(PlayerNumber player);
    bool pass_gates();
    void measure(PlayerNumber player);
    void move(PlayerNumber player);
    void stop_moving(PlayerNumber player);
    void freeze_here(Machine& machine, flow::PlayerId who, bool frozen);
    void piece_ended(PlayerNumber player);
    void came_to_rest(PlayerNumber player);

    // What players do and meet (accounting.cpp).
    [[nodiscard]] Doing doing(PlayerNumber player) const;
    void account();
    void account_needs(PlayerNumber player);
    [[nodiscard]] bool is_missing(PlayerNumber player, plan::LevelId level, bool stood) const;
    void look_whether_known(Machine& machine, PlayerNumber player, plan::LevelId level) const;
    void look_at_rules();
    [[nodiscard]] std::optional<Stuck> why_boot_stuck(plan::Micros since) const;
    [[nodiscard]] Stuck why_stuck() const;
    [[nodiscard]] Stuck why_stuck(PlayerNumber player) const;
    static void add_repeats(Record& record);

    const plan::Plan& plan_;
    const plan::Route& route_;
    const std::size_t most_transitions_;
    const bool stands_; ///< how everything stands is to be told
    ScriptNow* script_; ///< instead of routes; null: there is none
    loading::Sequence sequence_;
    const plan::LevelTree tree_;
    plan::Micros now_;
    std::vector<Walker> walkers_;
    std::vector<std::unique_ptr<Machine>> machines_; ///< at least one; the first keeps the game
    std::vector<Machine*> machine_of_;               ///< by player
    flow::Flow flow_;
    Ground& ground_;
    flow::Triggers triggers_;
    Agenda agenda_;
    std::vector<Delivery> parcels_;
    std::optional<plan::ListId> endless_; ///< it runs over and over, without end
    /// How often a list has run since some moment.
    struct Runs {
        plan::Micros since;
        std::uint64_t count = 0;
    };
    plan::Table<plan::ListId, Runs> runs_;
    flow::CarryLog carried_;
    plan::Micros went_on_at_; ///< the last time at which any step went on
    std::optional<Stuck> stuck_;
    /// Of this instant: reads and workers have taken their pieces.
    bool dispatched_ = false;

    // Of several machines.
    std::vector<flow::LevelEvent> news_; ///< of levels, not taken yet
    plan::Table<plan::LevelId, std::uint32_t>
        shown_on_count_; ///< as known, where players could sit
    mutable std::set<plan::LevelId> asked_anywhere_;
    std::optional<plan::WaypointId> led_to_; ///< where the last switch led
};

void Simulation::order(flow::MachineId only, flow::RunId run, const auto& tell, const auto& what) {
    for (const auto& each : machines_) {
        Machine& machine = *each;
        if ((only && machine.number() != only) || !machine.boots || machine.over) continue;
        const OrderNumber number = ++machine.sent;
        if (machine.near_keeper()) {
            machine.carried_out = number;
            machine.reached_by(run);
            what(machine);
            continue;
        }
        tell(machine, number);
        send(machine, [&machine, run, what] {
            machine.reached_by(run);
            what(machine);
        });
    }
}

/// What became of levels and transitions, from everything else in the record (outcomes.cpp).
void add_outcomes(const plan::Plan& plan, Record& record);

} // namespace hestrel::walk
