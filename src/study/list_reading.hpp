#pragma once
// What lists of steps ask for, read off the plan without running them. All who ask (rules, advice,
// orders, figures) read steps here, so that a step means the same to each.

#include "plan/plan.hpp"

#include <cstddef>
#include <vector>

namespace hestrel::study {

/// What one step does to levels, veils and players. Points into the plan.
struct StepReading {
    const plan::Step* step = nullptr;
    /// Asked for by name, in order: by `load`, `show` or a switch (its target, then `with`).
    std::vector<plan::LevelId> asks;
    bool shows = false;                         ///< what it asks for is wanted shown
    const plan::SwitchStep* switches = nullptr; ///< `switch`, `next` or `back`
    const plan::WaitStep* waits = nullptr;
    const std::vector<plan::LevelId>* hides = nullptr;
    const std::vector<plan::LevelId>* unloads = nullptr;
    const std::vector<plan::LevelId>* keeps = nullptr; ///< `keep-only`
    plan::VeilId raises;                               ///< `veil`
    plan::VeilId takes_down;                           ///< `unveil`
    plan::VeilId behind; ///< a switch, `place` or `return` does it behind this, and takes it down
    plan::LevelId marks; ///< the checkpoint's
    std::vector<plan::LevelId> comes_near; ///< near where a `place` puts players; given a plan
    bool freezes = false;
    bool thaws = false;
    bool places = false;
    bool returns = false;
    bool may_do_more = false; ///< what stands in branches or cases, read as lists of their own

    /// Players do not see what loads, or can't run ahead of it.
    [[nodiscard]] bool covers() const { return raises || freezes; }
    /// Players who fired find themselves elsewhere.
    [[nodiscard]] bool moves_on() const { return switches != nullptr || places || returns; }
    /// All levels go but those named.
    [[nodiscard]] bool leaves_all() const {
        return switches != nullptr || keeps != nullptr || returns;
    }
    /// What it names: asked for, or marked.
    [[nodiscard]] std::vector<plan::LevelId> called() const {
        return marks ? std::vector{marks} : asks;
    }
};
StepReading read_step(const plan::Step& step);

/// A list's own steps, not those of its branches.
std::vector<StepReading> read_list(const plan::StepList& list);
/// The same, with what comes near.
std::vector<StepReading> read_list(const plan::Plan& plan, const plan::StepList& list);
/// Levels that near rules bring to who stands at a waypoint, in plan order.
std::vector<plan::LevelId> near_levels(const plan::Plan& plan, plan::WaypointId at);

/// The switch of a `switch`, `next` or `back`; null for every other step.
const plan::SwitchStep* switch_of(const plan::Step& step);
/// What a step asks for, shows or marks by name, `with` included.
std::vector<plan::LevelId> levels_called(const plan::Step& step);

/// Whether a list hides what it loads, or holds players meanwhile.
bool hides_loading(const plan::StepList& list);

/// What a list does for what it loads.
struct Hiding {
    std::vector<plan::LevelId> held; ///< a veil or freeze lasts until these are shown
    plan::Micros hidden;             ///< by a veil's `min`, or a wait under a veil or freeze
};
Hiding hiding_of(const plan::Plan& plan, const plan::StepList& list);

/// What a list asks for before its first wait for levels, and what that, or a switch, waits for.
/// Where nothing does: what the gates that need any of it wait for, else all that is asked for.
struct Asking {
    std::vector<plan::LevelId> asked;
    std::vector<plan::LevelId> awaited;
};
Asking asking_of(const plan::Plan& plan, const plan::StepList& list);

/// A fixed wait that stands where a wait for what the list loads would be.
struct FixedWait {
    const plan::Step* step = nullptr; ///< the last, where several follow each other
    std::size_t index = 0;            ///< of that step in its list
    plan::Micros time;                ///< of all of them together
    bool shown = false;               ///< what is loaded was to be shown too
    std::vector<plan::LevelId> levels;
};
/// In the order of their steps. A wait that nothing behind it relies on is none.
std::vector<FixedWait> fixed_waits(const plan::Plan& plan, const plan::StepList& list);

} // namespace hestrel::study
