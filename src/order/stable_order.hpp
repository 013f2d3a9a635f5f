#pragma once
// An order that changes as little as it must: what is needed first comes first, then what is needed
// soonest, then as today.

#include "plan/units.hpp"

#include <cstddef>
#include <optional>
#include <vector>

namespace hestrel::order {

/// `before` must come before `after`; both are indices of things to be ordered.
struct Need {
    std::size_t before = 0;
    std::size_t after = 0;
    bool operator==(const Need&) const = default;
};

/// Things in today's order, by index.
struct Things {
    std::vector<std::optional<plan::Micros>> moments; ///< when each is needed; unset: not known
    std::vector<bool> pinned;                         ///< keeps its position
    std::vector<Need> needs;
};

/// The order, as indices. Position by position the first of those that need nothing more, by
/// (moment, today's position); one whose moment is not known counts as what stands before it today.
/// What is pinned keeps its position whatever it needs. Needs within one circle count for nothing:
/// see `circles`.
std::vector<std::size_t> stable_order(const Things& things);

/// Every circle of needs, each as the things in it, in the order in which one needs the next;
/// one for each set of things that all need each other.
std::vector<std::vector<std::size_t>> circles(std::size_t count, const std::vector<Need>& needs);

/// One thing that stands elsewhere than it did among those that stayed.
struct Relocation {
    std::size_t thing = 0;
    std::size_t from = 0; ///< position today
    std::size_t to = 0;   ///< and then
    /// The thing that it now stands on the other side of, and which of both reasons there is.
    std::size_t other = 0;
    bool needed = false; ///< one of the two needs the other; else their moments
};

/// The fewest moves that lead from today's order to another: what is not among them keeps its order
/// (a longest increasing run of today's positions).
std::vector<Relocation> moves_to(const Things& things, const std::vector<std::size_t>& order);

} // namespace hestrel::order
