#pragma once
// What a calibration found, for people.

#include "calibrate/calibration.hpp"

#include <span>
#include <string>

namespace hestrel::command {

/// The figures of a device, with their errors.
std::string figures_table(std::span<const calibrate::Fitted> fits);
/// What could not be told, and what was taken otherwise than measured.
std::string remarks(std::span<const calibrate::Fitted> fits);

} // namespace hestrel::command
