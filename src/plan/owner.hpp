#pragma once
// What a list of steps belongs to, where findings about it stand and what silences them.

#include "plan/plan.hpp"

#include <string>
#include <string_view>

namespace hestrel::plan {

struct Owner {
    Place place;
    Thing thing;
};

/// The trigger, item, menu or level that a list belongs to.
Owner owner_of(const Plan& plan, ListId list);
/// Where a rule stands; for what a purpose needs: the level that has it.
Owner owner_of(const Plan& plan, RuleId rule);
/// The same as a thing alone.
Thing owner_of(const StepList& list);

/// The level that a thing is, or belongs to; unset: none, or several.
LevelId level_of(const Plan& plan, const Thing& thing);
/// Whose a thing is: the owner of its level, or of a level around that; empty: nobody's.
std::string owner_name(const Plan& plan, const Thing& thing);
/// Whether an `allow` silences a finding of that name about a thing: it stands there, or, of a
/// cell, on the level that has it.
bool allows(const Plan& plan, const Allowed& allowed, std::string_view finding, const Thing& thing);
/// Whether the plan allows a finding of that name about a thing.
bool is_allowed(const Plan& plan, std::string_view finding, const Thing& thing);

} // namespace hestrel::plan
