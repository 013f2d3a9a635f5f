#pragma once
// What the interpreter of steps asks of whoever carries the effects out: a walk does it in time,
// with a loader; exploring does it at once. The interpreter itself never sees which.

#include "plan/plan.hpp"

#include <cstdint>
#include <set>
#include <span>
#include <vector>

namespace hestrel::flow {

/// One run of a list of steps: a transition. Numbered in order of start; 0 is the boot.
using RunId = plan::Index<struct RunTag>;

/// Something worth recording that happened to a run.
enum class NoteKind : std::uint8_t {
    started, ///< detail: its list
    ended,
    abandoned,       ///< the level it belongs to left; detail: that level
    gave_up_waiting, ///< `at-most` passed
    switch_refused,  ///< another switch is under way
    leave_refused,   ///< detail: a level of the family of a switch under way; neither hidden nor
                     ///< unloaded
    switch_began,    ///< detail: the target
    switch_ended,
};
struct Note {
    NoteKind kind;
    RunId run;
    std::uint32_t detail = 0;
};

/// What changed about a level, as the interpreter needs to know it.
enum class LevelChange : std::uint8_t { ready, shown, hidden, unloaded };
struct LevelEvent {
    plan::LevelId level;
    LevelChange change;
};

/// Carries out what steps ask for. All of it happens now.
class Stage {
public:
    Stage() = default;
    Stage(const Stage&) = delete;
    Stage& operator=(const Stage&) = delete;
    virtual ~Stage() = default;

    virtual void ask(plan::LevelId level, plan::Priority priority, RunId run) = 0;
    virtual void show(plan::LevelId level, plan::Priority priority, RunId run) = 0;
    virtual void hide(plan::LevelId level) = 0;
    virtual void unload(plan::LevelId level) = 0;
    /// Unloads `leaving`, releasing at once what `family` does not need.
    virtual void unload_now(std::span<const plan::LevelId> leaving,
                            std::span<const plan::LevelId> family) = 0;
    /// The main thread stands still until all of `family` is shown.
    virtual void block_for(std::span<const plan::LevelId> family) = 0;

    [[nodiscard]] virtual bool shown(plan::LevelId level) const = 0;
    [[nodiscard]] virtual bool loaded(plan::LevelId level) const = 0;
    /// Every level that is queued, in flight or loaded.
    [[nodiscard]] virtual const std::set<plan::LevelId>& asked_levels() const = 0;
    /// What changed since the last call, in order.
    virtual std::vector<LevelEvent> take_level_events() = 0;

    /// The moment it is now.
    [[nodiscard]] virtual plan::Micros now() const = 0;
    /// Calls `Flow::wake(run, alarm)` after `delay`.
    virtual void wake_after(plan::Micros delay, RunId run, std::uint32_t alarm) = 0;

    virtual void veil_changed(plan::VeilId veil, bool up) = 0;
    virtual void freeze_changed(bool frozen) = 0;
    /// Puts every player at a waypoint; unset: nowhere.
    virtual void place_players(plan::WaypointId at) = 0;
    /// Triggers that belong to `level` are live from now on (until it is hidden).
    virtual void became_live(plan::LevelId level) = 0;
    virtual void menu_changed(plan::MenuId menu, bool open) = 0;
    virtual void note(const Note& note) = 0;
};

} // namespace hestrel::flow
