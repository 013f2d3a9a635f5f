#pragma once
// The least machine as a table.

#include "advise/least.hpp"
#include "plan/plan.hpp"
#include "tables/table.hpp"

namespace hestrel::tables {

/// route, device, figure, now, least, unit, breaks, first.
Columns<advise::Least> least_columns(const plan::Plan& plan);

} // namespace hestrel::tables
