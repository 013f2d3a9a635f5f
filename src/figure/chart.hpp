#pragma once
// A chart within a figure: a frame, two axes with their numbers, and where a value stands in it.

#include "figure/sheet.hpp"

#include <string>

namespace hestrel::figure {

struct Axis {
    double from = 0;
    double to = 1;
    std::string name; ///< with its unit
};

class Chart {
public:
    /// Draws grid, frame and numbers; the name of `across` stands below, that of `up` above.
    Chart(Sheet& sheet, const Extent& extent, Axis across, Axis up);

    [[nodiscard]] Point at(double x, double y) const;
    [[nodiscard]] const Extent& extent() const { return extent_; }

    static constexpr double left_room = 62; ///< for the numbers of `up`
    static constexpr double top_room = 24;
    static constexpr double bottom_room = 44;

private:
    Extent extent_;
    Axis across_;
    Axis up_;
};

} // namespace hestrel::figure
