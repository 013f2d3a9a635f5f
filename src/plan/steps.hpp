#pragma once
// Steps: single instructions, and the lists they stand in (docs/model.md section 6).

#include "plan/conditions.hpp"
#include "plan/ids.hpp"
#include "plan/place.hpp"
#include "plan/units.hpp"

#include <cstdint>
#include <optional>
#include <variant>
#include <vector>

namespace hestrel::plan {

/// Order in the loader's queue; lower values go first.
enum class Priority : std::uint8_t { now, soon, later };

/// Whom a step is about: every player, or the one who fired (everyone where nobody did). Of what
/// levels are to do: whose machine.
enum class Who : std::uint8_t { all, firer };

struct LoadStep {
    std::vector<LevelId> levels;
    Priority priority = Priority::soon;
    Who who = Who::all;
    bool operator==(const LoadStep&) const = default;
};
struct ShowStep {
    std::vector<LevelId> levels;
    Priority priority = Priority::soon;
    Who who = Who::all;
    bool operator==(const ShowStep&) const = default;
};
struct HideStep {
    std::vector<LevelId> levels;
    Who who = Who::all;
    bool operator==(const HideStep&) const = default;
};
struct UnloadStep {
    std::vector<LevelId> levels;
    Who who = Who::all;
    bool operator==(const UnloadStep&) const = default;
};
struct KeepOnlyStep {
    std::vector<LevelId> levels;
    bool operator==(const KeepOnlyStep&) const = default;
};

/// What a level must be for a wait to end: shown, or ready (loaded).
enum class Awaited : std::uint8_t { shown, ready };

/// `wait: 2 s`, `wait: {shown: [L…]}`, `wait: {ready: [L…]}`, `wait: {until: cond}`; with
/// `at-most`.
struct WaitStep {
    std::optional<Micros> time; ///< set: the whole wait
    ConditionId until;          ///< set: waits for that; else for `levels`
    Awaited awaited = Awaited::shown;
    std::vector<LevelId> levels;
    std::vector<GroupId> any_of;   ///< and for any one level of each of these
    std::optional<Micros> at_most; ///< gives up after that and goes on
    Who who = Who::all;
    bool operator==(const WaitStep&) const = default;
};

struct VeilStep {
    VeilId veil;
    Who who = Who::all;
    bool operator==(const VeilStep&) const = default;
};
struct UnveilStep {
    VeilId veil;
    Who who = Who::all;
    bool operator==(const UnveilStep&) const = default;
};
struct FreezeStep {
    Who who = Who::all;
    bool operator==(const FreezeStep&) const = default;
};
struct ThawStep {
    Who who = Who::all;
    bool operator==(const ThawStep&) const = default;
};
struct PlaceStep {
    LevelId level;
    WaypointId at;
    Who who = Who::firer;
    VeilId veil; ///< set: hides it from those placed, who are frozen meanwhile
    bool operator==(const PlaceStep&) const = default;
};

enum class SwitchOrder : std::uint8_t { load_first, free_first };

/// `switch`, `next` and `back`. Of `to` and `position` exactly one is set in a `switch`, none in
/// the others.
struct SwitchStep {
    enum class Target : std::uint8_t { named, next, back };
    Target target = Target::named;
    LevelId to;
    std::optional<std::uint32_t> position; ///< in the edition being played, from 0
    WaypointId at;                         ///< unset: the target's first entry, else nowhere
    WordId at_word; ///< the entry's name, where the target is known only when the step runs
    std::vector<LevelId> with;
    SwitchOrder order = SwitchOrder::load_first;
    VeilId veil;
    bool blocking = false;
    bool reuse = false;
    bool operator==(const SwitchStep&) const = default;
};

/// One fact set to a value, or changed by a number.
struct Assignment {
    Place place;
    FactId fact;
    Value value;
    bool adds = false;
};
struct SetStep {
    std::vector<Assignment> facts;
};
/// Facts back to their initial values; `session`: all of lifetime level and session, and every
/// `once`.
struct ResetStep {
    std::vector<FactId> facts;
    bool session = false;
    bool operator==(const ResetStep&) const = default;
};
struct SaveStep {
    bool operator==(const SaveStep&) const = default;
};
struct RestoreStep {
    bool operator==(const RestoreStep&) const = default;
};
struct MarkStep {
    LevelId level;
    WaypointId at;
    bool operator==(const MarkStep&) const = default;
};
/// To the checkpoint: to where it is, if its level is shown; else a switch there.
struct ReturnStep {
    SwitchStep how; ///< without its target
    bool operator==(const ReturnStep&) const = default;
};
struct OpenStep {
    MenuId menu;
    Who who = Who::all;
    bool operator==(const OpenStep&) const = default;
};
struct CloseStep {
    MenuId menu;
    Who who = Who::all;
    bool operator==(const CloseStep&) const = default;
};
struct Branch {
    WordId name;
    Place place;
    ListId steps;
};
struct ChooseStep {
    std::vector<Branch> branches;
};
/// One of several that a `CaseStep` tells apart.
struct Case {
    ConditionId when; ///< unset: in all cases that come so far
    ListId steps;
};
/// Does the first case that holds when its turn comes, or nothing: what `when` beside a step is,
/// and levels by a fact.
struct CaseStep {
    std::vector<Case> cases;
    FactId by;               ///< levels by this fact; unset: a `when`
    std::vector<Value> told; ///< the values of `by` that have a level, or `none`
    bool all_told = true;    ///< there is an `else`; if not, the last case is that of other values
};
struct EndStep {
    bool operator==(const EndStep&) const = default;
};

/// One instruction and where it stands.
struct Step {
    Place place;
    std::uint32_t written = 0; ///< as which element of the list that it is written in
    std::variant<LoadStep, ShowStep, HideStep, UnloadStep, KeepOnlyStep, WaitStep, VeilStep,
                 UnveilStep, FreezeStep, ThawStep, PlaceStep, SwitchStep, SetStep, ResetStep,
                 SaveStep, RestoreStep, MarkStep, ReturnStep, OpenStep, CloseStep, ChooseStep,
                 CaseStep, EndStep>
        what;
};

/// What owns a list of steps.
enum class OwnerKind : std::uint8_t { trigger, item, after, arrive, leave };

/// The steps of one trigger, item, menu or level, in order; or of one branch of a `choose`.
struct StepList {
    OwnerKind owner = OwnerKind::trigger;
    std::uint32_t index = 0;     ///< of the trigger, item, menu or level
    LevelId level;               ///< the level it belongs to; unset: it can't be abandoned
    ListId parent;               ///< of a branch or case: the list in which its step stands,
    std::size_t parent_step = 0; ///< and as which step; the parent goes on after that
    std::vector<Step> steps;
    /// Where it can belong to one of several, all of them in plan order, `level` the first: to the
    /// first that is shown when it begins, else to `level`.
    std::vector<LevelId> levels = {};
};

} // namespace hestrel::plan
