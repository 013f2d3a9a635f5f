#pragma once
// The plan itself as tables: for spreadsheets, and to be imported again.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <span>
#include <string>

namespace hestrel::tables {

/// A level list, as `import` takes it: `level,parent,title,owner,purpose,<pools>,packed,objects`,
/// sizes in MiB as the plan has them before any device or table of sizes. Cells of a grid are left
/// out: their figures stand in one place.
std::string levels_csv(const plan::Plan& plan);
/// Every trigger with its shape, in m of the world, and what its steps bring and let go.
std::string triggers_csv(const plan::Plan& plan);
/// Every way from one level to another, with its least slack in any of those walks.
std::string level_ways_csv(const plan::Plan& plan, std::span<const walk::Record> records);

} // namespace hestrel::tables
