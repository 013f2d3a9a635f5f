#pragma once
// Whether a condition holds (docs/model.md section 6), and what it depends on.

#include "flow/stage.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <vector>

namespace hestrel::flow {

/// What conditions ask about the game.
class ConditionWorld {
public:
    ConditionWorld() = default;
    ConditionWorld(const ConditionWorld&) = delete;
    ConditionWorld& operator=(const ConditionWorld&) = delete;
    virtual ~ConditionWorld() = default;

    /// A player's own, where each has one.
    [[nodiscard]] virtual std::int64_t fact_now(plan::FactId fact, PlayerId player) const = 0;
    [[nodiscard]] virtual std::size_t players() const = 0;
    /// For what asks about a group.
    [[nodiscard]] virtual const plan::Group& group(plan::GroupId group) const = 0;
    [[nodiscard]] virtual bool shown_now(plan::LevelId level) const = 0;
    [[nodiscard]] virtual bool ready_now(plan::LevelId level) const = 0;
    [[nodiscard]] virtual bool delivered_now(plan::LevelId level) const = 0;
    [[nodiscard]] virtual bool queued_now(plan::LevelId level) const = 0;
    /// MiB in use on a player's device; unset: on that of the game's keeper.
    [[nodiscard]] virtual double memory_now(PlayerId player) const = 0;
    [[nodiscard]] virtual bool veiled_now() const = 0;
    /// m/s; 0 where it stands, or is unset.
    [[nodiscard]] virtual double speed_now(PlayerId player) const = 0;

    // Of one player, or (unset) of any.

    [[nodiscard]] virtual bool at_now(plan::WaypointId waypoint, PlayerId player) const = 0;
    [[nodiscard]] virtual bool inside_now(plan::TriggerId trigger, PlayerId player) const = 0;
    [[nodiscard]] virtual bool inside_now(plan::LevelId level, PlayerId player) const = 0;
    [[nodiscard]] virtual bool open_now(plan::MenuId menu, PlayerId player) const = 0;
    [[nodiscard]] virtual bool frozen_now(PlayerId player) const = 0;
};

/// Whether it holds for a player. Unset where nobody fired: what asks about a player, by itself,
/// holds if it does for any; so does what compares a fact that each has.
bool holds(const plan::Condition& condition, const ConditionWorld& world, PlayerId player);
/// The parts of a condition, joined by `and`, that do not hold: indices of its terms, in order.
std::vector<std::uint32_t> unmet(const plan::Condition& condition, const ConditionWorld& world,
                                 PlayerId player);
/// What each fact and word of a condition is: by its number among the terms.
std::vector<plan::TermValue> leaf_values(const plan::Condition& condition,
                                         const ConditionWorld& world, PlayerId player);
/// The parts of a condition, joined by `or`, that hold.
std::vector<std::uint32_t> met(const plan::Condition& condition, const ConditionWorld& world,
                               PlayerId player);

} // namespace hestrel::flow
