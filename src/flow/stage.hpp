#pragma once
// What the interpreter of steps asks of whoever carries the effects out: a walk does it in time,
// with a loader; exploring does it at once. The interpreter itself never sees which.

#include "flow/ids.hpp"
#include "flow/zones.hpp"
#include "loading/levels.hpp"
#include "plan/plan.hpp"

#include <cstdint>
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
using loading::LevelEvent;

/// Carries out what steps ask for. All of it happens now.
class Stage {
public:
    Stage() = default;
    Stage(const Stage&) = delete;
    Stage& operator=(const Stage&) = delete;
    virtual ~Stage() = default;

    // Levels.

    virtual void ask(plan::LevelId level, plan::Priority priority, RunId run) = 0;
    virtual void show(plan::LevelId level, plan::Priority priority, RunId run) = 0;
    /// A level and what comes with it, as far as it is asked for, is wanted that soon.
    virtual void raise(plan::LevelId level, plan::Priority priority) = 0;
    virtual void hide(plan::LevelId level) = 0;
    virtual void unload(plan::LevelId level) = 0;
    /// From now on nothing that `family` needs is released or given up; empty: as before.
    virtual void keep(std::span<const plan::LevelId> family) = 0;
    /// Unloads `leaving`, releasing at once what is not kept.
    virtual void unload_now(std::span<const plan::LevelId> leaving) = 0;
    /// The main thread stands still until all of `family` is shown.
    virtual void block_for(std::span<const plan::LevelId> family) = 0;
    /// All of that family is wanted shown: from when it is loaded it can be attached in one go.
    virtual void show_block() = 0;

    [[nodiscard]] virtual bool shown(plan::LevelId level) const = 0;
    [[nodiscard]] virtual bool loaded(plan::LevelId level) const = 0;
    /// All of it has arrived (section 9).
    [[nodiscard]] virtual bool delivered(plan::LevelId level) const = 0;
    /// Its condition is `queued` (section 1).
    [[nodiscard]] virtual bool queued(plan::LevelId level) const = 0;
    /// In use on the device.
    [[nodiscard]] virtual plan::Bytes memory() const = 0;
    /// Levels that are queued, in flight or loaded.
    [[nodiscard]] virtual const std::set<plan::LevelId>& asked_levels() const = 0;
    /// Queued, in flight or loaded, and wanted shown.
    [[nodiscard]] virtual bool wanted_shown(plan::LevelId level) const = 0;
    /// What changed since the last call, in order.
    virtual std::vector<LevelEvent> take_level_events() = 0;

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
    /// Which branch of a `choose` a player picks.
    virtual std::size_t pick(PlayerId player, const plan::ChooseStep& choose) = 0;

    // What the stage may want to know at once.

    virtual void veil_changed(plan::VeilId veil, bool up) = 0; ///< for the first, or the last
    /// For one player, or (unset) for all at once.
    virtual void freeze_changed(PlayerId who, bool frozen) = 0;
    /// Triggers of `level` can fire from now on.
    virtual void became_live(plan::LevelId level) = 0;
    /// For one player, or (unset) for all at once.
    virtual void menu_changed(plan::MenuId menu, PlayerId who, bool open) = 0;
    virtual void fact_changed(plan::FactId fact) = 0;
    /// Near rules are to be judged as if every player had just come (section 5).
    virtual void rejudge_near() = 0;
    /// Every `once` can fire again.
    virtual void triggers_armed() = 0;
    virtual void note(const Event& note) = 0;

    // What triggers and near rules tell (Triggers).

    /// A player got into a zone, or out of it.
    virtual void crossed(PlayerId player, const Zone& zone, bool enters) = 0;
    virtual void firing(plan::TriggerId trigger) = 0; ///< its list starts next
    virtual void firing_lost(plan::TriggerId trigger, PlayerId player) = 0;
    /// A near rule asks for a level, or lets it go: what follows is that transition's.
    virtual void near_began(plan::LevelId level, bool went_far, RunId run) = 0;
    /// A switch holds the level that it would let go.
    virtual void near_refused(plan::LevelId level) = 0;
};

} // namespace hestrel::flow
