#include "plan/owner.hpp"

#include <algorithm>

namespace hestrel::plan {

Owner owner_of(const Plan& plan, ListId list) {
    const StepList& steps = plan.lists[list];
    switch (steps.owner) {
    case OwnerKind::trigger:
        return {plan.triggers[TriggerId{steps.index}].place, {ThingKind::trigger, steps.index}};
    case OwnerKind::item:
        return {plan.items[ItemId{steps.index}].place, {ThingKind::item, steps.index}};
    case OwnerKind::after:
        return {plan.menus[MenuId{steps.index}].place, {ThingKind::menu, steps.index}};
    case OwnerKind::arrive:
    case OwnerKind::leave: break;
    }
    return {plan.levels[LevelId{steps.index}].place, {ThingKind::level, steps.index}};
}

bool is_allowed(const Plan& plan, std::string_view finding, const Thing& thing) {
    return std::any_of(plan.allowed.begin(), plan.allowed.end(), [&](const Allowed& allow) {
        return allow.finding == finding && allow.thing == thing;
    });
}

} // namespace hestrel::plan
