#include "figure/map_cells.hpp"

#include "figure/palette.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hestrel::figure {

using plan::LevelId;
using plan::Vec3;

namespace {

class Cells {
public:
    Cells(const plan::Plan& plan, const plan::Grid& grid, Sheet& sheet,
          const std::function<Point(const Vec3&)>& at)
        : plan_(plan), grid_(grid), sheet_(sheet), at_(at) {}

    /// Fills neighbours in a row that are `such`, as one. Returns their corners.
    template <class Such>
    std::vector<Point> fill(Such such, std::string_view colour) {
        std::vector<Point> all;
        for (std::uint32_t row = 0; row < grid_.rows; ++row) {
            for (std::uint32_t column = 0; column < grid_.columns;) {
                if (!such(grid_.cell(column, row))) {
                    ++column;
                    continue;
                }
                std::uint32_t end = column;
                while (end + 1 < grid_.columns && such(grid_.cell(end + 1, row))) ++end;
                const auto from = corners(grid_.cell(column, row));
                const auto to = corners(grid_.cell(end, row));
                const std::vector<Point> points{at_(from[0]), at_(to[1]), at_(to[2]), at_(from[3])};
                sheet_.polygon(points, colour);
                all.insert(all.end(), points.begin(), points.end());
                column = end + 1;
            }
        }
        return all;
    }

    /// Lines along rows, or down columns.
    void edges(bool along) {
        const std::uint32_t lines = (along ? grid_.rows : grid_.columns) + 1;
        const std::uint32_t steps = along ? grid_.columns : grid_.rows;
        const auto cell = [&](std::uint32_t step, std::uint32_t line) {
            const std::uint32_t column = along ? step : line;
            const std::uint32_t row = along ? line : step;
            return step < steps && line + 1 < lines ? grid_.cell(column, row) : LevelId{};
        };
        for (std::uint32_t line = 0; line < lines; ++line) {
            std::vector<Point> edge; // its two ends
            for (std::uint32_t step = 0; step <= steps; ++step) {
                const LevelId after = cell(step, line);
                const LevelId before = line > 0 ? cell(step, line - 1) : LevelId{};
                if (!after && !before) {
                    if (!edge.empty()) sheet_.line(edge, palette::cell_edge, 0.5);
                    edge.clear();
                    continue;
                }
                // The first edge of the cell after it, or the last of the one before.
                const auto of = corners(after ? after : before);
                const std::size_t from = after ? 0 : along ? 3 : 1;
                const std::size_t to = after ? (along ? 1 : 3) : 2;
                if (edge.empty()) edge = {at_(of[from]), {}};
                edge[1] = at_(of[to]);
            }
        }
    }

private:
    [[nodiscard]] std::vector<Vec3> corners(LevelId cell) const {
        return corners_of(plan_.levels[cell].area.front());
    }

    const plan::Plan& plan_;
    const plan::Grid& grid_;
    Sheet& sheet_;
    const std::function<Point(const Vec3&)>& at_;
};

} // namespace

/// Corners of a box seen from above, turned as it is.
std::vector<Vec3> corners_of(const plan::Box& box) {
    const double angle = box.turn * std::numbers::pi / 180;
    const double x = (box.min[0] + box.max[0]) / 2;
    const double z = (box.min[2] + box.max[2]) / 2;
    std::vector<Vec3> corners;
    for (const auto& [from_x, from_z] :
         {std::pair(box.min[0], box.min[2]), std::pair(box.max[0], box.min[2]),
          std::pair(box.max[0], box.max[2]), std::pair(box.min[0], box.max[2])}) {
        const double dx = from_x - x;
        const double dz = from_z - z;
        // Counter-clockwise as seen with z towards the viewer.
        corners.push_back({x + dx * std::cos(angle) + dz * std::sin(angle), 0,
                           z - dx * std::sin(angle) + dz * std::cos(angle)});
    }
    return corners;
}

std::set<LevelId> ever_shown(const walk::Record& record) {
    std::set<LevelId> shown;
    for (const walk::Event& event : record.events) {
        if (event.kind == walk::EventKind::level_shown) shown.insert(LevelId{event.subject});
    }
    return shown;
}

std::size_t shown_of(const plan::Grid& grid, const std::set<LevelId>& shown) {
    return static_cast<std::size_t>(
        std::count_if(grid.cells.begin(), grid.cells.end(),
                      [&](LevelId cell) { return cell && shown.contains(cell); }));
}

bool is_in_cell(const plan::Plan& plan, const plan::Waypoint& waypoint) {
    return waypoint.home && plan.levels[waypoint.home].grid;
}

bool is_in_cells(const plan::Plan& plan, const plan::Path& path) {
    return is_in_cell(plan, plan.waypoints[path.from]) && is_in_cell(plan, plan.waypoints[path.to]);
}

std::vector<Point> draw_open_world(const plan::Plan& plan, const plan::Grid& grid,
                                   const std::set<LevelId>& shown, Sheet& sheet,
                                   const std::function<Point(const Vec3&)>& at) {
    Cells cells(plan, grid, sheet, at);
    std::vector<Point> all =
        cells.fill([](LevelId cell) { return static_cast<bool>(cell); }, palette::area);
    cells.fill([&](LevelId cell) { return cell && shown.contains(cell); }, palette::cell_shown);
    cells.edges(true);
    cells.edges(false);
    return all;
}

} // namespace hestrel::figure
