#pragma once
// Lists that run at once and end differently, by which of them goes on first (docs/model.md
// sections 8 and 10).

#include "explore/explorer.hpp"

#include <string>
#include <vector>

namespace hestrel::explore {

struct Race {
    std::vector<plan::ListId> lists; ///< that run at once, oldest first
    std::uint32_t situation = 0;     ///< in which they do: the first
    std::uint32_t one = 0;           ///< how it can end if nobody does anything
    std::uint32_t other = 0;         ///< and how else
};

/// One of each set of lists. Where players do nothing more, and no wait gives up, all that goes on
/// comes to rest; where that depends on what comes first, the lists race. A situation from which
/// branches of a `choose` are taken says nothing, nor one that was not looked at to the end.
std::vector<Race> races(Explorer& explorer);

/// What is not the same in two situations, a few of them: "ferry is loaded or not, bells is 1 or
/// 2".
std::string difference_text(const Explorer& explorer, std::uint32_t one, std::uint32_t other);

} // namespace hestrel::explore
