#pragma once
// The page's part about a change: what it did, against the plan as it was.

#include "tables/compare_tables.hpp"

#include <string>

namespace hestrel::report {

/// Verdicts, figures that are worse and better, findings that are new and gone, what leads
/// elsewhere and what carries otherwise; and what was changed in the plan. As HTML.
std::string change_section(const tables::Compared& compared);

} // namespace hestrel::report
