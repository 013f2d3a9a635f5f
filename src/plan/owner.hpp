#pragma once
// What a list of steps belongs to, where findings about it stand and what silences them.

#include "plan/plan.hpp"

#include <string_view>

namespace hestrel::plan {

struct Owner {
    Place place;
    Thing thing;
};

/// The trigger, item, menu or level that a list belongs to.
Owner owner_of(const Plan& plan, ListId list);
/// The same as a thing alone.
Thing owner_of(const StepList& list);

/// Whether the plan allows a finding of that name about a thing.
bool is_allowed(const Plan& plan, std::string_view finding, const Thing& thing);

} // namespace hestrel::plan
