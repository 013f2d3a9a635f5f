#pragma once
// The page's part for print, and for who runs no script: the worst walk of each device, drawn.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <vector>

namespace hestrel::report {

/// The figures of one walk, as SVG; empty where there is none to draw.
struct WalkPictures {
    std::string loads, memory, frames, residency, map;
};

/// Which records are drawn: on each device that of the worst route, in the devices' order.
std::vector<std::size_t> drawn_walks(const std::vector<walk::Record>& records);

/// As HTML; `pictures` goes with `drawn_walks`.
std::string stills_section(const plan::Plan& plan, const std::vector<walk::Record>& records,
                           const std::vector<WalkPictures>& pictures);

} // namespace hestrel::report
