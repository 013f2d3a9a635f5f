#pragma once
// The page's parts about findings and what is still to be done.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <vector>

namespace hestrel::report {

/// Whose a finding is: the owner of the level that it is about, or is in, or of that level's
/// parents; empty where nobody is named.
std::string owner_of(const plan::Plan& plan, const plan::Finding& finding);

/// Findings of `check` and of walks by what they are, the worst first; what is found at the same
/// place on many walks stands there once, and leads to the moment on each of them. As HTML.
std::string findings_section(const plan::Plan& plan, const std::vector<plan::Finding>& checked,
                             const std::vector<walk::Record>& records);

/// What is still to be done, by owner. As HTML; empty where nothing is.
std::string todos_section(const plan::Plan& plan);

} // namespace hestrel::report
