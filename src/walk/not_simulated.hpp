#pragma once
// What a plan may say and a walk does not simulate yet, so that no walk is silently wrong.

#include "plan/finding.hpp"

#include <vector>

namespace hestrel::walk {

/// One finding for each thing of `plan` that this version's walk would have to ignore, in plan
/// order.
std::vector<plan::Finding> not_simulated(const plan::Plan& plan);

} // namespace hestrel::walk
