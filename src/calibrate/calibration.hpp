#pragma once
// A device's figures from measured loads (docs/model.md section 4: read, unpack, make,
// attach).

#include "calibrate/fit.hpp"

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::calibrate {

/// One load of one piece, alone, as measured; what was not is unset.
struct Measurement {
    std::uint32_t line = 0; ///< of the log
    std::string piece;
    std::optional<double> packed;   ///< MiB
    std::optional<double> unpacked; ///< MiB
    std::optional<double> objects;
    std::optional<double> read;         ///< s
    std::optional<double> unpack;       ///< s
    std::optional<double> attach;       ///< s
    std::optional<double> make;         ///< s
    std::optional<double> planned_make; ///< s, as the plan says of a maker of speed 1
};

/// What is fitted, each its own line over what its times depend on.
enum class Part : std::uint8_t {
    read,   ///< latency + packed / rate; of what is stored unpacked: its whole size
    unpack, ///< unpacked / rate
    make,   ///< what the plan says / speed
    attach, ///< fixed + objects * per-object
};
inline constexpr std::array parts{Part::read, Part::unpack, Part::make, Part::attach};
std::string_view name_of(Part part);
/// "MiB", "s" or "objects".
std::string_view unit_of(Part part);

/// One part of a device.
struct Fitted {
    Part part = Part::read;
    std::vector<std::size_t> measurements; ///< that have a time and a size for it
    std::vector<Sample> samples;           ///< of those
    std::optional<Line> line;
    Refusal refusal;         ///< where there is no line; empty where nothing was measured
    bool below_zero = false; ///< what each piece takes came out below 0, and was taken as 0
};

/// All parts, in their order; makers by what the log says of the plan.
std::array<Fitted, parts.size()> calibrate(const std::vector<Measurement>& measurements);

/// A piece whose making was measured, and of which the log does not say what the plan says: its
/// `make`, if the device's makers are of speed 1.
struct Made {
    std::string piece;
    double least = 0; ///< s
    double most = 0;
    std::size_t measurements = 0;
};

/// In the order of the log.
std::vector<Made> made_pieces(const std::vector<Measurement>& measurements);

} // namespace hestrel::calibrate
