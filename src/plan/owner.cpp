#include "plan/owner.hpp"

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

Owner owner_of(const Plan& plan, ListId list) {
    const Thing thing = owner_of(plan.lists[list]);
    switch (thing.kind) {
    case ThingKind::trigger: return {plan.triggers[TriggerId{thing.index}].place, thing};
    case ThingKind::item: return {plan.items[ItemId{thing.index}].place, thing};
    case ThingKind::menu: return {plan.menus[MenuId{thing.index}].place, thing};
    default: return {plan.levels[LevelId{thing.index}].place, thing};
    }
}

bool is_allowed(const Plan& plan, std::string_view finding, const Thing& thing) {
    return std::any_of(plan.allowed.begin(), plan.allowed.end(), [&](const Allowed& allow) {
        return allow.finding == finding && allow.thing == thing;
    });
}

} // namespace hestrel::plan
