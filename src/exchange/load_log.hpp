#pragma once
// A log of measured loads: piece,packed,unpacked,objects,make,read_s,unpack_s,make_s,
// attach_s.

#include "calibrate/calibration.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::exchange {

struct LoadLog {
    std::vector<calibrate::Measurement> measurements;
    std::vector<std::string> errors; ///< each a line as a compiler's, in the order of the file
};

/// Columns in any order; only `piece` has to be there, and a cell can be empty. Sizes are in MiB or
/// have a unit, times in seconds. `path` is for messages.
LoadLog read_load_log(std::string_view csv, const std::string& path);

} // namespace hestrel::exchange
