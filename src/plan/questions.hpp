#pragma once
// Small questions that a plan answers by itself, each asked here and nowhere else.

#include "plan/plan.hpp"

#include <algorithm>
#include <cstddef>
#include <optional>
#include <vector>

namespace hestrel::plan {

/// Whether a gate lets players through, where `shown(level)` says what is shown (docs/model.md
/// section 5).
template <class Shown>
bool is_open(const Gate& gate, Shown&& shown) {
    return std::all_of(gate.needs.begin(), gate.needs.end(), shown);
}
/// Whether a gate waits for a level.
bool needs(const Gate& gate, LevelId level);

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

/// The list that a branch or case belongs to in the end; of any other list itself.
ListId top_list(const Plan& plan, ListId list);

} // namespace hestrel::plan
