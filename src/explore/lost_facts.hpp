#pragma once
// Values that are lost on the way: a fact of lifetime `level` goes back to its initial value
// because players leave, and later something goes by it (docs/model.md sections 6 and 11).

#include "explore/explorer.hpp"

#include <vector>

namespace hestrel::explore {

struct LostFact {
    plan::FactId fact;
    plan::ListId by;                ///< the list that runs, or waits, by it
    std::vector<std::uint32_t> way; ///< moves: over the loss, to the one in which that list runs
};

/// Of each fact whose loss shows, a shortest way on which it does, as far as so many situations
/// after a loss are looked at.
std::vector<LostFact> lost_facts(Explorer& explorer, std::size_t most_looked_at = 50'000);

} // namespace hestrel::explore
