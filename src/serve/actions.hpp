#pragma once
// What an editor offers to do about a finding: the name that was meant, allowing it with a reason,
// the shape of a trigger that reaches far enough.

#include "serve/edits.hpp"
#include "serve/workspace.hpp"

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
/// An `allow` with a reason to fill in, on the innermost thing there that can have one. Only for
/// what can be allowed.
std::optional<Action> allowed_there(const PlanRead& read, const plan::Finding& finding);
/// Whether there may be a shape for what a finding says; which is found by walking.
bool may_reach_farther(const plan::Finding& finding);
/// For `trigger-too-late`, the shape that `advise` would give the trigger. Walks the plan.
std::optional<Action> farther_shape(source::Disk& disk, const std::string& main,
                                    const PlanRead& read, const plan::Finding& finding);

} // namespace hestrel::serve
