#pragma once
// Whether the plan's rules hold at a moment (docs/model.md section 7): one place for walks, which
// look once an instant has run, and for exploring.

#include "flow/flow.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <vector>

namespace hestrel::flow {

/// All rules of a plan, and what they count. What is counted is kept until levels change.
class Rules {
public:
    /// All of them outlive it.
    Rules(const plan::Plan& plan, const Flow& flow, const Stage& stage)
        : plan_(&plan), flow_(&flow), stage_(&stage), counts_(plan.rules.size(), 0) {}

    /// A level is shown, or is no more.
    void levels_changed() { counted_ = false; }
    /// Whether a rule is broken now. `settled`: nothing is going on. A rule that rests during a
    /// switch is not broken until the switch has placed its players.
    [[nodiscard]] bool broken(plan::RuleId id, bool settled);
    /// What there is to say of a rule that is broken now.
    [[nodiscard]] plan::Breach breach(plan::RuleId id) const {
        const plan::ConditionId condition = plan_->rules[id].condition;
        return {id, counted(id), condition ? flow_->met(condition) : std::vector<std::uint32_t>{},
                missing(plan_->rules[id])};
    }

private:
    [[nodiscard]] std::vector<plan::LevelId> counted(plan::RuleId id) const;
    [[nodiscard]] std::vector<plan::WordId> missing(const plan::Rule& rule) const;

    const plan::Plan* plan_;
    const Flow* flow_;
    const Stage* stage_;
    bool counted_ = false;
    plan::Table<plan::RuleId, std::size_t> counts_;
};

} // namespace hestrel::flow
