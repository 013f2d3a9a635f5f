// Cells: an open world in a grid, each cell a sublevel (docs/model.md section 2).

#include "geometry/overlap.hpp"
#include "geometry/space.hpp"
#include "source/plan_builder.hpp"

#include <array>
#include <cmath>
#include <utility>

namespace hestrel::source {

using plan::Grid;
using plan::GridId;
using plan::LevelId;

namespace {

constexpr std::uint32_t most_columns = 256;
constexpr std::array<std::string_view, 2> ways_words{"straight", "diagonal"};

/// The box of a cell, in the level's own space.
plan::Box box_of(const Grid& grid, std::uint32_t column, std::uint32_t row) {
    const auto from = [&](std::size_t axis, std::uint32_t number) {
        return grid.corner[axis] + grid.size[axis] * number;
    };
    // Neighbours share their border to the last digit.
    return {{from(0, column), grid.height[0], from(1, row)},
            {from(0, column + 1), grid.height[1], from(1, row + 1)},
            0};
}

} // namespace

/// Cells are named by where they are, and come after the sublevels that are written out.
void PlanBuilder::declare_cells(const Value& value, LevelId level) {
    const Fields fields = reading_.fields(value, keys::cells);
    const GridId id = plan_.grids.push({});
    Grid& grid = plan_.grids[id];
    grid.place = value.place();
    grid.level = level;
    reading_.count(fields["columns"], most_columns, grid.columns);
    reading_.count(fields["rows"], most_columns, grid.rows);
    std::vector<bool> holes(std::size_t{grid.columns} * grid.rows);
    for (const Value& hole : reading_.list(fields["without"], "a list of cells [column, row]")) {
        std::array<std::int64_t, 2> at{};
        if (!read_pair(hole, "a cell [column, row]", [&](const Value& each, std::size_t axis) {
                reading_.count(each, 0, most_columns, at.at(axis));
            }))
            continue;
        if (at[0] >= grid.columns || at[1] >= grid.rows) {
            reading_.wrong_value(hole, fmt::format("there is no cell [{}, {}]: columns end at {}, "
                                                   "and rows at {}",
                                                   at[0], at[1], grid.columns - 1, grid.rows - 1));
            continue;
        }
        holes[static_cast<std::size_t>(at[1]) * grid.columns + static_cast<std::size_t>(at[0])] =
            true;
    }
    const std::string parent = plan_.levels[level].name;
    for (std::uint32_t row = 0; row < grid.rows; ++row) {
        for (std::uint32_t column = 0; column < grid.columns; ++column) {
            LevelId& cell = grid.cells.emplace_back();
            if (holes[grid.cells.size() - 1]) continue;
            const std::string_view name =
                reading_.keep(fmt::format("{}-{}-{}", parent, column, row));
            cell = add_level(name, grid.place, level, ReadContext::Written::no);
            plan_.levels[cell].grid = id;
            level_bodies_.emplace_back(cell, reading_.fields(Value{}, keys::level));
        }
    }
    grid_bodies_.emplace_back(id, fields);
}

/// Two values in a list, such as [x, z]; false where it is none.
template <class Read>
bool PlanBuilder::read_pair(const Value& value, std::string_view what, Read read) {
    if (!value) return false;
    const std::vector<Value> both = value.is_sequence() ? value.elements() : std::vector<Value>{};
    if (both.size() != 2) {
        reading_.wrong_value(value,
                             fmt::format("expected {}, found {}", what, value.description()));
        return false;
    }
    for (std::size_t axis = 0; axis < 2; ++axis) read(both[axis], axis);
    return true;
}

/// Where the cells are; the waypoints in their middles with them.
void PlanBuilder::place_cells(const Fields& fields, GridId id) {
    Grid& grid = plan_.grids[id];
    const auto metres = [&](std::array<double, 2>& into) {
        return [&](const Value& each, std::size_t axis) {
            reading_.quantity(each, &parse_distance, "a coordinate in m", into.at(axis));
        };
    };
    read_pair(fields["corner"], "a corner [x, z] in m", metres(grid.corner));
    read_pair(fields["height"], "the lowest and the highest y in m", metres(grid.height));
    if (grid.height[0] > grid.height[1]) {
        reading_.wrong_value(fields["height"],
                             fmt::format("the cells have no inside: their height begins at {} and "
                                         "ends at {}",
                                         grid.height[0], grid.height[1]));
        std::swap(grid.height[0], grid.height[1]);
    }
    const Value size = fields["size"];
    const auto length = [&](const Value& each, std::size_t axis) {
        reading_.quantity(each, &parse_length, "a length in m", grid.size.at(axis));
    };
    if (size.is_sequence()) {
        read_pair(size, "a length in m, or [x, z]", length);
    } else {
        length(size, 0);
        grid.size[1] = grid.size[0];
    }
    if (size && (grid.size[0] <= 0 || grid.size[1] <= 0))
        reading_.wrong_value(size, "cells of no size have no inside: they lie on one another");
    const plan::Space& space = plan_.levels[grid.level].space;
    for (std::uint32_t row = 0; row < grid.rows; ++row) {
        for (std::uint32_t column = 0; column < grid.columns; ++column) {
            const LevelId cell = grid.cell(column, row);
            if (!cell) continue;
            const plan::Box box = box_of(grid, column, row);
            plan_.levels[cell].area = {geometry::in_world(space, box)};
            const auto middle = middles_.find(cell);
            if (middle == middles_.end()) continue;
            plan::Waypoint& waypoint = plan_.waypoints[middle->second];
            waypoint.world = plan_.levels[cell].world;
            waypoint.at =
                geometry::in_world(space, plan::Vec3{(box.min[0] + box.max[0]) / 2, box.min[1],
                                                     (box.min[2] + box.max[2]) / 2});
        }
    }
}

/// A waypoint in the middle of a cell whose grid has ways.
void PlanBuilder::declare_middle(LevelId cell) {
    const auto& [id, fields] = grid_bodies_[plan_.levels[cell].grid.value];
    if (!fields.has("ways")) return;
    middles_[cell] = declare(waypoints_, plan_.waypoints, "middle", plan_.levels[cell].place,
                             ReadContext::Written::no);
}

/// What is said of every cell.
void PlanBuilder::read_cells(const Fields& fields, GridId id) {
    const Grid& grid = plan_.grids[id];
    const Fields each = reading_.fields(fields["each"], keys::cell);
    const LevelId first = grid.first_cell();
    if (!first) return;
    plan::Level& level = plan_.levels[first];
    level.content = read_content(each, ContentOf::level);
    level.kits = reading_.references(each["kits"], kits_);
    level.provides = words(each["provides"], "provides");
    if (each.has("purpose")) level.purpose = reading_.reference(each["purpose"], purposes_);
    if (each.has("near")) read_near(each["near"], level);
    for (const LevelId cell : grid.cells) {
        if (!cell || cell == first) continue;
        plan::Level& other = plan_.levels[cell];
        other.content = level.content;
        other.kits = level.kits;
        other.provides = level.provides;
        other.purpose = level.purpose;
        other.near = level.near;
    }
}

/// Two-way paths between the middles of neighbours, cell by cell.
void PlanBuilder::add_ways(const Fields& fields, GridId id) {
    const auto how = reading_.word(fields["ways"], ways_words);
    if (!how) return;
    const bool diagonal = ways_words.at(*how) == "diagonal";
    const Grid& grid = plan_.grids[id];
    const auto add = [&](LevelId from, std::int64_t column, std::int64_t row) {
        if (column < 0 || column >= grid.columns || row < 0 || row >= grid.rows) return;
        const LevelId to =
            grid.cell(static_cast<std::uint32_t>(column), static_cast<std::uint32_t>(row));
        if (!to) return;
        plan::Path path;
        path.place = fields["ways"].place();
        path.home = grid.level;
        path.from = middles_.at(from);
        path.to = middles_.at(to);
        add_path(std::move(path));
    };
    for (std::int64_t row = 0; row < grid.rows; ++row) {
        for (std::int64_t column = 0; column < grid.columns; ++column) {
            const LevelId cell =
                grid.cell(static_cast<std::uint32_t>(column), static_cast<std::uint32_t>(row));
            if (!cell) continue;
            add(cell, column + 1, row);
            add(cell, column, row + 1);
            if (!diagonal) continue;
            add(cell, column + 1, row + 1);
            add(cell, column - 1, row + 1);
        }
    }
}

/// Cells of two levels that lie on one another: who is in one is in the other.
void PlanBuilder::check_cells() {
    for (const auto& [one, other] : geometry::overlapping(plan_)) {
        const plan::Level& first = plan_.levels[one];
        const plan::Level& second = plan_.levels[other];
        if (!first.grid || !second.grid || first.grid == second.grid) continue;
        const plan::Box& area = first.area.front();
        const double volume = geometry::volume_of(first.area);
        const double shared = geometry::shared_volume(first.area, second.area);
        const bool flat = area.min[1] == area.max[1];
        if (flat || volume <= 0 || shared <= volume / 1000) continue;
        reading_.error(
            "wrong-value", second.place,
            fmt::format("the cells {} and {} lie on one another", first.name, second.name));
        return; // once
    }
}

} // namespace hestrel::source
