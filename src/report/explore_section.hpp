#pragma once
// The page's part about whatever players do: what exploring found.

#include "explore/explored.hpp"

#include <string>
#include <vector>

namespace hestrel::report {

/// One edition, and its residency figure as SVG; empty: none was drawn.
struct ExploredEdition {
    explore::Explored explored;
    std::string figure;
};

/// As HTML.
std::string explore_section(const std::vector<ExploredEdition>& editions);

} // namespace hestrel::report
