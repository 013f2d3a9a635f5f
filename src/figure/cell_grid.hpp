#pragma once
// Rows and columns of coloured cells, with names on the left and slanting ones on top: what the
// residency figures are drawn as.

#include "figure/frame.hpp"
#include "figure/sheet.hpp"

#include <string>
#include <vector>

namespace hestrel::figure {

/// What is drawn.
struct CellGrid {
    struct Cell {
        std::size_t kind = 0; ///< index of `kinds`
        std::string says;     ///< shown when it is pointed at
    };
    struct Row {
        std::string name;
        std::vector<Cell> cells; ///< by column
    };
    std::string title;
    std::string description;
    std::vector<std::string> columns;
    std::vector<Row> rows;
    std::vector<Swatch> kinds; ///< the legend has those that there are
};

Figure draw_cells(const CellGrid& grid);

} // namespace hestrel::figure
