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

/// A column, and what of it is ever there, by level: most are nowhere near most places.
struct PlacesCells {
    Column column;
    std::map<LevelId, Cell> cells;

    void add(const PlacesCells& other) {
        column.places.insert(column.places.end(), other.column.places.begin(),
                             other.column.places.end());
        column.situations += other.column.situations;
        for (const auto& [level, more] : other.cells) {
            Cell& cell = cells[level];
            cell.loaded += more.loaded;
            cell.shown += more.shown;
        }
    }
    [[nodiscard]] std::vector<std::pair<LevelId, Often>> look() const {
        std::vector<std::pair<LevelId, Often>> look;
        for (const auto& [level, cell] : cells)
            look.emplace_back(level, how_often(cell, column.situations));
        return look;
    }
};

/// By place, in order; of cells of a grid, the one that is there most often.
std::vector<PlacesCells> by_place(const plan::Plan& plan,
                                  const std::vector<tables::Presence>& presences) {
    std::vector<PlacesCells> places;
    for (const tables::Presence& each : presences) {
        if (places.empty() || places.back().column.places.front() != each.at)
            places.push_back({{{}, {each.at}, each.situations}, {}});
        Cell& cell = places.back().cells[plan::listed_as(plan, each.level)];
        cell.loaded = std::max(cell.loaded, each.loaded);
        cell.shown = std::max(cell.shown, each.shown);
    }
    return places;
}

/// Places that look alike share a column.
std::vector<PlacesCells> alike_joined(const std::vector<PlacesCells>& places) {
    std::vector<PlacesCells> columns;
    std::map<std::vector<std::pair<LevelId, Often>>, std::size_t> looks;
    for (const PlacesCells& place : places) {
        const auto [found, fresh] = looks.try_emplace(place.look(), columns.size());
        if (fresh) {
            columns.push_back(place);
        } else {
            columns[found->second].add(place);
        }
    }
    return columns;
}

void lump_columns(std::vector<PlacesCells>& columns) {
    if (columns.size() <= most_situations_columns) return;
    PlacesCells& last = columns[most_situations_columns - 1];
    for (std::size_t c = most_situations_columns; c < columns.size(); ++c) last.add(columns[c]);
    last.column.name = fmt::format("{} others, together", last.column.places.size());
    columns.resize(most_situations_columns);
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
    const std::vector<tables::Presence> presences = tables::presences(explorer);
    std::vector<PlacesCells> columns = alike_joined(by_place(plan, presences));
    const PlainNames names(plan.waypoints);
    for (PlacesCells& each : columns) {
        const WaypointId at = each.column.places.front();
        each.column.name = at ? names(plan.waypoints[at].name) : "nowhere";
        if (each.column.places.size() > 1)
            each.column.name += fmt::format(" and {} more", each.column.places.size() - 1);
    }
    lump_columns(columns);

    std::map<LevelId, std::set<LevelId>> rows; // cells of grids, that are ever there
    for (const tables::Presence& each : presences)
        rows[plan::listed_as(plan, each.level)].insert(each.level);
    SituationsResidency residency;
    for (const PlacesCells& each : columns) residency.columns.push_back(each.column);
    for (const auto& [level, cells] : rows) {
        const plan::GridId grid = plan.levels[level].grid;
        const std::string name =
            grid ? plan::cells_text(plan, grid, cells.size()) : plan.levels[level].name;
        Row& row = residency.rows.emplace_back(Row{name, {level}, {}});
        for (const PlacesCells& each : columns) {
            const auto found = each.cells.find(level);
            row.cells.push_back(found == each.cells.end() ? Cell{} : found->second);
        }
    }
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
