#pragma once
// What every frame takes over a walk: `base`, and what is shown, against what a frame may take. On
// the time axis of the loads and memory figures.

#include "figure/frame.hpp"
#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <vector>

namespace hestrel::figure {

std::vector<Swatch> frames_legend(const plan::Plan& plan, const walk::Record& record);

Figure frames_figure(const plan::Plan& plan, const walk::Record& record, const TimeFrame& frame);

} // namespace hestrel::figure
