#pragma once
// The inside of a walk: the clock, the players, and the stage that flow plays on. Everything here
// is private to src/walk.

#include "flow/flow.hpp"
#include "flow/rules.hpp"
#include "flow/traveller.hpp"
#include "flow/triggers.hpp"
#include "loading/loader.hpp"
#include "walk/agenda.hpp"
#include "walk/delivery.hpp"
#include "walk/ground.hpp"
#include "walk/record.hpp"
#include "walk/walk.hpp"

#include <map>
#include <set>
#include <vector>

namespace hestrel::walk {

/// One player of the route, and where it is in its steps.
struct Walker {
    const plan::RoutePlayer* route = nullptr;
    flow::Traveller traveller;
    std::size_t step = 0; ///< the route step that is next or under way
    bool step_begun = false;
    plan::Micros step_since; ///< when its turn came
    bool pausing = false;
    bool impatient = false;   ///< its `expect` may wait no longer
    bool tried = false;       ///< the present step was tried, and waits for something
    bool wanted = false;      ///< its `when` held when its turn came
    std::vector<bool> picked; ///< by route step: a `pick` that was used, or that must not be yet
    bool accounting = false;  ///< after the boot and before the end of its route
    Spell spell;
    /// Levels it needs: boxes of areas, and boxes to see from, that it is inside of.
    struct Boxes {
        std::uint32_t stood = 0;
        std::uint32_t seen = 0;
    };
    std::map<plan::LevelId, Boxes> needs;
    /// What of that lasts at the moment: index + 1 in the record.
    struct Open {
        std::size_t needed = 0;
        std::size_t gap = 0;
    };
    std::map<std::pair<plan::LevelId, bool>, Open> open; ///< by level and whether it stands in it

    [[nodiscard]] bool done() const { return step == route->steps.size(); }
    /// What the present step is, where it is of that kind; else null.
    template <class Step>
    [[nodiscard]] const Step* at_step() const {
        return done() ? nullptr : std::get_if<Step>(&route->steps[step].what);
    }
    /// Its present step has begun and is not over: what a launch ends.
    [[nodiscard]] bool under_way() const {
        return !done() && (step_begun || (tried && at_step<plan::GoStep>() == nullptr));
    }
    /// A `go` of its route that has set out and is not over.
    [[nodiscard]] bool going() const { return step_begun && at_step<plan::GoStep>() != nullptr; }
};

/// One walk under way.
class Simulation final : public flow::Stage {
public:
    Simulation(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
               const Options& options, Ground& ground);
    Record run();

    // flow::Stage
    void ask(plan::LevelId level, plan::Priority priority, flow::RunId run) override;
    void show(plan::LevelId level, plan::Priority priority, flow::RunId run) override;
    void hide(plan::LevelId level) override { loader_.hide(level); }
    void unload(plan::LevelId level) override { loader_.unload(level); }
    void raise(plan::LevelId level, plan::Priority priority) override {
        loader_.raise(level, priority);
    }
    void keep(std::span<const plan::LevelId> family) override { loader_.keep(family); }
    void unload_now(std::span<const plan::LevelId> leaving) override {
        loader_.unload_now(leaving);
    }
    void block_for(std::span<const plan::LevelId> family) override { loader_.block_for(family); }
    void show_block() override { loader_.show_block(); }
    [[nodiscard]] bool shown(plan::LevelId level) const override { return loader_.shown(level); }
    [[nodiscard]] bool loaded(plan::LevelId level) const override { return loader_.loaded(level); }
    [[nodiscard]] bool delivered(plan::LevelId level) const override;
    [[nodiscard]] const std::set<plan::LevelId>& asked_levels() const override {
        return loader_.levels().asked();
    }
    [[nodiscard]] bool queued(plan::LevelId level) const override {
        return loader_.condition(level) == loading::LevelCondition::queued;
    }
    [[nodiscard]] plan::Bytes memory() const override { return loader_.ledger().total(); }
    [[nodiscard]] bool wanted_shown(plan::LevelId level) const override {
        return loader_.levels()[level].wanted;
    }
    std::vector<flow::LevelEvent> take_level_events() override;
    [[nodiscard]] plan::Micros now() const override { return loader_.now(); }
    void wake_after(plan::Micros delay, std::uint32_t alarm) override;
    [[nodiscard]] double speed_of(flow::PlayerId player) const override {
        return walkers_[player.value].traveller.speed_now();
    }
    [[nodiscard]] bool stands_at(flow::PlayerId player, plan::WaypointId waypoint) const override {
        return walkers_[player.value].traveller.at == waypoint;
    }
    [[nodiscard]] bool is_inside(flow::PlayerId player, plan::TriggerId trigger) const override {
        return triggers_.is_inside(player, trigger);
    }
    [[nodiscard]] bool is_inside(flow::PlayerId player, plan::LevelId level) const override {
        return triggers_.is_inside(player, level);
    }
    void place(flow::PlayerId who, plan::WaypointId at, flow::RunId run) override;
    std::size_t pick(flow::PlayerId player, const plan::ChooseStep& choose) override;
    void veil_changed(plan::VeilId veil, bool up) override;
    void freeze_changed(flow::PlayerId who, bool frozen) override;
    void became_live(plan::LevelId level) override { triggers_.became_live(level); }
    void menu_changed(plan::MenuId menu, flow::PlayerId who, bool open) override {
        triggers_.menu_changed(menu);
        log(open ? EventKind::menu_opened : EventKind::menu_closed, menu.value, who.value);
    }
    void fact_changed(plan::FactId fact) override { triggers_.fact_changed(fact); }
    void rejudge_near() override { triggers_.rejudge_near(); }
    void triggers_armed() override { triggers_.arm(); }
    void note(const flow::Event& note) override;
    void crossed(flow::PlayerId player, const flow::Zone& zone, bool enters) override;
    void firing(plan::TriggerId trigger) override;
    void firing_lost(plan::TriggerId trigger, flow::PlayerId player) override;
    void near_began(plan::LevelId level, bool went_far, flow::RunId run) override;
    void near_refused(plan::LevelId level) override;

private:
    using PlayerNumber = std::uint32_t;

    void log(EventKind kind, std::uint32_t subject = 0, std::uint32_t detail = 0) {
        record_.events.push_back({now(), kind, subject, detail, {}});
    }
    [[nodiscard]] Transition* transition(flow::RunId run);
    /// Records that one begins now.
    Transition& begin_transition(flow::RunId run);
    void look_for_circle(plan::ListId list);
    void called(plan::LevelId level, flow::RunId run, bool to_show);

    // The clock (walk.cpp).
    void plan_event(Planned::Kind kind, plan::Micros at, PlayerNumber player, std::uint32_t index);
    [[nodiscard]] bool holds(const Planned& event) const;
    [[nodiscard]] loading::Due next_planned();
    [[nodiscard]] plan::Micros next_instant() {
        return std::min(next_planned().at, loader_.next_instant());
    }
    void run_instant(plan::Micros at);
    bool run_next_event(plan::Micros at);
    void happen(const Planned& event);
    void settle();
    [[nodiscard]] bool routes_done() const;
    [[nodiscard]] bool nothing_going_on() const { return flow_.idle() && loader_.idle(); }
    /// Whether players, unhurried, stand still until more has settled.
    [[nodiscard]] bool lingering() const {
        return route_.unhurried && !flow_.ended() && (!nothing_going_on() || loader_.releasing());
    }
    [[nodiscard]] bool frozen(PlayerNumber player) const {
        return flow_.frozen(flow::PlayerId{player});
    }
    [[nodiscard]] bool held(PlayerNumber player) const { return frozen(player) || lingering(); }
    void linger();
    bool drop_waiting();
    [[nodiscard]] bool done() const {
        return flow_.ended() || (routes_done() && nothing_going_on());
    }
    void boot_ended();
    void arrive_parcel(std::uint32_t number);
    /// Some step, of a route or of a list, went on now.
    void went_on() { went_on_at_ = now(); }
    void take_standing();
    [[nodiscard]] Standing standing() const;
    [[nodiscard]] flow::Snapshot snapshot() const;
    [[nodiscard]] bool can_press(plan::ItemId item, flow::PlayerId player) const;
    void finish();
    void add_peak();
    void cut_off();
    void add_shares();

    // The routes (routing.cpp).
    bool advance_routes();
    bool advance(PlayerNumber player);
    bool is_wanted(PlayerNumber player, const plan::RouteStep& step);
    [[nodiscard]] bool has_turn(PlayerNumber player) const;
    bool begin(PlayerNumber player, const plan::RouteStep& step);
    bool begin_go(PlayerNumber player, const plan::GoStep& go);
    bool begin_expect(PlayerNumber player, const plan::ExpectStep& expect);
    void add_expectation(PlayerNumber player, Expectation::Outcome outcome);
    [[nodiscard]] bool lose_patience();
    bool ask_routes_again();
    void add_never_reached();
    void next_step(PlayerNumber player);

    // Launching again (launching.cpp).
    void stand_at_start(plan::WaypointId at);
    void launch();
    void leave_behind();
    void leave_step(PlayerNumber player);
    [[nodiscard]] bool launch_after_end();
    void close_needs();

    [[nodiscard]] bool gate_closed(const flow::Traveller& traveller) const;
    void begin_leg(PlayerNumber player);
    bool pass_gates();
    void measure(PlayerNumber player);
    void move(PlayerNumber player);
    void stop_moving(PlayerNumber player);
    void piece_ended(PlayerNumber player);
    void came_to_rest(PlayerNumber player);

    // What players do and meet (accounting.cpp).
    [[nodiscard]] Doing doing(PlayerNumber player) const;
    void account();
    void account_needs(PlayerNumber player);
    [[nodiscard]] bool is_missing(const Walker& walker, plan::LevelId level, bool stood) const;
    void look_at_rules();
    [[nodiscard]] Stuck why_stuck() const;
    [[nodiscard]] Stuck why_stuck(PlayerNumber player) const;
    void add_repeats();

    const plan::Plan& plan_;
    const plan::Route& route_;
    const std::size_t most_transitions_;
    const bool stands_; ///< how everything stands is to be told
    loading::Sequence sequence_;
    const loading::Catalogue catalogue_;
    loading::Loader loader_;
    std::vector<Walker> walkers_;
    flow::Flow flow_;
    Ground& ground_;
    flow::Triggers triggers_;
    flow::Rules rules_;
    plan::Table<plan::RuleId, std::size_t> breaches_; ///< open ones: index + 1 in the record
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
    bool booting_ = true;
    /// Of this instant: reads and workers have taken their pieces.
    bool dispatched_ = false;

    Record record_;
};

/// What became of levels and transitions, from everything else in the record (outcomes.cpp).
void add_outcomes(const plan::Plan& plan, Record& record);

} // namespace hestrel::walk
