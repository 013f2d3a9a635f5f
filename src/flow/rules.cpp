#include "flow/rules.hpp"

#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::flow {

using plan::LevelId;
using plan::RuleId;
using Kind = plan::Rule::Kind;

std::vector<LevelId> Rules::counted(RuleId id) const {
    const plan::Rule& rule = plan_->rules[id];
    std::vector<LevelId> levels;
    if (rule.kind == Kind::contents) return levels;
    for (const LevelId level : world_->levels_there()) {
        if (!world_->shown(level)) continue;
        const auto& provides = plan_->levels[level].provides;
        const auto times = rule.kind == Kind::never_together
                               ? std::ptrdiff_t{plan::contains(rule.levels, level) ? 1 : 0}
                               : std::count(provides.begin(), provides.end(), rule.of);
        levels.insert(levels.end(), static_cast<std::size_t>(times), level);
    }
    return levels;
}

/// What the purpose of a level that is shown needs, and nothing that is shown with it provides.
std::vector<plan::WordId> Rules::missing(const plan::Rule& rule) const {
    std::vector<plan::WordId> missing;
    if (rule.kind != Kind::contents || !world_->shown(rule.levels.front())) return missing;
    const plan::Level& level = plan_->levels[rule.levels.front()];
    for (const plan::WordId need : plan_->purposes[level.purpose].needs) {
        if (plan::has_itself(*plan_, level, need)) continue;
        const auto& asked = world_->levels_there();
        const bool there =
            need != plan_->way_in && std::any_of(asked.begin(), asked.end(), [&](LevelId each) {
                return world_->shown(each) && plan::can_provide(plan_->levels[each], level, need);
            });
        if (!there) missing.push_back(need);
    }
    return missing;
}

void Rules::note_levels(RuleId id) {
    const plan::Rule& rule = plan_->rules[id];
    if (rule.kind == Kind::contents) {
        world_->note_asked(rule.levels.front());
        if (!world_->shown(rule.levels.front())) return; // nothing is missing there
    }
    if (!goes_by_[id]) {
        const plan::Level* level =
            rule.kind == Kind::contents ? &plan_->levels[rule.levels.front()] : nullptr;
        const auto counts = [&](LevelId other) {
            const plan::Level& each = plan_->levels[other];
            if (rule.kind == Kind::never_together) return plan::contains(rule.levels, other);
            if (level == nullptr) return plan::contains(each.provides, rule.of);
            const auto& needs = plan_->purposes[level->purpose].needs;
            return std::any_of(needs.begin(), needs.end(), [&](plan::WordId need) {
                return plan::can_provide(each, *level, need);
            });
        };
        goes_by_[id].emplace();
        for (const LevelId other : plan_->levels.ids()) {
            if (counts(other)) goes_by_[id]->push_back(other);
        }
    }
    for (const LevelId level : *goes_by_[id]) world_->note_asked(level);
}

bool Rules::broken(RuleId id, bool settled) {
    const plan::Rule& rule = plan_->rules[id];
    if (rule.settled && !settled) return false;
    if (rule.when && !world_->rule_holds(rule.when)) return false;
    if (rule.can_rest() && !rule.during_switches && world_->rules_rest()) return false;
    if (rule.kind == Kind::never) return world_->rule_holds(rule.condition);
    if (!counted_) {
        for (const RuleId each : plan_->rules.ids()) {
            const plan::Rule& of = plan_->rules[each];
            if (of.kind == Kind::contents)
                counts_[each] = missing(of).size();
            else if (of.kind != Kind::never)
                counts_[each] = counted(each).size();
        }
        counted_ = true;
    }
    if (world_->wants_to_know()) note_levels(id);
    const auto count = static_cast<std::int64_t>(counts_[id]);
    switch (rule.kind) {
    case Kind::exactly: return count != rule.count;
    case Kind::at_least: return count < rule.count;
    case Kind::at_most: return count > rule.count;
    case Kind::never_together: return count > 1;
    case Kind::contents: return count > 0;
    case Kind::never: break;
    }
    return false;
}

} // namespace hestrel::flow
