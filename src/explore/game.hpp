#pragma once
// The game from one settled situation to the next: the interpreter and the triggers of flow/ on a
// stage on which loads are done at once (docs/model.md section 8).
//
// Nothing takes time but waits. What has been asked for becomes ready in order of asking, then is
// attached level by level, then the next wait ends: as on a machine that loads much faster than
// any list waits.

#include "explore/reduction.hpp"
#include "explore/situation.hpp"
#include "flow/rules.hpp"
#include "loading/levels.hpp"
#include "plan/level_tree.hpp"

#include <map>
#include <queue>
#include <set>
#include <tuple>

namespace hestrel::explore {

/// One game that can be put into any situation. Not copied: what it is made of refers to it.
class Game final : public flow::Stage,
                   private loading::LevelDriver,
                   private flow::NearStage,
                   private flow::RuleWorld {
public:
    /// `reduction`: what is left out. `begins`: facts, saved store and checkpoint with which it
    /// does.
    Game(const plan::Plan& plan, plan::EditionId edition, std::vector<plan::PlayerKindId> players,
         Pace pace = Pace::unhurried, Reduction reduction = {}, flow::Setup begins = {});

    /// The boot (section 7), with every player at `at`; once, and before all else. Until all has
    /// settled; where players hurry, until they can move.
    void boot(plan::LevelId level, plan::WaypointId at, const std::vector<std::size_t>& picks,
              const std::vector<plan::LevelId>& loaded = {});
    /// Goes on from another situation: facts, saved facts and spent triggers are set through
    /// `flow` and `triggers` before, and `resumed` called once all is set.
    void resume(const std::vector<LevelThere>& levels, const flow::State& settled);
    void resume(flow::PlayerId player, const PlayerNow& now);
    void resumed();

    /// Does it, from the situation it is in, until everything has settled; where players hurry,
    /// until everything waits for something. False where it can't be done. `picks` says which
    /// branches are taken; where it ends the first one is.
    bool perform(const Move& move, const std::vector<std::size_t>& picks);
    /// How many branches each `choose` had that was met in the last move.
    [[nodiscard]] const std::vector<std::size_t>& choices() const { return choices_; }
    [[nodiscard]] const MoveLog& log() const { return log_; }
    /// What became of facts in the last move.
    [[nodiscard]] const std::vector<flow::Carried>& carried() const { return carried_.all(); }

    [[nodiscard]] std::vector<LevelThere> levels() const;
    [[nodiscard]] PlayerNow player(flow::PlayerId player) const;
    [[nodiscard]] const flow::Flow& flow() const { return flow_; }
    flow::Flow& flow() { return flow_; }
    flow::Triggers& triggers() { return triggers_; }
    /// The zones of which it was asked, in the last move, whether a player is inside; each once,
    /// sorted. Who sets out, or is on the way, is asked about more.
    [[nodiscard]] std::vector<flow::ZoneId> asked_zones(flow::PlayerId player) const {
        return asked_zones_.of(player);
    }
    /// The levels that anything in the last move went by, or changed. What is on its way, or
    /// leaves, is known to whoever made it, and not told.
    [[nodiscard]] const loading::TouchedLevels& touched() const { return touched_; }
    flow::Rules& rules() { return rules_; }
    [[nodiscard]] const flow::Zones& zones() const { return zones_; }
    /// Whether a step placed a player anywhere in the last move.
    [[nodiscard]] bool placed(flow::PlayerId player) const { return placed_[player.value]; }
    [[nodiscard]] std::size_t players() const { return travellers_.size(); }
    /// Whether the last move could have gone otherwise at another speed.
    [[nodiscard]] bool asked_for_speed() const { return asked_for_speed_; }
    /// Whether it mattered in the last move which of several players of one kind is the first.
    [[nodiscard]] bool order_did_matter() const { return order_mattered_; }
    /// Whether anything in the last move went by where a player is.
    [[nodiscard]] bool asked_where(flow::PlayerId player) const {
        return asked_where_[player.value];
    }
    /// The speed that a move's player goes at, m/s.
    [[nodiscard]] double speed_of_move(const Move& move) const;

    // flow::Stage
    void ask(plan::LevelId level, plan::Priority priority, flow::By by) override;
    void show(plan::LevelId level, plan::Priority priority, flow::By by) override;
    void hide(plan::LevelId level, flow::By) override { levels_.hide(level); }
    void unload(plan::LevelId level, flow::By) override { levels_.unload(level); }
    void unload_others(const std::function<bool(plan::LevelId)>& stays, flow::By by) override;
    void keep(std::span<const plan::LevelId> family) override {
        kept_.assign(family.begin(), family.end());
    }
    void leave(const flow::Leaving& leaving) override;
    void block_for(std::span<const plan::LevelId> family) override { levels_.block_for(family); }
    void show_block() override { levels_.show_block(); }
    [[nodiscard]] bool shown(plan::LevelId level) const override { return look(level).shown; }
    [[nodiscard]] bool loaded(plan::LevelId level) const override { return look(level).loaded; }
    [[nodiscard]] bool delivered(plan::LevelId) const override { return true; }
    [[nodiscard]] bool queued(plan::LevelId level) const override {
        return look(level).asked && !look(level).arrived;
    }
    /// Which device it is played on is not said here; only routes ask.
    [[nodiscard]] plan::Bytes memory(flow::PlayerId) const override { return {}; }
    [[nodiscard]] const std::set<plan::LevelId>& asked_levels() const override {
        touched_.note_all();
        return levels_.asked();
    }
    [[nodiscard]] bool is_asked(plan::LevelId level) const override { return look(level).asked; }
    void note_asked(plan::LevelId level) const override { touched_.note(level); }
    std::vector<flow::LevelEvent> take_level_events() override;
    [[nodiscard]] plan::Micros now() const override { return now_; }
    void wake_after(plan::Micros delay, std::uint32_t alarm) override;
    [[nodiscard]] double speed_of(flow::PlayerId player) const override;
    [[nodiscard]] bool stands_at(flow::PlayerId player, plan::WaypointId waypoint) const override;
    [[nodiscard]] bool is_inside(flow::PlayerId player, plan::TriggerId trigger) const override;
    [[nodiscard]] bool is_inside(flow::PlayerId player, plan::LevelId level) const override;
    void place(flow::PlayerId who, plan::WaypointId at, flow::RunId run) override;
    std::size_t pick(flow::PlayerId player, const plan::ChooseStep& choose) override;
    void veil_changed(plan::VeilId veil, bool up) override;
    void freeze_changed(flow::PlayerId, bool) override { triggers_.freezes_changed(); }
    void became_live(plan::LevelId level, flow::MachineId on) override {
        triggers_.became_live(level, on);
    }
    void menu_changed(plan::MenuId menu, flow::PlayerId, bool) override {
        triggers_.menu_changed(menu);
    }
    void fact_changed(plan::FactId fact) override { triggers_.fact_changed(fact); }
    void rejudge_near(bool) override { near_.rejudge(); }
    void triggers_armed() override { triggers_.arm(); }
    void note(const flow::Event& note) override;
    [[nodiscard]] bool order_matters(plan::TriggerId trigger,
                                     const std::vector<flow::PlayerId>& players) const override;
    void order_mattered() override { order_mattered_ = true; }
    void firing(plan::TriggerId, flow::PlayerId) override {}
    void firing_lost(plan::TriggerId, flow::PlayerId) override {}

private:
    struct Alarm {
        plan::Micros at;
        std::uint32_t number;
        bool operator>(const Alarm& other) const {
            return std::tuple(at, number) > std::tuple(other.at, other.number);
        }
    };
    using Arriving = std::tuple<plan::Priority, std::uint64_t, plan::LevelId>;

    // loading::LevelDriver
    [[nodiscard]] plan::Micros moment() const override { return moment_; }
    void asked_for(plan::LevelId level, std::uint32_t) override;
    void raised(const loading::LevelNow& level, plan::Priority before) override;
    void let_go(const loading::LevelNow& before) override;
    void changed(loading::LevelEvent event) override;

    // flow::NearStage; what it has in common with the stage stands there
    [[nodiscard]] bool is_wanted(plan::LevelId level) const override {
        return reduction_.near.has(level) ? !can_come(level) : look(level).wanted;
    }
    [[nodiscard]] bool can_come(plan::LevelId level) const override;
    [[nodiscard]] bool is_held(plan::LevelId level) const override {
        return flow_.held_by_switch(level);
    }
    [[nodiscard]] bool is_refused(plan::LevelId level) const override {
        return flow_.refuses(level);
    }
    void raise_near(plan::LevelId level) override { levels_.raise(level, plan::Priority::soon); }
    void come_near(plan::LevelId level) override;
    void near_refused(plan::LevelId level) override;
    void go_far(plan::LevelId level) override;
    void far_refused(plan::LevelId) override {}
    flow::RunId begin_near(plan::LevelId level);

    // flow::RuleWorld; the same
    [[nodiscard]] const std::set<plan::LevelId>& levels_there() const override {
        return levels_.asked();
    }
    [[nodiscard]] bool wants_to_know() const override { return true; }
    [[nodiscard]] bool rule_holds(plan::ConditionId condition) const override {
        return flow_.holds(condition, {});
    }
    [[nodiscard]] std::vector<std::uint32_t> rule_met(plan::ConditionId condition) const override {
        return flow_.met(condition);
    }
    [[nodiscard]] bool rules_rest() const override { return flow_.switching(); }

    /// A level, as somebody asks about it.
    [[nodiscard]] const loading::LevelNow& look(plan::LevelId level) const {
        touched_.note(level);
        return levels_[level];
    }
    [[nodiscard]] bool any_differ(const std::vector<flow::PlayerId>& players) const;
    [[nodiscard]] bool alike(flow::PlayerId one, flow::PlayerId other) const;
    void note_shown(plan::LevelId level, bool shown);
    void note_near(flow::PlayerId player, flow::ZoneId zone, bool inside, bool placed);
    void stand_inside(flow::PlayerId player, plan::WaypointId at);
    void remember(MoveLog::Memory::Kind kind, std::uint32_t index = 0) {
        log_.memory.push_back({kind, index});
    }

    [[nodiscard]] bool going_on() const {
        return !flow_.idle() || !arriving_.empty() || !levels_.queue().empty() ||
               levels_.is_block_ready();
    }
    void settle_now();
    void linger();
    [[nodiscard]] plan::ListId list_of(flow::RunId run) const;
    [[nodiscard]] flow::CarryCause cause_of(flow::RunId run) const;
    void stand_at(plan::WaypointId at);
    void launch(plan::LevelId level);
    bool wake_next(plan::Micros by);
    bool next_event();
    bool attach_next();
    bool attach_block();
    [[nodiscard]] bool start_move(const Move& move);
    [[nodiscard]] bool something_comes() const;
    [[nodiscard]] bool attach(plan::LevelId level);
    [[nodiscard]] bool set_out(const Move& move);
    void settle();
    void look_at_rules();
    void look_at_frames();
    void go_on_way(flow::PlayerId player);
    [[nodiscard]] std::vector<flow::PlayerId> moving_in_order();
    void finish_ways();

    const plan::Plan* plan_;
    Pace pace_;
    plan::LevelTree tree_;
    Reduction reduction_;
    flow::Flow flow_;
    flow::Zones zones_;
    std::vector<plan::PlayerKindId> kinds_;
    flow::AskedZones asked_zones_;
    flow::NearRules near_;
    flow::Triggers triggers_;
    flow::Rules rules_;
    bool frames_cost_ = false;    ///< anything that is shown does
    bool frames_changed_ = false; ///< since they were last looked at
    bool began_to_wait_ = false;  ///< a list, since rules were last looked at

    plan::Micros moment_; ///< of events, each one later than the last
    loading::Sequence asked_order_;
    mutable loading::TouchedLevels touched_;
    loading::Levels levels_;
    std::vector<plan::LevelId> awaited_; ///< by lists and a switch that it went on from
    /// Shown since this move began, or hidden that were; from a launch on all that is.
    std::map<plan::LevelId, bool> shown_since_;
    std::set<plan::LevelId> leaving_; ///< where players hurry: not released yet
    std::vector<plan::LevelId> kept_; ///< the family that a switch keeps the pieces of
    std::set<Arriving> arriving_;     ///< asked for, and not there yet
    std::vector<flow::LevelEvent> events_;
    bool booted_ = false;

    struct OnFoot : flow::Traveller {
        bool moving = false;
    };
    std::vector<OnFoot> travellers_;
    std::vector<bool> placed_; ///< in this move
    bool order_mattered_ = false;
    plan::Table<plan::TriggerId, bool> by_player_; ///< who fires it, and when, matters
    mutable bool asked_for_speed_ = false;
    mutable std::vector<bool> asked_where_; ///< by player
    plan::Micros now_;
    std::priority_queue<Alarm, std::vector<Alarm>, std::greater<>> alarms_;

    std::vector<std::size_t> picks_;
    std::vector<std::size_t> choices_;
    std::vector<plan::ListId> list_of_run_;                        ///< of those begun in this move
    std::uint32_t first_run_ = 0;                                  ///< of those
    std::vector<std::pair<flow::RunId, plan::LevelId>> near_runs_; ///< of near rules, in this move
    MoveLog log_;
    flow::CarryLog carried_;
};

} // namespace hestrel::explore
