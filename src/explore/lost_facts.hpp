#pragma once
// Values that are lost on the way, or left over: a fact of lifetime `level` goes back to its
// initial value because players leave, or a new game begins with an old value, and later something
// goes by it (docs/model.md sections 6 and 12).

#include "explore/explorer.hpp"

#include <optional>
#include <vector>

namespace hestrel::explore {

struct ReadFact {
    plan::FactId fact;
    plan::ListId by; ///< the list that runs, or waits, by it
    Way way;         ///< moves: over the loss, to the one in which that list runs
};

/// Of each fact whose loss shows, a shortest way on which it does, as far as 50,000 situations
/// after a loss are looked at.
std::vector<ReadFact> lost_facts(Explorer& explorer);

/// A move, and where it leads.
struct Departure {
    std::uint32_t from = 0;
    std::uint32_t to = 0;
    std::uint32_t taken = 0;
    flow::FactSlot slot = {}; ///< where a fact stands there that one looks for
};
/// A shortest way on which something goes by a fact that one of these moves, which begin a new
/// game, has left with another value than it began with; before any list sets or resets it.
std::optional<ReadFact> left_over_fact(Explorer& explorer, plan::FactId fact,
                                       const std::vector<Departure>& new_games);

} // namespace hestrel::explore
