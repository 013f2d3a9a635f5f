#include "check/context.hpp"

#include "geometry/crossing.hpp"
#include "geometry/ways.hpp"

#include <algorithm>

namespace hestrel::check {

using plan::LevelId;
using plan::ThingKind;

namespace {

void mark(plan::Table<LevelId, Use>& uses, const plan::LevelTree& tree, LevelId level,
          bool Use::*what) {
    for (const LevelId each : plan::asked_with(tree, level)) uses[each].*what = true;
}

void mark_all(plan::Table<LevelId, Use>& uses, bool Use::*what) {
    for (Use& use : uses) use.*what = true;
}

/// Levels that steps by position, `next` and `back` can lead to.
void show_editions(const plan::Plan& plan, const plan::LevelTree& tree,
                   plan::Table<LevelId, Use>& uses) {
    for (const plan::Edition& edition : plan.editions) {
        for (const LevelId level : edition.levels) {
            mark(uses, tree, level, &Use::asked);
            mark(uses, tree, level, &Use::shown);
        }
    }
}

void look_at_step(const plan::Plan& plan, const plan::LevelTree& tree, const plan::Step& step,
                  plan::Table<LevelId, Use>& uses) {
    const bool only_loads = std::holds_alternative<plan::LoadStep>(step.what);
    for (const LevelId level : levels_called(step)) {
        mark(uses, tree, level, &Use::asked);
        mark(uses, tree, level, only_loads ? &Use::loaded : &Use::shown);
    }
    if (const auto* unload = std::get_if<plan::UnloadStep>(&step.what)) {
        for (const LevelId level : unload->levels) {
            for (const LevelId each : plan::subtree_of(tree, level)) uses[each].unloaded = true;
        }
    }
    const plan::SwitchStep* switches = switch_of(step);
    const bool leaves_all = switches != nullptr ||
                            std::holds_alternative<plan::KeepOnlyStep>(step.what) ||
                            std::holds_alternative<plan::ReturnStep>(step.what);
    if (leaves_all) mark_all(uses, &Use::unloaded);
    if (switches != nullptr && !switches->to) show_editions(plan, tree, uses);
}

} // namespace

Context::Context(const plan::Plan& of)
    : plan(of), tree(plan::level_tree(of.levels)), uses(of.levels.size()),
      shown_by(of.levels.size()), shown_without_steps(of.levels.size()), ships(of.editions.size()) {
    for (const plan::ListId list : plan.lists.ids()) {
        for (const plan::Step& step : plan.lists[list].steps) {
            look_at_step(plan, tree, step, uses);
            const bool shows =
                std::holds_alternative<plan::ShowStep>(step.what) || switch_of(step) != nullptr;
            if (!shows) continue;
            for (const LevelId level : levels_called(step)) {
                for (const LevelId each : plan::asked_with(tree, level))
                    shown_by[each].push_back(list);
            }
        }
    }
    const auto from_the_start = [&](LevelId level) {
        mark(uses, tree, level, &Use::asked);
        mark(uses, tree, level, &Use::shown);
        for (const LevelId each : plan::asked_with(tree, level)) shown_without_steps[each] = true;
    };
    for (const plan::Route& route : plan.routes) {
        if (route.start_level) from_the_start(route.start_level);
    }
    for (const LevelId id : plan.levels.ids()) {
        if (plan.levels[id].persist) from_the_start(id);
        if (!plan.levels[id].near) continue;
        from_the_start(id);
        for (const LevelId each : plan::subtree_of(tree, id)) uses[each].unloaded = true;
    }
    for (const plan::EditionId id : plan.editions.ids()) {
        ships[id].assign(plan.levels.size(), false);
        if (!plan.editions[id].levels.empty()) from_the_start(plan.editions[id].levels.front());
        for (const LevelId level : plan.editions[id].levels) {
            for (const LevelId each : plan::subtree_of(tree, level)) ships[id][each.value] = true;
            for (const LevelId each : plan::ancestors_of(tree, level)) ships[id][each.value] = true;
        }
    }
    for (const plan::DeviceId device : plan.devices.ids()) {
        catalogues.push_back(loading::catalogue_for(plan, device));
    }
    std::vector<std::vector<std::pair<plan::Box, std::uint32_t>>> bounds(plan.worlds.size());
    for (const plan::PathId id : plan.paths.ids()) {
        plan::Box box{{1e9, 1e9, 1e9}, {-1e9, -1e9, -1e9}, 0};
        for (const plan::Vec3& corner : geometry::corners_of(plan, {id, true})) {
            for (std::size_t axis = 0; axis < 3; ++axis) {
                box.min[axis] = std::min(box.min[axis], corner[axis]);
                box.max[axis] = std::max(box.max[axis], corner[axis]);
            }
        }
        bounds[plan.waypoints[plan.paths[id].from].world.value].emplace_back(box, id.value);
    }
    for (const auto& of_world : bounds) paths_.emplace_back(of_world);
    std::vector<std::vector<std::pair<plan::Box, std::uint32_t>>> points(plan.worlds.size());
    for (const plan::WaypointId id : plan.waypoints.ids()) {
        const plan::Waypoint& waypoint = plan.waypoints[id];
        points[waypoint.world.value].emplace_back(plan::Box{waypoint.at, waypoint.at, 0}, id.value);
    }
    for (const auto& of_world : points) waypoints_.emplace_back(of_world);
}

std::vector<plan::PathId> Context::paths_near(const plan::Trigger& trigger) const {
    const plan::Box bounds = geometry::bounds_of(trigger.shape);
    std::vector<plan::PathId> paths;
    for (const std::uint32_t path : paths_[trigger.world.value].near(bounds.min, bounds.max))
        paths.emplace_back(path);
    return paths;
}

std::vector<plan::WaypointId> Context::waypoints_near(const plan::Trigger& trigger) const {
    const plan::Box bounds = geometry::bounds_of(trigger.shape);
    std::vector<plan::WaypointId> waypoints;
    for (const std::uint32_t waypoint :
         waypoints_[trigger.world.value].near(bounds.min, bounds.max)) {
        waypoints.emplace_back(waypoint);
    }
    return waypoints;
}

bool Context::can_run_in(const plan::StepList& list, plan::EditionId edition) const {
    return !list.level || ships_level(edition, list.level);
}

std::vector<LevelId> levels_called(const plan::Step& step) {
    if (const auto* load = std::get_if<plan::LoadStep>(&step.what)) return load->levels;
    if (const auto* show = std::get_if<plan::ShowStep>(&step.what)) return show->levels;
    if (const auto* mark = std::get_if<plan::MarkStep>(&step.what)) return {mark->level};
    const plan::SwitchStep* switches = switch_of(step);
    if (switches == nullptr) return {};
    std::vector<LevelId> levels = switches->with;
    if (switches->to) levels.insert(levels.begin(), switches->to);
    return levels;
}

const plan::SwitchStep* switch_of(const plan::Step& step) {
    return std::get_if<plan::SwitchStep>(&step.what);
}

plan::Thing owner_of(const plan::StepList& list) {
    switch (list.owner) {
    case plan::OwnerKind::trigger: return {ThingKind::trigger, list.index};
    case plan::OwnerKind::item: return {ThingKind::item, list.index};
    case plan::OwnerKind::after: return {ThingKind::menu, list.index};
    case plan::OwnerKind::arrive:
    case plan::OwnerKind::leave: return {ThingKind::level, list.index};
    }
    return {};
}

std::string names_of(const plan::Plan& plan, const std::vector<LevelId>& levels) {
    std::string names;
    for (std::size_t i = 0; i < levels.size(); ++i) {
        if (i > 0) names += i + 1 == levels.size() ? " and " : ", ";
        names += plan.levels[levels[i]].name;
    }
    return names;
}

} // namespace hestrel::check
