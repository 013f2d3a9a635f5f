#pragma once
// Ways that lead back to where they began with more loaded (docs/model.md section 10, piles-up).

#include "explore/explorer.hpp"

#include <vector>

namespace hestrel::explore {

/// A level that is there when players are back where it was not.
struct RoundTrip {
    plan::LevelId level;
    std::uint32_t before = 0; ///< situation
    std::uint32_t after = 0;  ///< on a way on from there
};

/// One of each level, but for those that are meant to stay: they persist, or go by distance. Looked
/// for on the shortest way to each place with each set of the others.
std::vector<RoundTrip> round_trips(const Explorer& explorer);

} // namespace hestrel::explore
