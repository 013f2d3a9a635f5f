#include "study/level_ways.hpp"

#include "geometry/crossing.hpp"
#include "geometry/shape_index.hpp"
#include "plan/questions.hpp"
#include "study/study.hpp"

#include <algorithm>

namespace hestrel::study {

using plan::LevelId;
using plan::ListId;

namespace {

bool meets(const plan::Box& one, const plan::Box& other) {
    for (std::size_t axis = 0; axis < one.min.size(); ++axis) {
        if (one.max[axis] < other.min[axis] || other.max[axis] < one.min[axis]) return false;
    }
    return true;
}

/// Finds where lists are met.
class Whereabouts {
public:
    explicit Whereabouts(const plan::Plan& plan) : plan_(plan), openers_(plan.menus.size()) {
        std::vector<std::vector<std::pair<plan::Box, std::uint32_t>>> areas(plan.worlds.size());
        for (const LevelId level : plan.levels.ids()) {
            for (const plan::Box& box : plan.levels[level].area)
                areas[plan.levels[level].world.value].emplace_back(geometry::bounds_of(box),
                                                                   level.value);
        }
        for (const auto& of_world : areas) areas_.emplace_back(of_world);
        for_steps(plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
            const auto* open = std::get_if<plan::OpenStep>(&step.what);
            if (open != nullptr) openers_[open->menu].push_back(&list);
        });
    }

    /// The levels in which a list can be met; an unset one: anywhere.
    std::set<LevelId> of(const plan::StepList& list, int depth = 0) const {
        switch (list.owner) {
        case plan::OwnerKind::trigger: return of(plan_.triggers[plan::TriggerId{list.index}]);
        case plan::OwnerKind::arrive:
        case plan::OwnerKind::leave: return {LevelId{list.index}};
        case plan::OwnerKind::item: return of(plan_.items[plan::ItemId{list.index}].menu, depth);
        case plan::OwnerKind::after: return of(plan::MenuId{list.index}, depth);
        }
        return {LevelId{}};
    }

private:
    std::set<LevelId> of(const plan::Trigger& trigger) const {
        if (!trigger.in.empty()) return {trigger.in.begin(), trigger.in.end()};
        std::set<LevelId> levels;
        if (!std::holds_alternative<std::monostate>(trigger.shape)) {
            const plan::Box shape = geometry::bounds_of(trigger.shape);
            for (const std::uint32_t near :
                 areas_[trigger.world.value].near(shape.min, shape.max)) {
                const LevelId level{near};
                for (const plan::Box& box : plan_.levels[level].area) {
                    if (meets(geometry::bounds_of(box), shape)) levels.insert(level);
                }
            }
        }
        if (levels.empty()) levels.insert(LevelId{});
        return levels;
    }

    std::set<LevelId> of(plan::MenuId menu, int depth) const {
        const std::vector<LevelId>& in = plan_.menus[menu].in;
        if (!in.empty()) return {in.begin(), in.end()};
        constexpr int deepest = 4; // menus that open menus
        std::set<LevelId> levels;
        if (depth < deepest) {
            for (const plan::StepList* opener : openers_[menu])
                levels.merge(of(*opener, depth + 1));
        }
        if (levels.empty()) levels.insert(LevelId{});
        return levels;
    }

    const plan::Plan& plan_;
    plan::Table<plan::MenuId, std::vector<const plan::StepList*>> openers_;
    std::vector<geometry::ShapeIndex> areas_; ///< of levels, by world
};

/// A level, and those it is inside of that `from` is not.
std::vector<LevelId> with_ancestors(const plan::Plan& plan, LevelId level, LevelId from) {
    std::vector<LevelId> levels;
    for (; level && level != from; level = plan.levels[level].parent) levels.push_back(level);
    std::set<LevelId> around;
    for (LevelId each = from; each; each = plan.levels[each].parent) around.insert(each);
    std::erase_if(levels,
                  [&](LevelId each) { return each != levels.front() && around.contains(each); });
    return levels;
}

std::vector<LevelId> targets_of(const plan::Plan& plan, const plan::Step& step, LevelId from) {
    if (std::holds_alternative<plan::MarkStep>(step.what)) return {}; // it only remembers
    std::vector<LevelId> targets;
    for (const LevelId level : levels_called(step)) {
        for (const LevelId each : with_ancestors(plan, level, from)) targets.push_back(each);
    }
    if (const auto* place = std::get_if<plan::PlaceStep>(&step.what); place && place->level)
        targets.push_back(place->level);
    const plan::SwitchStep* change = switch_of(step);
    if (change != nullptr && !change->to) {
        const std::vector<LevelId> relative = along_editions(plan, *change, from);
        targets.insert(targets.end(), relative.begin(), relative.end());
    }
    return targets;
}

} // namespace

std::vector<LevelId> along_editions(const plan::Plan& plan, const plan::SwitchStep& step,
                                    LevelId from) {
    std::vector<LevelId> targets;
    for (const plan::Edition& edition : plan.editions) {
        const auto& levels = edition.levels;
        const auto here = std::find(levels.begin(), levels.end(), from);
        std::optional<std::size_t> place;
        if (here != levels.end()) place = static_cast<std::size_t>(here - levels.begin());
        if (const auto to = plan::place_led_to(step, place, levels.size()))
            targets.push_back(levels[*to]);
    }
    return targets;
}

std::vector<LevelWay> level_ways(const plan::Plan& plan) {
    const Whereabouts whereabouts(plan);
    std::vector<LevelWay> ways;
    std::set<std::tuple<ListId, LevelId, LevelId, bool>> known;
    for (const ListId id : plan.lists.ids()) {
        const ListId top = plan::top_list(plan, id);
        for (const LevelId from : whereabouts.of(plan.lists[top])) {
            for (const plan::Step& step : plan.lists[id].steps) {
                const bool switches = switch_of(step) != nullptr;
                for (const LevelId to : targets_of(plan, step, from)) {
                    if (to == from || !known.emplace(top, from, to, switches).second) continue;
                    ways.push_back({from, to, top, switches});
                }
            }
        }
    }
    return ways;
}

std::set<LevelId> met_in(const plan::Plan& plan, ListId list) {
    return Whereabouts(plan).of(plan.lists[list]);
}

} // namespace hestrel::study
