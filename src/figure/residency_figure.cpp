#include "figure/residency_figure.hpp"

#include "figure/cell_grid.hpp"
#include "figure/loads_figure.hpp"
#include "plan/names.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <map>

namespace hestrel::figure {

using plan::LevelId;
using plan::Micros;
using walk::LevelCondition;

namespace {

std::string step_name(const plan::Plan& plan, const walk::Record& record,
                      const walk::RouteStepTime& time) {
    const plan::RoutePlayer& player = plan.routes[record.route].players[time.player];
    const plan::RouteStep& step = player.steps[time.step];
    std::string name = tables::route_step_text(plan, step);
    const bool long_one = std::holds_alternative<plan::UntilStep>(step.what) ||
                          std::holds_alternative<plan::ExpectStep>(step.what) ||
                          std::holds_alternative<plan::RouteSetStep>(step.what);
    if (long_one) name.resize(name.find(' ')); // what a condition says is no heading
    if (plan.routes[record.route].players.size() > 1) name = player.name + ": " + name;
    return name;
}

/// What any two columns are together.
void join(Residency::Column& column, const Residency::Column& next, const std::string& first,
          const std::string& last) {
    column.to = std::max(column.to, next.to);
    column.from = std::min(column.from, next.from);
    column.name = first + " … " + last;
}

/// What any of two rows' levels are.
void join(Residency::Row& row, const Residency::Row& other) {
    row.levels.insert(row.levels.end(), other.levels.begin(), other.levels.end());
    for (std::size_t column = 0; column < row.cells.size(); ++column)
        row.cells[column] = std::max(row.cells[column], other.cells[column]);
}

/// Joins neighbours until so many columns are left.
std::vector<Residency::Column> fewer(const std::vector<Residency::Column>& columns,
                                     std::size_t most) {
    if (columns.size() <= most) return columns;
    const std::size_t each = (columns.size() + most - 1) / most;
    std::vector<Residency::Column> joined;
    for (std::size_t i = 0; i < columns.size(); i += each) {
        Residency::Column column = columns[i];
        const std::size_t last = std::min(i + each, columns.size()) - 1;
        for (std::size_t next = i + 1; next <= last; ++next)
            join(column, columns[next], columns[i].name, columns[last].name);
        joined.push_back(std::move(column));
    }
    return joined;
}

Presence presence(LevelCondition condition) {
    switch (condition) {
    case LevelCondition::absent: return Presence::absent;
    case LevelCondition::shown: return Presence::shown;
    case LevelCondition::ready:
    case LevelCondition::attaching: return Presence::ready;
    default: return Presence::on_its_way;
    }
}

/// Whether a time meets the time of a column; a moment is met where it lies inside.
template <class Time>
bool meets(const Time& time, const Residency::Column& column) {
    return time.from < column.to && (column.from < time.to || time.from == column.from);
}

/// What players needed of one level, and its gaps.
struct OfLevel {
    std::vector<walk::Needed> needed;
    std::vector<walk::Gap> gaps;
};

Presence presence_in(const OfLevel& level, const std::vector<walk::Stretch>& stretches,
                     const Residency::Column& column) {
    const auto is_met = [&](const auto& time) { return meets(time, column); };
    if (std::any_of(level.gaps.begin(), level.gaps.end(), is_met)) return Presence::gap;
    Presence most = Presence::absent;
    for (const walk::Stretch& stretch : stretches) {
        if (meets(stretch, column)) most = std::max(most, presence(stretch.condition));
    }
    if (most != Presence::shown) return most;
    return std::any_of(level.needed.begin(), level.needed.end(), is_met) ? Presence::needed
                                                                         : Presence::shown;
}

std::string_view colour_of(Presence presence) {
    static constexpr std::array<std::string_view, 6> colours{palette::faint, palette::waiting,
                                                             palette::ready, palette::shown_less,
                                                             palette::shown, palette::gap};
    return colours.at(static_cast<std::size_t>(presence));
}

std::string_view word_of(Presence presence) {
    static constexpr std::array<std::string_view, 6> words{"absent", "on its way", "ready",
                                                           "shown",  "needed",     "gap"};
    return words.at(static_cast<std::size_t>(presence));
}

} // namespace

Residency residency_of(const plan::Plan& plan, const walk::Record& record) {
    Residency residency;
    const Micros boot = record.boot.value_or(record.end);
    if (boot.count > 0) residency.columns.push_back({"boot", {}, boot});
    for (const walk::RouteStepTime& time : record.steps) {
        if (time.to > time.from)
            residency.columns.push_back({step_name(plan, record, time), time.from, time.to});
    }
    std::stable_sort(residency.columns.begin(), residency.columns.end(),
                     [](const auto& one, const auto& other) { return one.from < other.from; });
    residency.columns = fewer(residency.columns, most_residency_columns);
    const walk::Timeline timeline = walk::timeline_of(plan, record);
    plan::Table<LevelId, OfLevel> of(plan.levels.size());
    for (const walk::Needed& needed : record.needed) of[needed.level].needed.push_back(needed);
    for (const walk::Gap& gap : record.gaps) of[gap.level].gaps.push_back(gap);
    std::map<plan::GridId, std::size_t> grids; // the row of each: all cells stand in one
    for (const LevelId level : plan.levels.ids()) {
        const auto& stretches = timeline[loading::PieceId{level.value}];
        if (stretches.empty() && of[level].gaps.empty()) continue;
        Residency::Row row{plan.levels[level].name, {level}, {}};
        for (const Residency::Column& column : residency.columns)
            row.cells.push_back(presence_in(of[level], stretches, column));
        const plan::GridId grid = plan.levels[level].grid;
        const auto together =
            grid ? grids.try_emplace(grid, residency.rows.size()) : std::pair{grids.end(), true};
        if (together.second) {
            residency.rows.push_back(std::move(row));
        } else {
            join(residency.rows[together.first->second], row);
        }
    }
    for (const auto& [grid, row] : grids)
        residency.rows[row].name = plan::cells_text(plan, grid, residency.rows[row].levels.size());
    if (residency.rows.size() <= most_residency_rows) return residency;
    // Those with gaps and those needed longest stay; of the others the strongest counts.
    std::vector<std::pair<std::array<std::int64_t, 2>, std::size_t>> ranked;
    for (std::size_t i = 0; i < residency.rows.size(); ++i) {
        const auto& cells = residency.rows[i].cells;
        ranked.push_back({{std::count(cells.begin(), cells.end(), Presence::gap),
                           std::count(cells.begin(), cells.end(), Presence::needed)},
                          i});
    }
    std::stable_sort(ranked.begin(), ranked.end(),
                     [](const auto& one, const auto& other) { return one.first > other.first; });
    std::vector<bool> kept(residency.rows.size());
    for (std::size_t i = 0; i + 1 < most_residency_rows; ++i) kept[ranked[i].second] = true;
    Residency::Row others{{}, {}, std::vector<Presence>(residency.columns.size())};
    std::vector<Residency::Row> rows;
    for (std::size_t i = 0; i < residency.rows.size(); ++i) {
        Residency::Row& row = residency.rows[i];
        if (kept[i]) {
            rows.push_back(std::move(row));
            continue;
        }
        join(others, row);
    }
    others.name = fmt::format("{} others, the most of any", others.levels.size());
    rows.push_back(std::move(others));
    residency.rows = std::move(rows);
    return residency;
}

Figure residency_figure(const plan::Plan& plan, const walk::Record& record,
                        const Residency& residency) {
    CellGrid grid;
    grid.title = "Residency – " + where_walked(plan, record);
    for (const Presence each : {Presence::absent, Presence::on_its_way, Presence::ready,
                                Presence::shown, Presence::needed, Presence::gap})
        grid.kinds.push_back({std::string(word_of(each)), colour_of(each)});
    for (const Residency::Column& column : residency.columns) grid.columns.push_back(column.name);
    std::size_t gaps = 0;
    for (const Residency::Row& row : residency.rows) {
        CellGrid::Row drawn{row.name, {}};
        for (std::size_t c = 0; c < row.cells.size(); ++c) {
            const Residency::Column& column = residency.columns[c];
            drawn.cells.push_back(
                {static_cast<std::size_t>(row.cells[c]),
                 fmt::format("{}: {}\n{} ({:.2f} to {:.2f} s)", row.name, word_of(row.cells[c]),
                             column.name, plan::in_seconds(column.from),
                             plan::in_seconds(column.to))});
            gaps += row.cells[c] == Presence::gap ? 1 : 0;
        }
        grid.rows.push_back(std::move(drawn));
    }
    grid.description = fmt::format("{} over the boot and the steps of the route; gaps in {}.",
                                   tables::counted(residency.rows.size(), "level"),
                                   tables::counted(gaps, "place"));
    return draw_cells(grid);
}

} // namespace hestrel::figure
