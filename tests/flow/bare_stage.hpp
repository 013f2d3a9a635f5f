#pragma once
// A stage that carries nothing out by itself: it writes down what it is asked for, and levels come,
// are shown, and time passes where a test says so.

#include "flow/flow.hpp"
#include "flow/near_rules.hpp"
#include "flow/triggers.hpp"

#include "support/plan_text.hpp"

#include <string>
#include <utility>
#include <vector>

namespace hestrel::tests {

class BareStage final : public flow::Stage, public flow::NearStage {
public:
    explicit BareStage(const plan::Plan& plan) : plan_(plan) {}

    std::vector<std::string> log; ///< since it was last taken
    std::vector<flow::EventKind> notes;
    std::vector<std::size_t> picks; ///< the branches that players pick, last first
    double speed = 0;               ///< of every player, m/s
    plan::WaypointId at;            ///< where every player stands
    plan::Micros time;
    std::vector<std::pair<plan::Micros, std::uint32_t>> alarms;
    flow::Flow* flow = nullptr;         ///< whose stage it is
    flow::Triggers* triggers = nullptr; ///< told what happens, where there are any
    flow::NearRules* near = nullptr;

    void ask(plan::LevelId level, plan::Priority priority, flow::By) override {
        log.push_back("ask " + name(level) + (priority == plan::Priority::now ? " now" : ""));
        asked_.insert(level);
    }
    void show(plan::LevelId level, plan::Priority, flow::By) override {
        log.push_back("show " + name(level));
        asked_.insert(level);
        wanted_.insert(level);
    }
    void hide(plan::LevelId level, flow::By) override {
        log.push_back("hide " + name(level));
        wanted_.erase(level);
        if (shown_.erase(level) > 0) events_.push_back({level, flow::LevelChange::hidden});
    }
    void unload(plan::LevelId level, flow::By) override {
        log.push_back("unload " + name(level));
        take_out(level);
    }
    void unload_others(const std::function<bool(plan::LevelId)>& stays, flow::By by) override {
        const std::set<plan::LevelId> there = asked_;
        for (const plan::LevelId level : there) {
            if (!stays(level)) unload(level, by);
        }
    }
    void keep(std::span<const plan::LevelId> family) override {
        kept_ = {family.begin(), family.end()};
    }
    void leave(const flow::Leaving& what) override {
        std::vector<plan::LevelId> leaving;
        for (const plan::LevelId level : asked_) {
            if (flow->leaves(what, level, what.was_loaded)) leaving.push_back(level);
        }
        log.push_back("leave" + names(leaving) + " for" + names(kept_));
        for (const plan::LevelId level : leaving) take_out(level);
    }
    void block_for(std::span<const plan::LevelId> family) override {
        log.push_back("block for" + names(family));
    }
    void show_block() override { log.emplace_back("show block"); }
    [[nodiscard]] bool shown(plan::LevelId level) const override { return shown_.contains(level); }
    [[nodiscard]] bool loaded(plan::LevelId level) const override {
        return loaded_.contains(level);
    }
    [[nodiscard]] bool delivered(plan::LevelId) const override { return true; }
    [[nodiscard]] bool queued(plan::LevelId) const override { return false; }
    [[nodiscard]] plan::Bytes memory(flow::PlayerId) const override { return {}; }
    [[nodiscard]] const std::set<plan::LevelId>& asked_levels() const override { return asked_; }
    [[nodiscard]] bool wanted_shown(plan::LevelId level) const { return wanted_.contains(level); }
    std::vector<flow::LevelEvent> take_level_events() override {
        if (triggers != nullptr) {
            for (const flow::LevelEvent& event : events_) triggers->level_changed(event);
        }
        return std::exchange(events_, {});
    }
    [[nodiscard]] plan::Micros now() const override { return time; }
    void wake_after(plan::Micros delay, std::uint32_t alarm) override {
        alarms.emplace_back(time + delay, alarm);
    }
    [[nodiscard]] double speed_of(flow::PlayerId) const override { return speed; }
    [[nodiscard]] bool stands_at(flow::PlayerId, plan::WaypointId waypoint) const override {
        return at == waypoint;
    }
    [[nodiscard]] bool is_inside(flow::PlayerId player, plan::TriggerId trigger) const override {
        return triggers != nullptr && triggers->is_inside(player, trigger);
    }
    [[nodiscard]] bool is_inside(flow::PlayerId player, plan::LevelId level) const override {
        return triggers != nullptr && triggers->is_inside(player, level);
    }
    void place(flow::PlayerId who, plan::WaypointId there, flow::RunId) override {
        log.push_back("place " + (who ? std::to_string(who.value) : std::string("all")) + " at " +
                      (there ? plan_.waypoints[there].name : std::string("nowhere")));
    }
    std::size_t pick(flow::PlayerId, const plan::ChooseStep&) override {
        if (picks.empty()) return 0;
        const std::size_t picked = picks.back();
        picks.pop_back();
        return picked;
    }
    void veil_changed(plan::VeilId veil, bool up) override {
        log.push_back(plan_.veils[veil].name + (up ? " up" : " down"));
        if (triggers != nullptr) triggers->veils_changed();
    }
    void freeze_changed(flow::PlayerId who, bool frozen) override {
        log.push_back((frozen ? "frozen" : "thawed") + of(who));
    }
    /// " of 1"; nothing where it is all at once.
    static std::string of(flow::PlayerId who) {
        return who ? " of " + std::to_string(who.value) : std::string();
    }
    void became_live(plan::LevelId level, flow::MachineId on) override {
        log.push_back("live " + name(level));
        if (triggers != nullptr) triggers->became_live(level, on);
    }
    void menu_changed(plan::MenuId menu, flow::PlayerId who, bool open) override {
        log.push_back((open ? "open " : "close ") + plan_.menus[menu].name + of(who));
    }
    void fact_changed(plan::FactId fact) override {
        if (triggers != nullptr) triggers->fact_changed(fact);
    }
    void rejudge_near(bool) override {
        if (near != nullptr) near->rejudge();
    }
    void triggers_armed() override {
        log.push_back("armed");
        if (triggers != nullptr) triggers->arm();
    }
    void note(const flow::Event& note) override { notes.push_back(note.kind); }
    void firing(plan::TriggerId trigger, flow::PlayerId) override {
        log.push_back("fire " + plan_.triggers[trigger].name);
    }
    void firing_lost(plan::TriggerId trigger, flow::PlayerId) override {
        log.push_back("lost " + plan_.triggers[trigger].name);
    }

    // flow::NearStage
    [[nodiscard]] bool is_asked(plan::LevelId level) const override {
        return asked_.contains(level);
    }
    [[nodiscard]] bool is_wanted(plan::LevelId level) const override {
        return wanted_.contains(level);
    }
    [[nodiscard]] bool is_held(plan::LevelId level) const override {
        return flow->held_by_switch(level);
    }
    [[nodiscard]] bool is_refused(plan::LevelId level) const override {
        return flow->refuses(level);
    }
    void raise_near(plan::LevelId level) override { log.push_back("raise " + name(level)); }
    void come_near(plan::LevelId level) override {
        log.push_back("near " + name(level));
        flow->show(level, plan::Priority::soon, {flow->number_transition()});
    }
    void near_refused(plan::LevelId) override { notes.push_back(flow::EventKind::variant_refused); }
    void go_far(plan::LevelId level) override {
        log.push_back("far " + name(level));
        flow->unload(level, {flow->number_transition()});
    }
    void far_refused(plan::LevelId level) override { log.push_back("near refused " + name(level)); }

    void make_ready(plan::LevelId level) {
        if (loaded_.insert(level).second) events_.push_back({level, flow::LevelChange::ready});
    }
    void make_shown(plan::LevelId level) {
        make_ready(level);
        if (shown_.insert(level).second) events_.push_back({level, flow::LevelChange::shown});
    }
    [[nodiscard]] bool noted(flow::EventKind kind) const {
        return std::find(notes.begin(), notes.end(), kind) != notes.end();
    }

private:
    [[nodiscard]] const std::string& name(plan::LevelId level) const {
        return plan_.levels[level].name;
    }
    [[nodiscard]] std::string names(std::span<const plan::LevelId> levels) const {
        std::string text;
        for (const plan::LevelId level : levels) text += " " + name(level);
        return text;
    }
    void take_out(plan::LevelId level) {
        asked_.erase(level);
        wanted_.erase(level);
        loaded_.erase(level);
        if (shown_.erase(level) > 0) events_.push_back({level, flow::LevelChange::hidden});
        events_.push_back({level, flow::LevelChange::unloaded});
    }

    const plan::Plan& plan_;
    std::set<plan::LevelId> asked_, wanted_, loaded_, shown_;
    std::vector<plan::LevelId> kept_;
    std::vector<flow::LevelEvent> events_;
};

/// A game on a bare stage: booted in its first level.
class BareGame {
public:
    explicit BareGame(const std::string& text, std::size_t players = 1)
        : plan(plan_from(text)), stage(plan), flow(plan, stage, setup(plan, players)) {
        stage.flow = &flow;
        flow.boot(plan::LevelId{0});
        settle();
        for (const plan::LevelId level : plan.levels.ids()) {
            if (stage.wanted_shown(level)) stage.make_shown(level);
        }
        settle();
        stage.log.clear();
        stage.notes.clear();
    }

    const plan::Plan plan;
    BareStage stage;
    flow::Flow flow;

    /// Starts a trigger's list, for a player or (unset) nobody.
    Lines fire(std::string_view trigger, flow::PlayerId player = flow::PlayerId{0}) {
        flow.start(plan.triggers[named(plan.triggers, trigger)].steps, player);
        return settle();
    }
    Lines ready(std::string_view level) {
        stage.make_ready(named(plan.levels, level));
        return settle();
    }
    Lines shown(std::string_view level) {
        stage.make_shown(named(plan.levels, level));
        return settle();
    }
    /// Lets so much time pass, alarm by alarm.
    Lines pass(plan::Micros time) {
        const plan::Micros end = stage.time + time;
        for (;;) {
            const auto next = std::min_element(stage.alarms.begin(), stage.alarms.end());
            if (next == stage.alarms.end() || next->first > end) break;
            stage.time = next->first;
            const std::uint32_t alarm = next->second;
            stage.alarms.erase(next);
            if (flow.awaits(alarm)) flow.wake(alarm);
            resume_ready();
        }
        stage.time = end;
        return settle();
    }
    Lines press(std::string_view item, flow::PlayerId player = flow::PlayerId{0}) {
        flow.press(named(plan.items, item), player);
        return settle();
    }
    [[nodiscard]] std::int64_t fact(std::string_view name, flow::PlayerId player = {}) const {
        return flow.facts().value(named(plan.facts, name), player);
    }
    /// What was asked for since, once nothing changes any more.
    Lines settle() {
        resume_ready();
        return std::exchange(stage.log, {});
    }

private:
    static flow::Setup setup(const plan::Plan& plan, std::size_t players) {
        flow::Setup begin;
        begin.players = players;
        if (!plan.editions.empty()) begin.edition = plan::EditionId{0};
        return begin;
    }
    void resume_ready() {
        do {
            flow.apply_level_events();
        } while (flow.resume_ready());
    }
};

} // namespace hestrel::tests
