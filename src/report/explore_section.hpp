#pragma once
// The page's part about whatever players do: what exploring found.

#include "explore/explored.hpp"

#include <string>
#include <vector>

namespace hestrel::report {

/// One edition, and its figures as SVG; empty: none was drawn.
struct ExploredEdition {
    explore::Explored explored;
    std::string residency{};
    std::string heat{};        ///< memory by place
    std::string heat_frames{}; ///< frames by place
};

/// As HTML.
std::string explore_section(const std::vector<ExploredEdition>& editions);

} // namespace hestrel::report
