#pragma once
// The storyboard: what players see over a walk, a strip for each.

#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <vector>

namespace hestrel::figure {

/// A strip for each player of each record, below one another on one time axis, in their order;
/// unset where no record has a player, or none takes any time.
std::optional<Figure> storyboard_figure(const plan::Plan& plan,
                                        const std::vector<const walk::Record*>& records);

} // namespace hestrel::figure
