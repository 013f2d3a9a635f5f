#pragma once
// What a calibration found, as files and as a part of a plan.

#include "calibrate/calibration.hpp"

#include <span>
#include <string>
#include <vector>

namespace hestrel::tables {

/// One figure of a device, as a plan writes it.
struct DeviceFigure {
    calibrate::Part part = calibrate::Part::read;
    std::string key;   ///< "read.rate"
    std::string value; ///< "90.03", "12.1 ms"
    std::string error; ///< the same for its standard error; empty where it was taken as given
};
/// The figures that could be told, in the order of a plan.
std::vector<DeviceFigure> device_figures(std::span<const calibrate::Fitted> fitted);

/// A device with the figures that could be told, to paste into a plan.
std::string device_block(std::span<const calibrate::Fitted> fitted, const std::string& name);

/// `figure,value,standard_error,measurements,outliers,scatter_s`; values in base units.
std::string figures_csv(std::span<const calibrate::Fitted> fitted);

/// `line,piece,part,size,measured_s,fitted_s,residual_s,outlier`, in the order of the log.
std::string residuals_csv(std::span<const calibrate::Fitted> fitted,
                          const std::vector<calibrate::Measurement>& measurements);

/// `piece,least_s,most_s,measurements`.
std::string made_csv(const std::vector<calibrate::Made>& made);

std::string calibration_json(std::span<const calibrate::Fitted> fitted,
                             const std::vector<calibrate::Measurement>& measurements);

} // namespace hestrel::tables
