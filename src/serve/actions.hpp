#pragma once
// What an editor offers to do about a finding: the name that was meant, allowing it with a reason,
// the shape of a trigger that reaches far enough.

#include "serve/edits.hpp"
#include "serve/workspace.hpp"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace hestrel::serve {

/// One thing to do.
struct Action {
    std::string title;
    std::vector<Change> changes;
    bool is_preferred = false;
};

/// The name that was meant, in the place of the one that stands there.
std::optional<Action> meant_name(const PlanRead& read, const plan::Finding& finding);
/// What else can be done about a finding, and takes a while to work out.
enum class Remedy : std::uint8_t { reach_farther, allow };
/// Those that may help.
std::vector<Remedy> remedies(const plan::Finding& finding);
/// What is offered before it is worked out.
std::string title_of(Remedy remedy, const plan::Finding& finding);

/// An `allow` with a reason to fill in, on the innermost thing there that can have one.
std::optional<Action> allowed_there(const PlanRead& read, const plan::Finding& finding);
/// For `trigger-too-late`, the shape that `advise` would give the trigger. Walks the plan.
std::optional<Action> farther_shape(source::Disk& disk, const std::string& main,
                                    const PlanRead& read, const plan::Finding& finding);

} // namespace hestrel::serve
