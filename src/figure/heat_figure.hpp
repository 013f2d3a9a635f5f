#pragma once
// The map with the most memory, or the longest frames, that players can come to at each place.

#include "explore/heat.hpp"
#include "figure/sheet.hpp"

#include <optional>
#include <vector>

namespace hestrel::figure {

/// What is looked at: memory against the total and each pool's budget, or frames against the
/// longest that may be.
enum class HeatOf : std::uint8_t { memory, frames };

/// Each place with the share of the budget that it comes to on the device on which that is most.
/// Unset where nobody stands anywhere, or (frames) nothing costs time.
std::optional<Figure> heat_figure(const explore::Explorer& explorer,
                                  const std::vector<explore::Heat>& heat, HeatOf of);

} // namespace hestrel::figure
