#include "tables/covered.hpp"

#include "plan/level_tree.hpp"
#include "plan/names.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::tables {

namespace {

const std::string& name_of(const plan::Plan& plan, const Covered& row) {
    return row.at ? plan.waypoints[row.at].name : plan.levels[row.level].name;
}

/// "nobody came to 3 of 31 places: a, b, c"; nothing where all were seen.
std::string missed_text(const plan::Plan& plan, const std::vector<Covered>& rows, bool places) {
    constexpr std::size_t most_named = 8;
    std::vector<std::string> missed;
    std::vector<plan::LevelId> levels;
    std::size_t all = 0;
    for (const Covered& row : rows) {
        if (static_cast<bool>(row.at) != places) continue;
        ++all;
        if (row.situations > 0) continue;
        missed.push_back(name_of(plan, row));
        levels.push_back(row.level);
    }
    if (missed.empty()) return {};
    const std::string of =
        fmt::format("{} of {}", missed.size(), counted(all, places ? "place" : "level"));
    if (!places) missed = plan::told_names(plan, levels); // cells of a grid together
    const std::size_t named = std::min(missed.size(), most_named);
    std::string names;
    for (std::size_t i = 0; i < named; ++i) names += (i == 0 ? "" : ", ") + missed[i];
    if (named < missed.size()) names += fmt::format(" and {} more", missed.size() - named);
    return places ? fmt::format("nobody came to {}: {}\n", of, names)
                  : fmt::format("{} were never loaded: {}\n", of, names);
}

} // namespace

std::vector<Covered> covered(const explore::Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    const auto ships =
        plan::shipped_in(plan, plan::level_tree(plan.levels), explorer.options().edition);
    std::vector<Covered> all; // by place, then by level
    for (const plan::WaypointId at : plan.waypoints.ids()) all.push_back({at, {}, 0, 0});
    for (const plan::LevelId level : plan.levels.ids()) all.push_back({{}, level, 0, 0});
    std::vector<std::size_t> here;
    for (std::uint32_t situation = 0; situation < explorer.situations(); ++situation) {
        const explore::Word* row = explorer.row(situation);
        here.clear();
        for (std::size_t player = 0; player < explorer.players().size(); ++player) {
            const plan::WaypointId at = explorer.player_of(row, player).at;
            const bool known = !at || std::find(here.begin(), here.end(), at.value) != here.end();
            if (!known) here.push_back(at.value);
        }
        const auto add_level = [&](plan::LevelId level) {
            here.push_back(plan.waypoints.size() + level.value);
        };
        explorer.level_sets().for_levels(
            explorer.level_number(row),
            [&](plan::LevelId level, std::uint32_t) { add_level(level); });
        if (explorer.folded().any()) {
            for (const explore::LevelThere& there : explorer.near_levels(row))
                add_level(there.level);
        }
        for (const std::size_t each : here) {
            ++all[each].situations;
            if (explorer.was_visited(situation)) ++all[each].looked_at;
        }
    }
    std::erase_if(all, [&](const Covered& row) {
        const plan::LevelId level = row.at ? plan.waypoints[row.at].home : row.level;
        return row.situations == 0 && level && !ships[level];
    });
    return all;
}

std::string covered_csv(const plan::Plan& plan, const std::vector<Covered>& rows) {
    using Row = Covered;
    const Columns<Row> columns{{"kind", [](const Row& row) { return row.at ? "place" : "level"; }},
                               {"name", [&](const Row& row) { return name_of(plan, row); }},
                               {"situations", [](const Row& row) { return row.situations; }},
                               {"looked_at", [](const Row& row) { return row.looked_at; }}};
    return csv_of(columns, rows);
}

std::string covered_text(const plan::Plan& plan, const std::vector<Covered>& rows) {
    return missed_text(plan, rows, true) + missed_text(plan, rows, false);
}

} // namespace hestrel::tables
