#pragma once
// What is lost on the way: what becomes of facts, over all walks and explored moves.

#include "report/explore_section.hpp"
#include "walk/record.hpp"

#include <string>
#include <vector>

namespace hestrel::report {

/// As HTML; empty where nothing becomes of any fact.
std::string carries_section(const plan::Plan& plan, const std::vector<walk::Record>& records,
                            const std::vector<ExploredEdition>& editions);

} // namespace hestrel::report
