#pragma once
// Small questions that a plan answers by itself, each asked here and nowhere else.

#include "plan/plan.hpp"

#include <algorithm>
#include <cstddef>
#include <optional>
#include <string>
#include <vector>

namespace hestrel::plan {

/// Whether one of a group's levels is so.
template <class Such>
bool any_of_group(const Plan& plan, GroupId group, Such&& such) {
    const std::vector<LevelId>& levels = plan.groups[group].levels;
    return std::any_of(levels.begin(), levels.end(), such);
}
/// Whether a gate lets players through, where `shown(level)` says what is shown (docs/model.md
/// section 5).
template <class Shown>
bool is_open(const Plan& plan, const Gate& gate, Shown&& shown) {
    return std::all_of(gate.needs.begin(), gate.needs.end(), shown) &&
           std::all_of(gate.any_of.begin(), gate.any_of.end(),
                       [&](GroupId group) { return any_of_group(plan, group, shown); });
}
/// All levels that a gate, or a wait, looks at: what it needs, and all of which it needs any one.
std::vector<LevelId> all_looked_at(const Plan& plan, const std::vector<LevelId>& levels,
                                   const std::vector<GroupId>& any_of);
/// Whether a gate waits for a level, or for it or another.
bool needs(const Plan& plan, const Gate& gate, LevelId level);
/// What keeps a gate closed, or a wait from ending, by name: levels, and groups of which one will
/// do.
template <class Met>
std::vector<std::string> lacking(const Plan& plan, const std::vector<LevelId>& levels,
                                 const std::vector<GroupId>& any_of, Met&& met) {
    std::vector<std::string> names;
    for (const LevelId level : levels) {
        if (!met(level)) names.push_back(plan.levels[level].name);
    }
    for (const GroupId group : any_of) {
        if (!any_of_group(plan, group, met)) names.push_back(plan.groups[group].name);
    }
    return names;
}
/// The first of several levels; unset where there is none.
LevelId first_of(const std::vector<LevelId>& levels);
/// The levels to one of which a list belongs when it begins; none: to none.
std::vector<LevelId> levels_of(const StepList& list);
/// The levels that a term of a condition asks about.
std::vector<LevelId> levels_of(const Plan& plan, const Term& term);
/// Whether a level streams by distance, or comes with one that does.
bool goes_by_distance(const Plan& plan, LevelId level);
/// Whether two are one level, or variants of one place.
bool same_place(const Plan& plan, LevelId one, LevelId other);
/// The place of which a level is a variant: its group's name; else its own.
const std::string& place_name(const Plan& plan, LevelId level);

/// Whether a level has itself what its purpose needs: it provides it, or, for `way-in`, has an
/// entry.
bool has_itself(const Plan& plan, const Level& level, WordId need);
/// Whether `other`, where it is shown, provides something for a level (docs/model.md section 6): it
/// is in its world, or persists.
inline bool can_provide(const Level& other, const Level& level, WordId what) {
    return (other.world == level.world || other.persist) &&
           std::find(other.provides.begin(), other.provides.end(), what) != other.provides.end();
}
/// Which level stands for one where levels are listed: of a grid's cells the first, which counts
/// for all of them.
inline LevelId listed_as(const Plan& plan, LevelId level) {
    const GridId grid = plan.levels[level].grid;
    return grid ? plan.grids[grid].first_cell() : level;
}
/// Whether a level, or any, costs time in every frame while it is shown, on any device.
bool has_frame_cost(const Level& level);
bool has_frame_costs(const Plan& plan);
/// How long the main thread's work of a frame may be on a device: `limits.longest-frame`, else a
/// period.
Micros longest_frame(const Plan& plan, const Device& device);

/// Where a switch without `at` leads: the level's first entry; unset: nowhere.
WaypointId first_entry(const Level& level);

/// Where a game that is launched again begins: the first level of the edition, else where the route
/// starts.
LevelId launched_in(const Plan& plan, const Route& route);

/// To which of an edition's places, of which there are `count`, a switch by position, `next` or
/// `back` leads where players are at place `from` (unset: at none of them); unset: to none.
std::optional<std::size_t> place_led_to(const SwitchStep& step, std::optional<std::size_t> from,
                                        std::size_t count);

/// Whether a player of a kind (unset: of none) is one of those that a trigger's `for` names.
/// Anybody is where it names none.
bool fits(const Plan& plan, PlayerKindId kind, const std::vector<WordId>& tags);

/// The highest speed of any player with one of these tags, in m/s; of any at all where there are
/// none. 0 where nobody moves.
double top_speed(const Plan& plan, const std::vector<WordId>& tags);

/// What a load's slack is held to: `limits.slack`, else 0.
Micros wanted_slack(const Plan& plan);

/// Calls `each(list)` for the lists that a step may do: branches, cases.
template <class Each>
void for_sublists(const Step& step, Each&& each) {
    if (const auto* choose = std::get_if<ChooseStep>(&step.what)) {
        for (const Branch& branch : choose->branches) each(branch.steps);
    } else if (const auto* cases = std::get_if<CaseStep>(&step.what)) {
        for (const Case& one : cases->cases) each(one.steps);
    }
}

/// Whether any step of a list, its branches and cases is such a one.
template <class Such>
bool any_step_of(const Plan& plan, ListId list, const Such& such) {
    const std::vector<Step>& steps = plan.lists[list].steps;
    return std::any_of(steps.begin(), steps.end(), [&](const Step& step) {
        bool found = such(step);
        for_sublists(step, [&](ListId below) { found = found || any_step_of(plan, below, such); });
        return found;
    });
}

/// By condition: whether the game itself asks it; the others only routes do.
Table<ConditionId, bool> asked_by_game(const Plan& plan);
/// The same where only some lists can run.
Table<ConditionId, bool> asked_by_game(const Plan& plan, const Table<ListId, bool>& run);

/// That one; all of them where it is unset.
std::vector<EditionId> editions_of(const Plan& plan, EditionId edition);
/// The levels that a switch can lead to in an edition; unset: in any. The next one, or the one
/// before, can be any that it lists.
std::vector<LevelId> switched_to(const Plan& plan, EditionId edition, const SwitchStep& step);

/// The list that a branch or case belongs to in the end; of any other list itself.
ListId top_list(const Plan& plan, ListId list);

} // namespace hestrel::plan
