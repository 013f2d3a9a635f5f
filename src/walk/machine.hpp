#pragma once
// One machine of a walk (docs/model.md sections 7 and 11): its loader, what its players see, what
// it was told and what is on its way to it, and the record of all that. Private to src/walk.

#include "flow/conditions.hpp"
#include "flow/near_rules.hpp"
#include "flow/rules.hpp"
#include "loading/loader.hpp"
#include "walk/ground.hpp"
#include "walk/known_levels.hpp"
#include "walk/record.hpp"
#include "walk/walker.hpp"

#include <deque>
#include <functional>
#include <map>
#include <optional>
#include <set>
#include <vector>

namespace hestrel::walk {

/// Which machine it is, and whose.
struct MachineSetup {
    plan::MachineId number;
    plan::DeviceId device;
    plan::Micros delay; ///< one way to the keeper of the game
    bool headless = false;
    std::vector<flow::PlayerId> players;
};

/// What is on its way between a machine and the keeper of the game; happens when it arrives.
struct Message {
    std::size_t number = 0; ///< of an order: in the record
    std::function<void()> arrives;
};

class Machine final : public flow::NearStage, public flow::RuleWorld {
    const plan::Plan& plan_;
    MachineSetup setup_;
    flow::Flow* flow_;
    const std::vector<Walker>* walkers_;
    loading::Catalogue catalogue_;

public:
    /// All of them outlive it.
    Machine(const plan::Plan& plan, MachineSetup setup, flow::Flow& flow,
            const std::vector<Walker>& walkers, loading::Sequence& sequence, const Ground& ground);

    [[nodiscard]] const MachineSetup& setup() const { return setup_; }
    [[nodiscard]] plan::MachineId number() const { return setup_.number; }
    [[nodiscard]] bool keeps_game() const { return setup_.number.value == 0; }
    /// What it does is known to the keeper at once, and the other way round.
    [[nodiscard]] bool near_keeper() const { return setup_.delay.count == 0; }
    [[nodiscard]] const loading::Catalogue& catalogue() const { return catalogue_; }
    [[nodiscard]] bool has(flow::PlayerId player) const;
    /// All of a level has arrived here (section 9).
    [[nodiscard]] bool delivered(plan::LevelId level) const;

    // Its life (section 11). The keeper of the game has joined from the start.

    bool boots = false;      ///< its boot has begun
    bool booted = false;     ///< and ended
    bool boot_waits = false; ///< for a switch that began meanwhile, to begin anew
    bool joined = false;     ///< the keeper knows that it has ended
    bool over = false;       ///< the session has ended there
    plan::Micros over_since;
    plan::Micros boots_since;
    /// Levels that its boot is for.
    std::vector<plan::LevelId> boot_levels;
    /// Whether all of them are there, or were let go.
    [[nodiscard]] bool boot_is_over() const;
    /// Those that are not.
    [[nodiscard]] std::vector<plan::LevelId> boot_lacks() const;
    /// Its players are there from now on.
    void begin(plan::Micros now);
    /// Becomes as the game's keeper is: its levels are asked for in the order in which they were
    /// there, what else is here is let go.
    void learn_levels(const loading::Levels& keepers);
    /// The same of veils, freezes and menus.
    void learn_game(const std::set<flow::OpenMenu>& open);

    // What it is asked for, now.

    void ask(plan::LevelId level, plan::Priority priority, flow::RunId run);
    void show(plan::LevelId level, plan::Priority priority, flow::RunId run);
    void unload_others(const std::function<bool(plan::LevelId)>& stays);
    void leave(const flow::Leaving& leaving);
    /// Lets other variants of a level's place go.
    void give_way_to(plan::LevelId level, flow::RunId run);
    void change_veil(plan::VeilId veil, flow::PlayerId who, bool up);
    /// True where it is about any of its players.
    bool freeze(flow::PlayerId who, bool frozen);
    void change_menu(plan::MenuId menu, flow::PlayerId who, bool open);
    /// Of a menu that is open for a player, for all of them or (where it is for that one) only it.
    void close_here(plan::MenuId menu, flow::PlayerId player);
    void begin_switch(plan::LevelId to, const std::vector<plan::LevelId>& family, flow::RunId run);
    void arrive_switch() {
        if (switch_) switch_->placed = true;
    }
    void end_switch();

    // What is so.

    [[nodiscard]] bool frozen(PlayerNumber player) const {
        return frozen_[player] || (!keeps_game() && !booted);
    }
    [[nodiscard]] bool menu_open(plan::MenuId menu, flow::PlayerId player) const {
        return menus_.contains({menu, player}) || menus_.contains({menu, flow::PlayerId{}});
    }
    [[nodiscard]] const flow::Veils& veils() const { return veils_; }
    [[nodiscard]] bool idle() const {
        return loader.idle() && orders.empty() && messages.empty() && (booted || !boots);
    }

    // Its record.

    void log(EventKind kind, std::uint32_t subject = 0, std::uint32_t detail = 0,
             flow::PlayerId player = {}) {
        record.events.push_back({loader.now(), kind, subject, detail, player});
    }
    /// What the loader has done is logged; changes of levels are returned.
    std::vector<loading::LevelEvent> take_changes();
    /// The transition of that number; null where there is none.
    [[nodiscard]] Transition* transition(flow::RunId run);
    /// Records that one begins now.
    Transition& begin_transition(flow::RunId run);
    /// An order of a transition has come.
    void reached_by(flow::RunId run);
    void look_at_rules(bool settled);
    void close_breaches();
    /// What of the record is the loader's.
    void take_record();

    loading::Loader loader;
    Record record;
    flow::NearRules near;

    // What is on its way, where that takes time.
    std::deque<Message> orders;   ///< to it
    std::deque<Message> messages; ///< from it
    OrderNumber sent = 0;         ///< orders
    OrderNumber carried_out = 0;
    std::uint32_t generation = 0; ///< raised when what is on its way to it counts no more
    OrderNumber switch_order = 0; ///< that told of the newest switch
    KnownLevels known;            ///< used only where that takes time

    // flow::RuleWorld
    [[nodiscard]] const std::set<plan::LevelId>& levels_there() const override {
        return loader.levels().asked();
    }
    [[nodiscard]] bool shown(plan::LevelId level) const override { return loader.shown(level); }
    [[nodiscard]] bool rule_holds(plan::ConditionId condition) const override;
    [[nodiscard]] std::vector<std::uint32_t> rule_met(plan::ConditionId condition) const override;
    [[nodiscard]] bool rules_rest() const override { return switch_ && !switch_->placed; }

    // flow::NearStage
    [[nodiscard]] bool is_asked(plan::LevelId level) const override {
        return loader.levels()[level].asked;
    }
    [[nodiscard]] bool is_wanted(plan::LevelId level) const override {
        return loader.levels()[level].wanted;
    }
    [[nodiscard]] bool is_held(plan::LevelId level) const override {
        return switch_ && flow_->held_by(switch_->family, level);
    }
    [[nodiscard]] bool is_refused(plan::LevelId level) const override {
        return switch_ && flow_->refuses(switch_->family, level);
    }
    void raise_near(plan::LevelId level) override;
    void come_near(plan::LevelId level) override;
    void near_refused(plan::LevelId level) override;
    void go_far(plan::LevelId level) override;
    void far_refused(plan::LevelId level) override { log(EventKind::leave_refused, level.value); }

private:
    class World;
    struct SwitchHere {
        plan::LevelId to;
        flow::RunId run;
        std::vector<plan::LevelId> family;
        bool target_was_loaded = false;
        bool placed = false;
    };

    void called(plan::LevelId level, flow::RunId run, bool to_show);
    flow::RunId begin_near(plan::LevelId level, bool went_far);
    void for_own(flow::PlayerId who, const auto& each) const;
    /// A veil goes up for a player, or comes down.
    void note_veil(plan::VeilId veil, flow::PlayerId player, bool up);

    flow::Veils veils_;
    std::set<flow::OpenMenu> menus_; ///< as they are here
    std::vector<bool> frozen_;       ///< by player: a step, menu, switch or the game's boot does
    std::optional<SwitchHere> switch_;
    flow::Rules rules_;
    plan::Table<plan::RuleId, std::size_t> breaches_; ///< open ones: index + 1 in the record
};

} // namespace hestrel::walk
