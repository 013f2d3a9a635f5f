#pragma once
// A way through the situations as a route that a walk takes (docs/model.md sections 7 and 8).

#include "explore/explorer.hpp"

#include <span>

namespace hestrel::explore {

/// What a route calls a player: its kind, and its number where there are several.
std::string player_name(const Explorer& explorer, std::size_t player);

/// A route of these moves, from the beginning. With several players each step has its turn.
/// Unhurried: walked, it ends in the situation that they lead to. Of players who hurry: what they
/// wait for is a condition, added to `plan`'s, which are the explorer's and may have more; whether
/// a walk meets the same depends on the device.
plan::Route route_of(const Explorer& explorer, std::span<const std::uint32_t> taken,
                     std::string name, plan::Plan& plan);

} // namespace hestrel::explore
