#pragma once
// What the interpreter of steps asks of whoever carries the effects out: a walk does it in time,
// with a loader; exploring does it at once. The interpreter itself never sees which.

#include "flow/ids.hpp"
#include "flow/zones.hpp"
#include "loading/levels.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <functional>
#include <optional>
#include <set>
#include <span>
#include <vector>

namespace hestrel::flow {

/// Something worth recording that happened to a run.
enum class EventKind : std::uint8_t {
    started, ///< detail: its list; player: who fired
    ended,
    abandoned,       ///< the level it belongs to left; detail: that level
    dropped,         ///< its wait can't end any more, nobody hurrying; detail: its list
    waits,           ///< it starts to wait, or its switch does so for something else
    gave_up_waiting, ///< `at-most` passed
    switch_began,    ///< detail: the target
    switch_ended,    ///< detail: the target
    switch_refused,  ///< another switch is under way; detail: the target
    variant_refused, ///< a switch to another variant of its place is under way; detail: the level
    leave_refused,   ///< detail: a level of the family of a switch under way; neither hidden nor
                     ///< unloaded
    leave_cant_wait, ///< a step of a `leave` list that would wait was left out
    fact_set,        ///< detail: the fact; it has its new value
    fact_reset,      ///< detail: the fact
    out_of_range,    ///< detail: the fact, kept at its bound
    marked,          ///< a checkpoint; detail: its level
    saved,
    restored,
    nothing_saved,  ///< a `restore` found the store empty
    no_checkpoint,  ///< a `return` without a `mark`
    beyond_edition, ///< a position, `next` or `back` that the edition does not have; detail: the
                    ///< level switched to last
    menu_refused,   ///< detail: a menu whose level is hidden
    chosen,         ///< detail: the branch's name
    value_without_level, ///< levels by a fact, and none for its value; detail: the fact
    session_ended,
};
struct Event {
    EventKind kind;
    RunId run;
    std::uint32_t detail = 0;
    PlayerId player = {};
    plan::Place place = {}; ///< beyond_edition: of the step
};

using loading::LevelChange;

/// What changed about a level on a machine, as the game's keeper knows it.
struct LevelEvent {
    plan::LevelId level;
    LevelChange change;
    MachineId on = {}; ///< unset: the only one
    /// It is shown on a first machine, or no more on the last; it is asked for on none any more.
    bool of_all = true;
};

/// A machine that a wait was for.
struct Waited {
    MachineId machine;
    std::optional<plan::Micros> known; ///< from when on it has all of that; unset: it has not
};

/// Which transition asks for a level or lets it go, and where.
struct By {
    RunId run;
    MachineId only = {}; ///< on that machine; unset: on all whose boot has begun
};

/// What a switch lets go on every machine: what is neither kept nor its family's.
struct Leaving {
    plan::LevelId to;
    std::vector<plan::LevelId> family;
    bool reuse = false;      ///< a target that was loaded before the switch stays
    bool was_loaded = false; ///< so it was, where there is one machine only
};

/// Carries out what steps ask for. All of it happens now.
class Stage {
public:
    Stage() = default;
    Stage(const Stage&) = delete;
    Stage& operator=(const Stage&) = delete;
    virtual ~Stage() = default;

    // Levels.

    virtual void ask(plan::LevelId level, plan::Priority priority, By by) = 0;
    virtual void show(plan::LevelId level, plan::Priority priority, By by) = 0;
    virtual void hide(plan::LevelId level, By by) = 0;
    virtual void unload(plan::LevelId level, By by) = 0;
    /// Unloads all that is there and does not stay.
    virtual void unload_others(const std::function<bool(plan::LevelId)>& stays, By by) = 0;
    /// From now on nothing that `family` needs is released or given up; empty: as before.
    virtual void keep(std::span<const plan::LevelId> family) = 0;
    /// Unloads what a switch lets go (`Flow::leaves`), releasing at once what is not kept.
    virtual void leave(const Leaving& leaving) = 0;
    /// The main thread stands still until all of `family` is shown.
    virtual void block_for(std::span<const plan::LevelId> family) = 0;
    /// All of that family is wanted shown: from when it is loaded it can be attached in one go.
    virtual void show_block() = 0;

    /// On all machines that have joined.
    [[nodiscard]] virtual bool shown(plan::LevelId level) const = 0;
    [[nodiscard]] virtual bool loaded(plan::LevelId level) const = 0;
    /// On one machine.
    [[nodiscard]] virtual bool shown_on(plan::LevelId level, MachineId /*on*/) const {
        return shown(level);
    }
    [[nodiscard]] virtual bool loaded_on(plan::LevelId level, MachineId /*on*/) const {
        return loaded(level);
    }
    /// On any machine that players could sit at.
    [[nodiscard]] virtual bool shown_anywhere(plan::LevelId level) const { return shown(level); }
    /// All of it has arrived (section 9).
    [[nodiscard]] virtual bool delivered(plan::LevelId level) const = 0;
    /// Its condition is `queued` (section 1).
    [[nodiscard]] virtual bool queued(plan::LevelId level) const = 0;
    /// In use on a player's device; unset: on that of the game's keeper.
    [[nodiscard]] virtual plan::Bytes memory(PlayerId of) const = 0;
    /// Levels that are queued, in flight or loaded, anywhere.
    [[nodiscard]] virtual const std::set<plan::LevelId>& asked_levels() const = 0;
    /// Whether a level is among them.
    [[nodiscard]] virtual bool is_asked(plan::LevelId level) const {
        return asked_levels().contains(level);
    }
    /// What comes goes by whether a level had been shown before, too; for who goes from situation
    /// to situation.
    virtual void note_asked(plan::LevelId /*level*/) const {}
    /// What changed since the last call, in order.
    virtual std::vector<LevelEvent> take_level_events() = 0;

    // Machines (docs/model.md section 11).

    /// Those that a wait which begins now is for; `only`: that one, if it has joined.
    [[nodiscard]] virtual std::vector<MachineId> waited_for(MachineId /*only*/) const {
        return {MachineId{0}};
    }
    /// The one that a player sits at; unset: there is only one.
    [[nodiscard]] virtual MachineId machine_of(PlayerId /*player*/) const { return {}; }
    /// Whether a player's machine boots by itself, and not with the game.
    [[nodiscard]] virtual bool boots_apart(PlayerId /*player*/) const { return false; }
    /// Whether it has joined.
    [[nodiscard]] virtual bool has_joined(PlayerId /*player*/) const { return true; }
    /// A wait of several machines is over; since when each was known to have what it is for.
    virtual void waited(RunId /*run*/, const std::vector<Waited>& /*machines*/) {}
    virtual void switch_begins(plan::LevelId /*to*/, const std::vector<plan::LevelId>& /*family*/,
                               RunId /*run*/) {}
    /// Its players are placed next.
    virtual void switch_arrives(plan::WaypointId /*at*/) {}
    virtual void switch_ended() {}

    // The clock.

    [[nodiscard]] virtual plan::Micros now() const = 0;
    /// `Flow::wake(alarm)` is to be called so much later, if `Flow::awaits(alarm)` still.
    virtual void wake_after(plan::Micros delay, std::uint32_t alarm) = 0;

    // Players.

    /// m/s; 0 when standing.
    [[nodiscard]] virtual double speed_of(PlayerId player) const = 0;
    [[nodiscard]] virtual bool stands_at(PlayerId player, plan::WaypointId waypoint) const = 0;
    [[nodiscard]] virtual bool is_inside(PlayerId player, plan::TriggerId trigger) const = 0;
    /// Inside its area.
    [[nodiscard]] virtual bool is_inside(PlayerId player, plan::LevelId level) const = 0;
    /// Puts one player, or (unset) all, at a waypoint; unset: nowhere.
    virtual void place(PlayerId who, plan::WaypointId at, RunId run) = 0;
    /// Which branch of a `choose` a player picks; unset: nobody fired, and the first player does.
    virtual std::size_t pick(PlayerId player, const plan::ChooseStep& choose) = 0;

    // What the stage may want to know at once.

    virtual void veil_changed(plan::VeilId veil, bool up) = 0; ///< for the first, or the last
    /// For one player, or (unset) for all at once, whether or not it was so before.
    virtual void veil_told(plan::VeilId /*veil*/, PlayerId /*who*/, bool /*up*/) {}
    /// For one player, or (unset) for all at once.
    virtual void freeze_changed(PlayerId who, bool frozen) = 0;
    /// Triggers of `level` can fire from now on; where `on` is set, for players there.
    virtual void became_live(plan::LevelId level, MachineId on) = 0;
    /// For one player, or (unset) for all at once.
    virtual void menu_changed(plan::MenuId menu, PlayerId who, bool open) = 0;
    virtual void fact_changed(plan::FactId fact) = 0;
    /// Near rules are to be judged as if every player had just come (section 5); `boots`: on the
    /// machines that have booted with the game.
    virtual void rejudge_near(bool boots) = 0;
    /// Every `once` can fire again.
    virtual void triggers_armed() = 0;
    virtual void note(const Event& note) = 0;

    // What triggers tell.

    /// Any of several players may fire a trigger now, the first of them first; whether it matters
    /// who that is. For who goes from situation to situation.
    [[nodiscard]] virtual bool order_matters(plan::TriggerId /*trigger*/,
                                             const std::vector<PlayerId>& /*players*/) const {
        return false;
    }
    /// It did: one of them has fired.
    virtual void order_mattered() {}

    /// Its list starts next; `player`: who fired it, if anybody did.
    virtual void firing(plan::TriggerId trigger, PlayerId player) = 0;
    virtual void firing_lost(plan::TriggerId trigger, PlayerId player) = 0;
};

} // namespace hestrel::flow
