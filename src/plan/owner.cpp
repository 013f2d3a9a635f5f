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

std::string item_name(const Plan& plan, ItemId item) {
    return plan.menus[plan.items[item].menu].name + "." + plan.items[item].name;
}

std::string list_name(const Plan& plan, ListId list) {
    const StepList& steps = plan.lists[list];
    switch (steps.owner) {
    case OwnerKind::trigger: return "trigger " + plan.triggers[TriggerId{steps.index}].name;
    case OwnerKind::item: return "item " + item_name(plan, ItemId{steps.index});
    case OwnerKind::after: return "after " + plan.menus[MenuId{steps.index}].name;
    case OwnerKind::arrive: return "arrive of " + plan.levels[LevelId{steps.index}].name;
    case OwnerKind::leave: return "leave of " + plan.levels[LevelId{steps.index}].name;
    }
    return {};
}

std::string cause_name(const Plan& plan, ListId list, LevelId near) {
    return list ? list_name(plan, list) : "near " + plan.levels[near].name;
}

std::string thing_name(const Plan& plan, const Thing& thing) {
    const auto index = static_cast<std::size_t>(thing.index);
    switch (thing.kind) {
    case ThingKind::plan: return "plan";
    case ThingKind::device: return "device " + plan.devices[DeviceId{index}].name;
    case ThingKind::kit: return "kit " + plan.kits[KitId{index}].name;
    case ThingKind::level: return "level " + plan.levels[LevelId{index}].name;
    case ThingKind::waypoint: return "waypoint " + plan.waypoints[WaypointId{index}].name;
    case ThingKind::path: {
        const Path& path = plan.paths[PathId{index}];
        return "path " + plan.waypoints[path.from].name + " to " + plan.waypoints[path.to].name;
    }
    case ThingKind::gate: return "gate " + plan.gates[GateId{index}].name;
    case ThingKind::trigger: return "trigger " + plan.triggers[TriggerId{index}].name;
    case ThingKind::menu: return "menu " + plan.menus[MenuId{index}].name;
    case ThingKind::item: return "item " + item_name(plan, ItemId{index});
    case ThingKind::veil: return "veil " + plan.veils[VeilId{index}].name;
    case ThingKind::fact: return "fact " + plan.facts[FactId{index}].name;
    case ThingKind::player: return "player " + plan.players[PlayerKindId{index}].name;
    case ThingKind::rule: return "rule " + std::to_string(index + 1);
    case ThingKind::edition: return "edition " + plan.editions[EditionId{index}].name;
    case ThingKind::route: return "route " + plan.routes[RouteId{index}].name;
    }
    return "";
}

bool is_allowed(const Plan& plan, std::string_view finding, const Thing& thing) {
    return std::any_of(plan.allowed.begin(), plan.allowed.end(), [&](const Allowed& allow) {
        return allow.finding == finding && allow.thing == thing;
    });
}

} // namespace hestrel::plan
