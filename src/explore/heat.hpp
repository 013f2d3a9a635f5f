#pragma once
// Where it gets tight: the most memory, and the longest frame, that any situation has while a
// player stands at a place.

#include "explore/explorer.hpp"

#include <vector>

namespace hestrel::explore {

/// The most at one place, on one device.
struct Heat {
    std::size_t device = 0; ///< of the options
    plan::WaypointId at;
    Use most; ///< each budget, and the frame, by itself
};

/// Of all situations that were visited, by device, then by place in plan order; places at which
/// nobody ever stands are left out.
std::vector<Heat> heat(const Explorer& explorer);

} // namespace hestrel::explore
