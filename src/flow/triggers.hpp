#pragma once
// When triggers fire (docs/model.md section 5): who is inside of what, what has to be judged again,
// what fires. Used by every engine; like the interpreter it knows the world only through its Stage.

#include "flow/flow.hpp"
#include "flow/near_rules.hpp"
#include "flow/objection.hpp"
#include "flow/stage.hpp"
#include "flow/watches.hpp"
#include "flow/zones.hpp"

#include <cstdint>
#include <set>
#include <span>
#include <vector>

namespace hestrel::flow {

/// All triggers of a plan, and the players who could set them off.
class Triggers {
public:
    /// `players`: the kind of each; unset for one of no kind. `near`: near rules that are told who
    /// gets into what and out of it, where nobody else tells them.
    Triggers(const plan::Plan& plan, const Zones& zones, Flow& flow, Stage& stage,
             std::vector<plan::PlayerKindId> players, NearRules* near = nullptr,
             AskedZones* asked = nullptr);

    // What has happened.

    void enter(PlayerId player, ZoneId id);
    void leave(PlayerId player, ZoneId id);
    /// It is somewhere else now: gets out of what it was in, and into what it is in.
    void stand_inside(PlayerId player, const std::set<ZoneId>& inside);
    void booted();
    /// `on`: for players at that machine.
    void became_live(plan::LevelId level, MachineId on);
    void level_changed(const LevelEvent& event);
    void delivered(plan::LevelId level);
    void fact_changed(plan::FactId fact);
    void veils_changed();
    /// How fast, or where, a player is.
    void movement_changed();
    void menu_changed(plan::MenuId menu);
    void freezes_changed();
    /// Every `once` can fire again.
    void arm();
    /// The game is launched again: as it was before anything happened, with nobody anywhere.
    void launch();

    // What follows from it. True where anything did.

    bool judge();
    /// Whether anything has happened since that triggers are to be judged for.
    [[nodiscard]] bool to_judge() const { return flow_->booted() && !to_judge_.empty(); }

    // What is so.

    [[nodiscard]] const std::set<ZoneId>& inside(PlayerId player) const {
        return inside_[player.value];
    }
    [[nodiscard]] bool is_inside(PlayerId player, plan::TriggerId trigger) const {
        return visit(trigger, player).inside;
    }
    [[nodiscard]] bool is_inside(PlayerId player, plan::LevelId level) const;

    // For who is told which triggers fire, and judges none.

    /// Why it could not fire now; `asks_when`: its condition counts. Players of no kind can set
    /// off any.
    [[nodiscard]] Objection objection(plan::TriggerId id, PlayerId player, bool asks_when) const;
    /// It may fire again from then on.
    [[nodiscard]] plan::Micros rearmed(plan::TriggerId id) const {
        return triggers_[id].may_fire_again;
    }
    /// Those about which anything has changed since the last call.
    std::set<plan::TriggerId> take_changed() { return std::exchange(to_judge_, {}); }
    /// It fires, whatever is so.
    void fire_by_cue(plan::TriggerId id, PlayerId player);
    /// Of one that fires once something holds: it does since it was asked last, and it can fire.
    bool comes_true(plan::TriggerId id);

    // For who goes from situation to situation.

    /// A firing of it counts no more, until armed again.
    [[nodiscard]] bool spent(plan::TriggerId trigger) const { return triggers_[trigger].spent; }
    void set_spent(plan::TriggerId trigger, bool spent) { triggers_[trigger].spent = spent; }
    /// Where a player is as triggers see it.
    struct Standing {
        std::vector<ZoneId> inside;            ///< sorted
        std::vector<plan::TriggerId> was_live; ///< of those left behind an `on-exit`: it was live
        auto operator<=>(const Standing&) const = default;
    };
    friend void for_members(plan::IsA<Standing> auto& of, auto&& visit) {
        auto& [inside, was_live] = of;
        visit(inside);
        visit(was_live);
    }
    [[nodiscard]] Standing standing(PlayerId player) const;
    /// Whether all triggers see two players as they see each other.
    [[nodiscard]] bool alike(PlayerId one, PlayerId other) const;
    /// Puts a player there, with nothing left to judge.
    void resume(PlayerId player, const Standing& standing);
    /// Once all players, facts and levels are as they are to be: nothing is to be judged, and what
    /// fires while something is so has fired.
    void resume_judged();
    /// `rearm` counts for nothing.
    void forget_rearm() { forgets_rearm_ = true; }
    /// Triggers whose `once` was asked about, or changed, since `take_once_asked`.
    std::vector<plan::TriggerId> take_once_asked() { return std::exchange(once_asked_, {}); }

private:
    /// What is remembered of a trigger.
    struct TriggerNow {
        bool spent = false; ///< fired, and `once`
        bool held = false;  ///< when-true: its condition held when last judged
        plan::Micros may_fire_again;
    };
    /// And of a trigger and a player.
    struct Visit {
        bool inside = false;
        bool inside_while_live = false; ///< for on-exit
        bool entered = false;           ///< got inside, or it became live around it; not judged yet
        bool left = false; ///< got outside having been inside while live; not judged yet
        bool held = false; ///< while-inside: it held when last judged
        bool operator==(const Visit&) const = default;
    };

    Visit& visit(plan::TriggerId trigger, PlayerId player) {
        return visits_[trigger.value * inside_.size() + player.value];
    }
    [[nodiscard]] const Visit& visit(plan::TriggerId trigger, PlayerId player) const {
        return visits_[trigger.value * inside_.size() + player.value];
    }
    /// Where `player` is set, for that one.
    [[nodiscard]] bool is_live(plan::TriggerId trigger, PlayerId player = {}) const;
    [[nodiscard]] bool fits(plan::TriggerId id, PlayerId player) const;
    [[nodiscard]] bool holds(const plan::Trigger& trigger, PlayerId player) const;
    bool judge(plan::TriggerId id);
    [[nodiscard]] bool several_may_fire(plan::TriggerId id) const;
    bool fire(plan::TriggerId id, PlayerId player);
    [[nodiscard]] static ZoneId zone_of(plan::TriggerId trigger) { return ZoneId{trigger.value}; }
    void ask(PlayerId player, ZoneId zone) {
        if (asked_ != nullptr && (*zones_)[zone].sets_off()) asked_->ask(player, zone);
    }

    const plan::Plan* plan_;
    const Zones* zones_;
    Flow* flow_;
    Stage* stage_;
    std::vector<plan::PlayerKindId> kinds_;
    NearRules* near_;
    AskedZones* asked_;
    Watches watches_;
    plan::Table<plan::LevelId, std::vector<plan::TriggerId>> triggers_of_;

    std::vector<std::set<ZoneId>> inside_; ///< by player
    plan::Table<plan::TriggerId, TriggerNow> triggers_;
    std::vector<Visit> visits_;          ///< by trigger and player
    std::set<plan::TriggerId> to_judge_; ///< something about them has changed
    bool forgets_rearm_ = false;
    /// Getting out of which can matter: of `on-exit` triggers, and around levels that stream.
    std::vector<ZoneId> matter_behind_;
    std::vector<plan::TriggerId> once_asked_;
};

} // namespace hestrel::flow
