#pragma once
// What levels provide, and what is missing for what they are for.

#include "plan/plan.hpp"

#include <string>

namespace hestrel::report {

/// As HTML; empty where the plan names no purpose.
std::string contents_section(const plan::Plan& plan);

} // namespace hestrel::report
