#pragma once
// hestrel explore PLAN --toward CONDITION: one situation, looked for.

#include "command/options.hpp"
#include "command/output.hpp"
#include "explore/explorer.hpp"

#include <vector>

namespace hestrel::command {

/// Looks in each edition for a situation in which `exploring.toward` holds, and says how to get
/// there. Returns the exit code.
int run_toward(const Call& call, const plan::Plan& plan,
               const std::vector<plan::EditionId>& editions, const explore::Options& exploring,
               Output& output);

} // namespace hestrel::command
