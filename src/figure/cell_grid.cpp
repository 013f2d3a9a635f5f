#include "figure/cell_grid.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::figure {

namespace {

constexpr double cell_row_height = 18;
constexpr double widest_cell = 44;
constexpr double narrowest_cell = 20;
constexpr double cells_width = 900;
constexpr double name_turn = 60; ///< degrees

Text column_name(const std::string& name, Point at) {
    return {at, name, Align::left, small_text, palette::ink, name_turn};
}

std::vector<Swatch> legend_of(const CellGrid& grid) {
    std::vector<bool> present(grid.kinds.size());
    for (const CellGrid::Row& row : grid.rows)
        for (const CellGrid::Cell& cell : row.cells) present[cell.kind] = true;
    std::vector<Swatch> legend;
    for (std::size_t i = 0; i < grid.kinds.size(); ++i)
        if (present[i]) legend.push_back(grid.kinds[i]);
    return legend;
}

} // namespace

Figure draw_cells(const CellGrid& grid) {
    const auto columns = static_cast<double>(std::max<std::size_t>(grid.columns.size(), 1));
    const double cell = std::clamp(cells_width / columns, narrowest_cell, widest_cell);
    double left = 0;
    for (const CellGrid::Row& row : grid.rows)
        left = std::max(left, text_width(row.name, normal_text) + 2 * margin);
    double names_high = 0;
    double names_wide = 0;
    for (const std::string& name : grid.columns) {
        const Extent room = extent_of(column_name(name, {0, 0}));
        names_high = std::max(names_high, room.height());
        names_wide = std::max(names_wide, room.width());
    }
    const std::vector<Swatch> legend = legend_of(grid);
    const double right = left + cell * columns;
    const double width = std::ceil(
        std::max({right + names_wide + margin, right + 2 * margin + legend_width(legend), 720.0}));
    const double top = title_height(grid.title, width) + names_high + 14;
    const double bottom = top + std::max(cell_row_height * static_cast<double>(grid.rows.size()),
                                         legend_row * static_cast<double>(legend.size()));
    Figure figure{Sheet(width, bottom + margin), grid.title, grid.description};
    Sheet& sheet = figure.sheet;
    draw_title(sheet, grid.title);
    for (std::size_t i = 0; i < grid.columns.size(); ++i) {
        const double x = left + (static_cast<double>(i) + 0.5) * cell;
        sheet.text(column_name(grid.columns[i], {x, top - 9}));
    }
    for (std::size_t r = 0; r < grid.rows.size(); ++r) {
        const CellGrid::Row& row = grid.rows[r];
        const double y = top + static_cast<double>(r) * cell_row_height;
        sheet.text({{left - 8, y + cell_row_height / 2},
                    row.name,
                    Align::right,
                    normal_text,
                    palette::ink});
        for (std::size_t c = 0; c < row.cells.size(); ++c) {
            const double x = left + static_cast<double>(c) * cell;
            const Extent box{{x + 1, y + 1}, {x + cell - 1, y + cell_row_height - 1}};
            sheet.rect(box, grid.kinds[row.cells[c].kind].colour);
            sheet.hot(box, row.cells[c].says);
        }
    }
    draw_legend(sheet, {right + 2 * margin, top}, legend);
    return figure;
}

} // namespace hestrel::figure
