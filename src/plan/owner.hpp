#pragma once
// What a list of steps belongs to, where findings about it stand.

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

/// "front-desk.begin".
std::string item_name(const Plan& plan, ItemId item);
/// "trigger quay-approach", "item front-desk.begin", "after credits-roll", "arrive of quay".
std::string list_name(const Plan& plan, ListId list);

/// "level quay", "item front-desk.begin", "path hall-door to hall-centre", "rule 2" (from 1).
std::string thing_name(const Plan& plan, const Thing& thing);

/// What begins a transition: a list, or (where that is unset) a level that came near: "near
/// mooring-boats".
std::string cause_name(const Plan& plan, ListId list, LevelId near);

/// Whether the plan allows a finding of that name about a thing.
bool is_allowed(const Plan& plan, std::string_view finding, const Thing& thing);

} // namespace hestrel::plan
