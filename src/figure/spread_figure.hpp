#pragma once
// How worst slack and stalls are distributed over the trials of one route on one device.

#include "figure/sheet.hpp"
#include "tables/trial_tables.hpp"

namespace hestrel::figure {

/// One chart each: of how many trials have it so large; the walk of the plan as it is is marked.
/// What is the same in all trials, or is in none, has no chart.
Figure spread_figure(const plan::Plan& plan, const tables::TrialSet& set,
                     const spread::Trial& walk);

} // namespace hestrel::figure
