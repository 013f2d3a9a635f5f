#pragma once
// What carries: what becomes of each fact in each transition, as a table.

#include "explore/explorer.hpp"
#include "flow/carries.hpp"
#include "plan/plan.hpp"
#include "tables/table.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// One row, and how often it was met.
using CarryRow = std::pair<flow::Carried, std::size_t>;
/// fact, lifetime, transition, from, to, how, times.
Columns<CarryRow> carry_columns(const plan::Plan& plan);
std::string carries_csv(const plan::Plan& plan, const flow::Carries& carries);
/// "kept", "set", "reset", "saved", "restored".
std::string_view carrying_name(flow::Carrying how);

/// Those of all moves that were met in exploring, each once for each way in which it went.
flow::Carries explored_carries(const explore::Explorer& explorer);

} // namespace hestrel::tables
