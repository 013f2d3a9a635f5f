#pragma once
// What was measured, and the lines through it.

#include "calibrate/calibration.hpp"
#include "figure/sheet.hpp"

#include <span>
#include <string>

namespace hestrel::figure {

/// One panel for each part that has a line: time over size, outliers marked. `log`: its name.
Figure calibration_figure(std::span<const calibrate::Fitted> fitted, const std::string& log);

} // namespace hestrel::figure
