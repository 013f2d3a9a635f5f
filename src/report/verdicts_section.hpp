#pragma once
// The page's parts about verdicts: what comes to the meeting first.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <vector>

namespace hestrel::report {

/// "2 of 3 devices pass; handheld is over budget and late."
std::string headline_of(const plan::Plan& plan, const std::vector<walk::Record>& records);

/// A card for each device, as HTML.
std::string verdicts_section(const plan::Plan& plan, const std::vector<walk::Record>& records);

/// Each route on each device, worst first, as HTML; each leads to the replay.
std::string routes_section(const plan::Plan& plan, const std::vector<walk::Record>& records);

/// What each transition loads on each device, least slack first, as HTML.
std::string loads_section(const plan::Plan& plan, const std::vector<walk::Record>& records);

} // namespace hestrel::report
