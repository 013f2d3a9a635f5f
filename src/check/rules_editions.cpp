// Rules about editions, positions and parcels.

#include "check/report.hpp"

#include <algorithm>

namespace hestrel::check {

using plan::LevelId;

void target_not_in_edition(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) {
            for (const plan::EditionId edition : plan.editions.ids()) {
                if (!study.can_run_in(list, edition)) continue;
                for (const LevelId level : levels_called(step)) {
                    if (!level || study.ships_level(edition, level)) continue;
                    report.add(step.place, owner_of(list),
                               "edition " + plan.editions[edition].name + " does not ship " +
                                   plan.levels[level].name + ", which is needed here");
                }
            }
        }
    }
}

void position_out_of_edition(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) {
            const plan::SwitchStep* switches = switch_of(step);
            if (switches == nullptr || !switches->position) continue;
            for (const plan::EditionId edition : plan.editions.ids()) {
                const std::size_t count = plan.editions[edition].levels.size();
                if (!study.can_run_in(list, edition) || *switches->position < count) continue;
                report.add(step.place, owner_of(list),
                           "edition " + plan.editions[edition].name + " has positions 0 to " +
                               std::to_string(count - 1) + ", and no " +
                               std::to_string(*switches->position));
            }
        }
    }
}

namespace {

/// Levels that players can be switched to, or start in, in an edition, by name. Sorted.
std::vector<LevelId> switched_to(const Study& study, plan::EditionId edition) {
    std::vector<LevelId> levels;
    for (const plan::StepList& list : study.plan.lists) {
        if (!study.can_run_in(list, edition)) continue;
        for (const plan::Step& step : list.steps) {
            const plan::SwitchStep* switches = switch_of(step);
            if (switches != nullptr && switches->to) levels.push_back(switches->to);
        }
    }
    for (const plan::Route& route : study.plan.routes) {
        if (route.edition == edition && route.start_level) levels.push_back(route.start_level);
    }
    std::sort(levels.begin(), levels.end());
    levels.erase(std::unique(levels.begin(), levels.end()), levels.end());
    return levels;
}

/// Why `next` and `back` are not clear from some of these levels in an edition; empty where they
/// are.
std::string unclear_from(const Study& study, plan::EditionId edition,
                         const std::vector<LevelId>& levels) {
    const plan::Edition& listed = study.plan.editions[edition];
    for (const LevelId level : levels) {
        const auto count = std::count(listed.levels.begin(), listed.levels.end(), level);
        if (count == 1 || !study.ships_level(edition, level)) continue;
        return "edition " + listed.name + (count == 0 ? " does not list " : " lists ") +
               study.plan.levels[level].name + (count == 0 ? "" : " twice") +
               ", so what comes next or before is not clear";
    }
    return {};
}

} // namespace

void position_unclear(const Study& study, Report& report) {
    using Target = plan::SwitchStep::Target;
    const plan::Plan& plan = study.plan;
    std::vector<std::string> unclear; // by edition
    for (const plan::EditionId edition : plan.editions.ids())
        unclear.push_back(unclear_from(study, edition, switched_to(study, edition)));
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) {
            const plan::SwitchStep* switches = switch_of(step);
            if (switches == nullptr || switches->to) continue;
            if (plan.editions.empty()) {
                report.add(step.place, owner_of(list),
                           "the plan has no edition in which this could be a position");
                continue;
            }
            if (switches->target == Target::named) continue;
            for (const plan::EditionId edition : plan.editions.ids()) {
                if (!study.can_run_in(list, edition)) continue;
                if (!unclear[edition.value].empty())
                    report.add(step.place, owner_of(list), unclear[edition.value]);
            }
        }
    }
}

void start_parcel_incomplete(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const plan::EditionId id : plan.editions.ids()) {
        const plan::Edition& edition = plan.editions[id];
        if (edition.parcels.empty() || edition.levels.empty()) continue;
        std::vector<bool> delivered(plan.levels.size());
        for (const LevelId level : edition.parcels.front().levels) {
            for (const LevelId each : plan::subtree_of(study.tree, level))
                delivered[each.value] = true;
            for (const LevelId each : plan::ancestors_of(study.tree, level))
                delivered[each.value] = true;
        }
        std::vector<LevelId> missing;
        for (const LevelId level : plan::asked_with(study.tree, edition.levels.front())) {
            if (!delivered[level.value]) missing.push_back(level);
        }
        if (missing.empty()) continue;
        report.add(edition.parcels.front().place, {plan::ThingKind::edition, id.value},
                   "play begins when parcel " + edition.parcels.front().name +
                       " is there, but it lacks " + names_of(plan, missing));
    }
}

} // namespace hestrel::check
