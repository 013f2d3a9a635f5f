#include "study/level_ways.hpp"

#include "geometry/crossing.hpp"
#include "geometry/shape_index.hpp"
#include "plan/lists.hpp"
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

/// Whether it counts from where players are in the edition.
bool counts(const plan::SwitchStep& change) {
    return change.target != plan::SwitchStep::Target::named;
}

} // namespace

LevelFlow::LevelFlow(const plan::Plan& plan)
    : plan_(plan), met_in_(plan.lists.size()), before_(plan.levels.size()),
      switched_to_(plan.levels.size(), false) {
    const Whereabouts whereabouts(plan);
    for (const ListId list : plan.lists.ids()) {
        if (plan::top_list(plan, list) == list) met_in_[list] = whereabouts.of(plan.lists[list]);
    }
    const bool any_counts =
        std::any_of(plan.lists.begin(), plan.lists.end(), [](const plan::StepList& list) {
            return std::any_of(list.steps.begin(), list.steps.end(), [](const plan::Step& step) {
                const plan::SwitchStep* change = switch_of(step);
                return change != nullptr && counts(*change);
            });
        });
    if (!any_counts) return;
    note_ways_on_foot();
    note_switched_to();
}

/// Loads, shows and places lead on without a switch; what is inside a level comes with it.
void LevelFlow::note_ways_on_foot() {
    for (const LevelId level : plan_.levels.ids()) {
        if (const LevelId parent = plan_.levels[level].parent) before_[level].insert(parent);
    }
    for (const ListId list : plan_.lists.ids()) {
        for (const plan::Step& step : plan_.lists[list].steps) {
            if (switch_of(step) != nullptr) continue;
            for (const LevelId from : met_in_[plan::top_list(plan_, list)]) {
                if (!from) continue;
                for (const LevelId to : targets_of(step, from)) {
                    if (to && to != from) before_[to].insert(from);
                }
            }
        }
    }
}

void LevelFlow::note_switched_to() {
    const auto note = [&](LevelId level) {
        const bool fresh = level && !switched_to_[level];
        if (fresh) switched_to_[level] = true;
        return fresh;
    };
    for (const plan::Route& route : plan_.routes) note(route.start.level);
    for (const plan::Edition& edition : plan_.editions) {
        if (!edition.levels.empty()) note(edition.levels.front());
    }
    std::vector<std::pair<ListId, const plan::SwitchStep*>> counting;
    for (const ListId list : plan_.lists.ids()) {
        const ListId top = plan::top_list(plan_, list);
        for (const plan::Step& step : plan_.lists[list].steps) {
            const plan::SwitchStep* change = switch_of(step);
            if (change == nullptr) continue;
            if (counts(*change)) {
                counting.emplace_back(top, change);
                continue;
            }
            for (const LevelId level : leads_to(*change, top)) note(level);
        }
    }
    for (bool changed = true; changed;) {
        changed = false;
        for (const auto& [list, change] : counting) {
            for (const LevelId level : leads_to(*change, list)) changed = note(level) || changed;
        }
    }
}

std::set<LevelId> LevelFlow::counts_from(LevelId met) const {
    if (!met || switched_to_[met]) return {met};
    std::set<LevelId> origins;
    std::set<LevelId> seen{met};
    std::vector<LevelId> open{met};
    while (!open.empty()) {
        const LevelId level = open.back();
        open.pop_back();
        for (const LevelId before : before_[level]) {
            if (!seen.insert(before).second) continue;
            if (switched_to_[before])
                origins.insert(before);
            else
                open.push_back(before);
        }
    }
    if (origins.empty()) origins.insert(met);
    return origins;
}

std::set<LevelId> LevelFlow::counts_from(ListId list) const {
    std::set<LevelId> origins;
    for (const LevelId met : met_in_[list]) origins.merge(counts_from(met));
    return origins;
}

/// `from`: the levels that it can count from.
std::vector<LevelId> LevelFlow::along_editions(const plan::SwitchStep& change,
                                               const std::set<LevelId>& from) const {
    std::vector<LevelId> targets;
    for (const LevelId origin : from) {
        for (const plan::Edition& edition : plan_.editions) {
            const auto& levels = edition.levels;
            const auto here = std::find(levels.begin(), levels.end(), origin);
            std::optional<std::size_t> place;
            if (here != levels.end()) place = static_cast<std::size_t>(here - levels.begin());
            if (const auto to = plan::place_led_to(change, place, levels.size()))
                plan::append_new(targets, levels[*to]);
        }
    }
    return targets;
}

std::vector<LevelId> LevelFlow::leads_to(const plan::SwitchStep& change, ListId list) const {
    if (change.to) return {change.to};
    return along_editions(change, counts_from(list));
}

std::vector<LevelId> LevelFlow::targets_of(const plan::Step& step, LevelId from) const {
    if (std::holds_alternative<plan::MarkStep>(step.what)) return {}; // it only remembers
    std::vector<LevelId> targets;
    for (const LevelId level : levels_called(step)) {
        for (const LevelId each : with_ancestors(plan_, level, from)) targets.push_back(each);
    }
    if (const auto* place = std::get_if<plan::PlaceStep>(&step.what); place && place->level)
        targets.push_back(place->level);
    const plan::SwitchStep* change = switch_of(step);
    if (change != nullptr && !change->to)
        plan::append_new(targets, along_editions(*change, counts_from(from)));
    return targets;
}

std::vector<LevelWay> LevelFlow::ways() const {
    std::vector<LevelWay> ways;
    std::set<std::tuple<ListId, LevelId, LevelId, bool>> known;
    for (const ListId id : plan_.lists.ids()) {
        const ListId top = plan::top_list(plan_, id);
        for (const LevelId from : met_in_[top]) {
            for (const plan::Step& step : plan_.lists[id].steps) {
                const bool switches = switch_of(step) != nullptr;
                for (const LevelId to : targets_of(step, from)) {
                    if (to == from || !known.emplace(top, from, to, switches).second) continue;
                    ways.push_back({from, to, top, switches});
                }
            }
        }
    }
    return ways;
}

std::vector<LevelWay> level_ways(const plan::Plan& plan) {
    return LevelFlow(plan).ways();
}

std::set<LevelId> met_in(const plan::Plan& plan, ListId list) {
    return Whereabouts(plan).of(plan.lists[list]);
}

} // namespace hestrel::study
