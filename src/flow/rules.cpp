#include "flow/rules.hpp"

#include "plan/lists.hpp"

#include <algorithm>

namespace hestrel::flow {

using plan::LevelId;
using plan::RuleId;
using Kind = plan::Rule::Kind;

std::vector<LevelId> Rules::counted(RuleId id) const {
    const plan::Rule& rule = plan_->rules[id];
    std::vector<LevelId> levels;
    for (const LevelId level : stage_->asked_levels()) {
        if (!stage_->shown(level)) continue;
        const auto& provides = plan_->levels[level].provides;
        const auto times = rule.kind == Kind::never_together
                               ? std::ptrdiff_t{plan::contains(rule.levels, level) ? 1 : 0}
                               : std::count(provides.begin(), provides.end(), rule.of);
        levels.insert(levels.end(), static_cast<std::size_t>(times), level);
    }
    return levels;
}

bool Rules::broken(RuleId id, bool settled) {
    const plan::Rule& rule = plan_->rules[id];
    if (rule.settled && !settled) return false;
    if (rule.when && !flow_->holds(rule.when, {})) return false;
    if (rule.can_rest() && !rule.during_switches && flow_->switching()) return false;
    if (rule.kind == Kind::never) return flow_->holds(rule.condition, {});
    if (!counted_) {
        for (const RuleId each : plan_->rules.ids()) {
            if (plan_->rules[each].kind != Kind::never) counts_[each] = counted(each).size();
        }
        counted_ = true;
    }
    const auto count = static_cast<std::int64_t>(counts_[id]);
    switch (rule.kind) {
    case Kind::exactly: return count != rule.count;
    case Kind::at_least: return count < rule.count;
    case Kind::at_most: return count > rule.count;
    case Kind::never_together: return count > 1;
    case Kind::never: break;
    }
    return false;
}

} // namespace hestrel::flow
