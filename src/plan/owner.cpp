#include "plan/owner.hpp"

#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::plan {

Thing owner_of(const StepList& list) {
    switch (list.owner) {
    case OwnerKind::trigger: return {ThingKind::trigger, list.index};
    case OwnerKind::item: return {ThingKind::item, list.index};
    case OwnerKind::after: return {ThingKind::menu, list.index};
    case OwnerKind::arrive:
    case OwnerKind::leave: break;
    }
    return {ThingKind::level, list.index};
}

Owner owner_of(const Plan& plan, RuleId rule) {
    const Rule& of = plan.rules[rule];
    if (of.kind == Rule::Kind::contents)
        return {of.place, {ThingKind::level, of.levels.front().value}};
    return {of.place, {ThingKind::rule, rule.value}};
}

Owner owner_of(const Plan& plan, ListId list) {
    const Thing thing = owner_of(plan.lists[list]);
    switch (thing.kind) {
    case ThingKind::trigger: return {plan.triggers[TriggerId{thing.index}].place, thing};
    case ThingKind::item: return {plan.items[ItemId{thing.index}].place, thing};
    case ThingKind::menu: return {plan.menus[MenuId{thing.index}].place, thing};
    default: return {plan.levels[LevelId{thing.index}].place, thing};
    }
}

LevelId level_of(const Plan& plan, const Thing& thing) {
    const auto index = static_cast<std::size_t>(thing.index);
    switch (thing.kind) {
    case ThingKind::level: return LevelId{index};
    case ThingKind::group: return first_of(plan.groups[GroupId{index}].levels);
    case ThingKind::waypoint: return plan.waypoints[WaypointId{index}].home;
    case ThingKind::path: return plan.paths[PathId{index}].home;
    case ThingKind::gate: return plan.gates[GateId{index}].home;
    case ThingKind::trigger: return first_of(plan.triggers[TriggerId{index}].in);
    case ThingKind::menu: return first_of(plan.menus[MenuId{index}].in);
    case ThingKind::item: return first_of(plan.menus[plan.items[ItemId{index}].menu].in);
    case ThingKind::fact: {
        const Fact& fact = plan.facts[FactId{index}];
        return fact.of ? fact.of : fact.home;
    }
    case ThingKind::list: return plan.named_lists[NamedListId{index}].home;
    default: return {};
    }
}

std::string owner_name(const Plan& plan, const Thing& thing) {
    for (LevelId level = level_of(plan, thing); level; level = plan.levels[level].parent) {
        if (!plan.levels[level].owner.empty()) return plan.levels[level].owner;
    }
    return {};
}

bool allows(const Plan& plan, const Allowed& allowed, std::string_view finding,
            const Thing& thing) {
    if (allowed.finding != finding) return false;
    if (allowed.thing == thing) return true;
    if (thing.kind != ThingKind::level) return false;
    const GridId grid = plan.levels[LevelId{thing.index}].grid;
    return grid && allowed.thing == Thing{ThingKind::level, plan.grids[grid].level.value};
}

bool is_allowed(const Plan& plan, std::string_view finding, const Thing& thing) {
    return std::any_of(plan.allowed.begin(), plan.allowed.end(),
                       [&](const Allowed& each) { return allows(plan, each, finding, thing); });
}

} // namespace hestrel::plan
