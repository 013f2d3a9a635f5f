// Rules about editions, positions and parcels.

#include "check/report.hpp"
#include "study/level_ways.hpp"

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

/// Levels that players can be switched to, or start in, in an edition. Sorted.
std::vector<LevelId> switched_to(const Study& study, plan::EditionId edition) {
    std::vector<LevelId> levels;
    for (const plan::StepList& list : study.plan.lists) {
        if (!study.can_run_in(list, edition)) continue;
        for (const plan::Step& step : list.steps) {
            const plan::SwitchStep* switches = switch_of(step);
            if (switches != nullptr && switches->to) levels.push_back(switches->to);
        }
    }
    const auto& listed = study.plan.editions[edition].levels;
    if (!listed.empty()) levels.push_back(listed.front());
    std::sort(levels.begin(), levels.end());
    levels.erase(std::unique(levels.begin(), levels.end()), levels.end());
    return levels;
}

} // namespace

Positions::Positions(const Study& study)
    : study_(&study), met_in_(study.plan.lists.size()), possible_(study.plan.editions.size()) {
    const plan::Plan& plan = study.plan;
    std::vector<std::pair<plan::ListId, const plan::SwitchStep*>> relative;
    std::vector<std::pair<plan::ListId, const plan::SwitchStep*>> by_position;
    for (const plan::ListId id : plan.lists.ids()) {
        for (const plan::Step& step : plan.lists[id].steps) {
            const plan::SwitchStep* switches = switch_of(step);
            if (switches == nullptr || switches->to) continue;
            met_in_[id] = study::met_in(plan, top_list(plan, id));
            (switches->position ? by_position : relative).emplace_back(id, switches);
        }
    }
    for (const plan::EditionId edition : plan.editions.ids()) {
        const auto& levels = plan.editions[edition].levels;
        std::vector<bool>& possible = possible_[edition];
        possible.assign(levels.size(), false);
        const auto named = switched_to(study, edition);
        for (std::size_t i = 0; i < levels.size(); ++i) possible[i] = among(named, levels[i]);
        const auto lead = [&](const plan::SwitchStep& step, std::optional<std::size_t> from) {
            const auto to = plan::place_led_to(step, from, levels.size());
            const bool fresh = to && !possible[*to];
            if (to) possible[*to] = true;
            return fresh;
        };
        for (const auto& [list, step] : by_position) {
            if (study.can_run_in(plan.lists[list], edition)) lead(*step, {});
        }
        for (bool changed = true; changed;) {
            changed = false;
            for (const auto& [list, step] : relative) {
                for (const std::size_t from : met(edition, list))
                    changed = lead(*step, from) || changed;
            }
        }
    }
}

bool Positions::is_met_in(plan::ListId list, LevelId level) const {
    const auto& met = met_in_[list];
    return std::any_of(met.begin(), met.end(), [&](LevelId each) {
        return !each || contains(plan::subtree_of(study_->tree, level), each);
    });
}

std::vector<std::size_t> Positions::met(plan::EditionId edition, plan::ListId list) const {
    std::vector<std::size_t> places;
    if (!study_->can_run_in(study_->plan.lists[list], edition)) return places;
    const auto& levels = study_->plan.editions[edition].levels;
    for (std::size_t i = 0; i < levels.size(); ++i) {
        if (possible_[edition][i] && is_met_in(list, levels[i])) places.push_back(i);
    }
    return places;
}

namespace {

/// Why `next` and `back` are not clear from some of these levels in an edition; empty where they
/// are.
std::string unclear_from(const Study& study, plan::EditionId edition,
                         const std::vector<LevelId>& levels) {
    const plan::Edition& listed = study.plan.editions[edition];
    plan::Table<LevelId, int> counts(study.plan.levels.size());
    for (const LevelId level : listed.levels) ++counts[level];
    for (const LevelId level : levels) {
        const int count = counts[level];
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
        for (const LevelId level :
             plan::boot_levels(plan.levels, study.tree, edition.levels.front())) {
            if (!delivered[level.value]) missing.push_back(level);
        }
        if (missing.empty()) continue;
        report.add(edition.parcels.front().place, {plan::ThingKind::edition, id.value},
                   "play begins when parcel " + edition.parcels.front().name +
                       " is there, but it lacks " + names_of(plan, missing));
    }
}

} // namespace hestrel::check
