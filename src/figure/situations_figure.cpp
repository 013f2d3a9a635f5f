#include "figure/situations_figure.hpp"

#include "figure/cell_grid.hpp"
#include "figure/palette.hpp"
#include "figure/plain_names.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "tables/explore_tables.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <map>
#include <set>

namespace hestrel::figure {

using plan::LevelId;
using plan::WaypointId;

namespace {

using Cell = SituationsResidency::Cell;
using Column = SituationsResidency::Column;
using Row = SituationsResidency::Row;

/// How often a level is there.
enum class Often : std::uint8_t { never, sometimes_hidden, always_hidden, sometimes, always };
constexpr std::array<std::string_view, 5> words{"never loaded", "loaded sometimes, never shown",
                                                "loaded always, never shown", "shown sometimes",
                                                "shown always"};
constexpr std::array<std::string_view, 5> colours{palette::faint, palette::waiting, palette::ready,
                                                  palette::shown_less, palette::shown};

Often how_often(const Cell& cell, std::uint64_t situations) {
    if (cell.shown == situations) return Often::always;
    if (cell.shown > 0) return Often::sometimes;
    if (cell.loaded == situations) return Often::always_hidden;
    return cell.loaded > 0 ? Often::sometimes_hidden : Often::never;
}

/// Puts a column into another one.
void join(SituationsResidency& residency, std::size_t into, std::size_t from) {
    Column& column = residency.columns[into];
    const Column& other = residency.columns[from];
    column.places.insert(column.places.end(), other.places.begin(), other.places.end());
    column.situations += other.situations;
    for (Row& row : residency.rows) {
        row.cells[into].loaded += row.cells[from].loaded;
        row.cells[into].shown += row.cells[from].shown;
    }
}

/// Keeps the columns of those numbers.
void keep(SituationsResidency& residency, const std::vector<std::size_t>& kept) {
    const auto only = [&](auto& all) {
        std::remove_reference_t<decltype(all)> left;
        for (const std::size_t i : kept) left.push_back(std::move(all[i]));
        all = std::move(left);
    };
    only(residency.columns);
    for (Row& row : residency.rows) only(row.cells);
}

/// Places that look alike share a column.
void join_alike(SituationsResidency& residency) {
    std::map<std::vector<Often>, std::size_t> looks;
    std::vector<std::size_t> kept;
    for (std::size_t c = 0; c < residency.columns.size(); ++c) {
        std::vector<Often> look;
        for (const Row& row : residency.rows)
            look.push_back(how_often(row.cells[c], residency.columns[c].situations));
        const auto [found, fresh] = looks.try_emplace(std::move(look), c);
        if (fresh) {
            kept.push_back(c);
        } else {
            join(residency, found->second, c);
        }
    }
    keep(residency, kept);
}

void lump_columns(SituationsResidency& residency) {
    if (residency.columns.size() <= most_situations_columns) return;
    std::vector<std::size_t> kept;
    for (std::size_t c = 0; c < most_situations_columns; ++c) kept.push_back(c);
    for (std::size_t c = most_situations_columns; c < residency.columns.size(); ++c)
        join(residency, most_situations_columns - 1, c);
    keep(residency, kept);
    Column& last = residency.columns.back();
    last.name = fmt::format("{} others, together", last.places.size());
}

void lump_rows(SituationsResidency& residency) {
    std::vector<Row>& rows = residency.rows;
    if (rows.size() <= most_situations_rows) return;
    std::vector<std::pair<std::size_t, std::size_t>> ranked; // changes from place to place
    for (std::size_t r = 0; r < rows.size(); ++r) {
        std::size_t changes = 0;
        for (std::size_t c = 1; c < rows[r].cells.size(); ++c)
            changes += how_often(rows[r].cells[c], residency.columns[c].situations) !=
                               how_often(rows[r].cells[c - 1], residency.columns[c - 1].situations)
                           ? 1
                           : 0;
        ranked.emplace_back(changes, r);
    }
    std::stable_sort(ranked.begin(), ranked.end(),
                     [](const auto& one, const auto& other) { return one.first > other.first; });
    std::vector<bool> stays(rows.size());
    for (std::size_t i = 0; i + 1 < most_situations_rows; ++i) stays[ranked[i].second] = true;
    std::vector<Row> kept;
    Row others{{}, {}, std::vector<Cell>(residency.columns.size())};
    for (std::size_t r = 0; r < rows.size(); ++r) {
        if (stays[r]) {
            kept.push_back(std::move(rows[r]));
            continue;
        }
        others.levels.push_back(rows[r].levels.front());
        for (std::size_t c = 0; c < others.cells.size(); ++c) {
            others.cells[c].loaded = std::max(others.cells[c].loaded, rows[r].cells[c].loaded);
            others.cells[c].shown = std::max(others.cells[c].shown, rows[r].cells[c].shown);
        }
    }
    others.name = fmt::format("{} others, the most of any", others.levels.size());
    kept.push_back(std::move(others));
    rows = std::move(kept);
}

} // namespace

SituationsResidency situations_residency(const explore::Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    SituationsResidency residency;
    std::map<WaypointId, std::size_t> columns;
    std::map<LevelId, std::size_t> rows;
    std::map<LevelId, std::set<LevelId>> cells; // of grids, that are ever there
    const std::vector<tables::Presence> presences = tables::presences(explorer);
    for (const tables::Presence& each : presences) {
        if (columns.try_emplace(each.at, residency.columns.size()).second)
            residency.columns.push_back({{}, {each.at}, each.situations});
        const LevelId level = plan::listed_as(plan, each.level);
        rows.try_emplace(level, 0);
        if (level != each.level || plan.levels[level].grid) cells[level].insert(each.level);
    }
    for (auto& [level, row] : rows) {
        row = residency.rows.size();
        const plan::GridId grid = plan.levels[level].grid;
        const std::string name =
            grid ? plan::cells_text(plan, grid, cells[level].size()) : plan.levels[level].name;
        residency.rows.push_back({name, {level}, std::vector<Cell>(residency.columns.size())});
    }
    // Of cells, the one that is there most often.
    for (const tables::Presence& each : presences) {
        Cell& cell =
            residency.rows[rows.at(plan::listed_as(plan, each.level))].cells[columns.at(each.at)];
        cell.loaded = std::max(cell.loaded, each.loaded);
        cell.shown = std::max(cell.shown, each.shown);
    }
    join_alike(residency);
    const PlainNames names(plan.waypoints);
    for (Column& column : residency.columns) {
        const WaypointId at = column.places.front();
        column.name = at ? names(plan.waypoints[at].name) : "nowhere";
        if (column.places.size() > 1)
            column.name += fmt::format(" and {} more", column.places.size() - 1);
    }
    lump_columns(residency);
    lump_rows(residency);
    return residency;
}

Figure situations_figure(const explore::Explorer& explorer, const SituationsResidency& residency) {
    const plan::Plan& plan = explorer.plan();
    CellGrid grid;
    grid.title = "What is there where – " + plan.name;
    if (explorer.options().edition)
        grid.title += ", edition " + plan.editions[explorer.options().edition].name;
    for (std::size_t i = 0; i < words.size(); ++i)
        grid.kinds.push_back({std::string(words.at(i)), colours.at(i)});
    for (const Column& column : residency.columns) grid.columns.push_back(column.name);
    for (const Row& row : residency.rows) {
        CellGrid::Row drawn{row.name, {}};
        for (std::size_t c = 0; c < row.cells.size(); ++c) {
            const Column& column = residency.columns[c];
            const auto often = static_cast<std::size_t>(how_often(row.cells[c], column.situations));
            drawn.cells.push_back(
                {often,
                 fmt::format("{}: {}\n{}: loaded in {}, shown in {} of {}", row.name,
                             words.at(often), column.name, tables::grouped(row.cells[c].loaded),
                             tables::grouped(row.cells[c].shown),
                             tables::counted(column.situations, "situation"))});
        }
        grid.rows.push_back(std::move(drawn));
    }
    grid.description = fmt::format(
        "{} by the places where players can stand, in {} that {} looked at.",
        tables::counted(residency.rows.size(), "level"),
        tables::counted(explorer.visited(), "situation"), explorer.visited() == 1 ? "was" : "were");
    return draw_cells(grid);
}

} // namespace hestrel::figure
