#pragma once
// All figures of one walk.

#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>

namespace hestrel::figure {

struct WalkFigures {
    Figure loads; ///< above the memory figure, on the same time axis
    Figure memory;
    std::optional<Figure> frames;     ///< below it; unset where nothing that is shown costs time
    std::optional<Figure> residency;  ///< unset where the route takes no time, or nothing loads
    std::optional<Figure> map;        ///< unset where nothing has a place
    std::optional<Figure> storyboard; ///< unset where nobody plays there
};

/// Walks whose figures are drawn in one go: fewer starts of gnuplot against memory.
constexpr std::size_t walks_drawn_together = 8;

WalkFigures walk_figures(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::figure
