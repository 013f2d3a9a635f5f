// Rules about editions, positions and parcels.

#include "check/context.hpp"

#include <algorithm>

namespace hestrel::check {

using plan::LevelId;

void target_not_in_edition(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) {
            for (const plan::EditionId edition : plan.editions.ids()) {
                if (!context.can_run_in(list, edition)) continue;
                for (const LevelId level : levels_called(step)) {
                    if (!level || context.ships_level(edition, level)) continue;
                    report.add(step.place, owner_of(list),
                               "edition " + plan.editions[edition].name + " does not ship " +
                                   plan.levels[level].name + ", which is needed here");
                }
            }
        }
    }
}

void position_out_of_edition(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) {
            const plan::SwitchStep* switches = switch_of(step);
            if (switches == nullptr || !switches->position) continue;
            for (const plan::EditionId edition : plan.editions.ids()) {
                const std::size_t count = plan.editions[edition].levels.size();
                if (!context.can_run_in(list, edition) || *switches->position < count) continue;
                report.add(step.place, owner_of(list),
                           "edition " + plan.editions[edition].name + " has positions 0 to " +
                               std::to_string(count - 1) + ", and no " +
                               std::to_string(*switches->position));
            }
        }
    }
}

void position_unclear(const Context& context, Report& report) {
    using Target = plan::SwitchStep::Target;
    const plan::Plan& plan = context.plan;
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) {
            const plan::SwitchStep* switches = switch_of(step);
            if (switches == nullptr || switches->to) continue;
            if (plan.editions.empty()) {
                report.add(step.place, owner_of(list),
                           "the plan has no edition in which this could be a position");
                continue;
            }
            if (switches->target == Target::named || !list.level) continue;
            for (const plan::EditionId edition : plan.editions.ids()) {
                const auto& levels = plan.editions[edition].levels;
                if (std::count(levels.begin(), levels.end(), list.level) < 2) continue;
                report.add(step.place, owner_of(list),
                           "edition " + plan.editions[edition].name + " lists " +
                               plan.levels[list.level].name +
                               " twice, so what comes next or before is not clear");
            }
        }
    }
}

void start_parcel_incomplete(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    for (const plan::EditionId id : plan.editions.ids()) {
        const plan::Edition& edition = plan.editions[id];
        if (edition.parcels.empty() || edition.levels.empty()) continue;
        std::vector<bool> delivered(plan.levels.size());
        for (const LevelId level : edition.parcels.front().levels) {
            for (const LevelId each : plan::subtree_of(context.tree, level))
                delivered[each.value] = true;
            for (const LevelId each : plan::ancestors_of(context.tree, level))
                delivered[each.value] = true;
        }
        std::vector<LevelId> missing;
        for (const LevelId level : plan::asked_with(context.tree, edition.levels.front())) {
            if (!delivered[level.value]) missing.push_back(level);
        }
        if (missing.empty()) continue;
        report.add(edition.parcels.front().place, {plan::ThingKind::edition, id.value},
                   "play begins when parcel " + edition.parcels.front().name +
                       " is there, but it lacks " + names_of(plan, missing));
    }
}

} // namespace hestrel::check
