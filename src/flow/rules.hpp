#pragma once
// Whether the plan's rules hold at a moment (docs/model.md section 7): one place for walks, which
// look once an instant has run, and for exploring.

#include "plan/plan.hpp"

#include <cstdint>
#include <optional>
#include <set>
#include <vector>

namespace hestrel::flow {

/// What rules look at: what is shown, and the players there.
class RuleWorld {
public:
    RuleWorld() = default;
    RuleWorld(const RuleWorld&) = delete;
    RuleWorld& operator=(const RuleWorld&) = delete;
    virtual ~RuleWorld() = default;

    /// Levels that are queued, in flight or loaded: no other is shown.
    [[nodiscard]] virtual const std::set<plan::LevelId>& levels_there() const = 0;
    /// Whether `note_asked` is to be told which levels a rule goes by.
    [[nodiscard]] virtual bool wants_to_know() const { return false; }
    virtual void note_asked(plan::LevelId /*level*/) const {}
    [[nodiscard]] virtual bool shown(plan::LevelId level) const = 0;
    /// A condition of nobody in particular.
    [[nodiscard]] virtual bool rule_holds(plan::ConditionId condition) const = 0;
    /// The parts of it that hold.
    [[nodiscard]] virtual std::vector<std::uint32_t>
    rule_met(plan::ConditionId condition) const = 0;
    /// A switch is under way that has not placed its players yet.
    [[nodiscard]] virtual bool rules_rest() const = 0;
};

/// All rules of a plan, and what they count. What is counted is kept until levels change.
class Rules {
public:
    /// Both outlive it.
    Rules(const plan::Plan& plan, const RuleWorld& world)
        : plan_(&plan), world_(&world), counts_(plan.rules.size(), 0),
          goes_by_(world.wants_to_know() ? plan.rules.size() : 0) {}

    /// A level is shown, or is no more.
    void levels_changed() { counted_ = false; }
    /// Whether a rule is broken now. `settled`: nothing is going on. A rule that rests during a
    /// switch is not broken until the switch has placed its players.
    [[nodiscard]] bool broken(plan::RuleId id, bool settled);
    /// What there is to say of a rule that is broken now.
    [[nodiscard]] plan::Breach breach(plan::RuleId id) const {
        const plan::ConditionId condition = plan_->rules[id].condition;
        return {id, counted(id),
                condition ? world_->rule_met(condition) : std::vector<std::uint32_t>{},
                missing(plan_->rules[id])};
    }

private:
    [[nodiscard]] std::vector<plan::LevelId> counted(plan::RuleId id) const;
    [[nodiscard]] std::vector<plan::WordId> missing(const plan::Rule& rule) const;
    void note_levels(plan::RuleId id);

    const plan::Plan* plan_;
    const RuleWorld* world_;
    bool counted_ = false;
    plan::Table<plan::RuleId, std::size_t> counts_;
    /// The levels that a rule's count goes by; only where anybody wants to know.
    plan::Table<plan::RuleId, std::optional<std::vector<plan::LevelId>>> goes_by_;
};

} // namespace hestrel::flow
