#pragma once
// What logs say of the device itself: how long it takes to read and to unpack, and how large levels
// are. Only what was done alone tells that: where two pieces are read at once, neither has the disk
// for itself.

#include "calibrate/calibration.hpp"
#include "loading/catalogue.hpp"
#include "verify/verify.hpp"

#include <array>
#include <span>
#include <vector>

namespace hestrel::verify {

using DeviceFigures = std::array<calibrate::Fitted, calibrate::parts.size()>;

/// Each read from `reading` on until it is unpacked or loaded, and each unpacking, that was alone.
/// Sizes are the plan's. A measurement's line is that of its log.
std::vector<calibrate::Measurement> measured_alone(const plan::Plan& plan,
                                                   const loading::Catalogue& catalogue,
                                                   std::span<const PlayResult> plays,
                                                   std::span<const Log> logs);

/// Puts the figures that could be told into a device of the plan.
void apply_figures(plan::Plan& plan, plan::DeviceId device, const DeviceFigures& figures);

/// How far loads are from their plan, over all plays.
struct Distance {
    std::size_t loads = 0;
    plan::Micros mean; ///< of how much each is later or earlier
};
Distance distance(std::span<const PlayResult> plays);

/// What a level or kit takes in memory by the logs: the most that memory grew by while it came, and
/// nothing else came or went.
struct MeasuredSize {
    loading::PieceId piece;
    plan::Bytes memory;
    std::size_t measurements = 0;
};
/// By piece. Logs that have no memory tell nothing.
std::vector<MeasuredSize> measured_sizes(std::span<const PlayResult> plays);

} // namespace hestrel::verify
