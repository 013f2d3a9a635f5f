#pragma once
// The plan itself as tables: for spreadsheets, and to be imported again.

#include "plan/plan.hpp"
#include "study/level_ways.hpp"
#include "walk/least_slacks.hpp"
#include "walk/record.hpp"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace hestrel::tables {

/// A level list, as `import` takes it: `level,parent,title,owner,purpose,<pools>,packed,objects`,
/// sizes in MiB as the plan has them before any device or table of sizes. Cells of a grid are left
/// out: their figures stand in one place.
std::string levels_csv(const plan::Plan& plan);
/// Every trigger with its shape, in m of the world, and what its steps bring and let go.
std::string triggers_csv(const plan::Plan& plan);
/// A way from one level to another, and its least slack in any of several walks; unset: players
/// never outran it.
struct LevelWayRow {
    study::LevelWay way;
    std::optional<walk::LeastSlack> least;
};
std::vector<LevelWayRow> level_way_rows(const plan::Plan& plan,
                                        std::span<const walk::Record> records);
/// All of them as a table.
std::string level_ways_csv(const plan::Plan& plan, std::span<const walk::Record> records);

} // namespace hestrel::tables
