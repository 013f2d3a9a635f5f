#pragma once
// Open worlds on a map: hundreds of cells as one thing.

#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <cstddef>
#include <functional>
#include <set>
#include <vector>

namespace hestrel::figure {

/// A box's corners seen from above, counter-clockwise with z towards the viewer, from its lowest x
/// and z; y is 0.
std::vector<plan::Vec3> corners_of(const plan::Box& box);

/// Levels that were shown at any moment of a walk.
std::set<plan::LevelId> ever_shown(const walk::Record& record);
/// How many cells of a grid are among them.
std::size_t shown_of(const plan::Grid& grid, const std::set<plan::LevelId>& shown);

/// Whether a waypoint, or both ends of a path, belong to cells: these are as regular as the cells
/// themselves, and not drawn.
bool is_in_cell(const plan::Plan& plan, const plan::Waypoint& waypoint);
bool is_in_cells(const plan::Plan& plan, const plan::Path& path);

/// Draws the cells of a grid, those that were shown darker, and the lines between them, each as
/// long as it goes on. `at`: where a place stands on the sheet. Returns the corners of all.
std::vector<Point> draw_open_world(const plan::Plan& plan, const plan::Grid& grid,
                                   const std::set<plan::LevelId>& shown, Sheet& sheet,
                                   const std::function<Point(const plan::Vec3&)>& at);

} // namespace hestrel::figure
