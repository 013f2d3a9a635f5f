#pragma once
// Walks for build servers: routes as tests.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// JUnit XML: a test case for each route on each device. Each `expect` that failed is a failure of
/// it, and so is a bad verdict, with the findings that make it; what else was expected is told in
/// its output.
std::string walks_junit(const plan::Plan& plan, const std::vector<walk::Record>& records);

} // namespace hestrel::tables
