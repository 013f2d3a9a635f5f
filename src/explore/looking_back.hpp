#pragma once
// What can be reached from where, found by going over all situations from the last to the first.

#include <cstdint>
#include <functional>
#include <vector>

namespace hestrel::explore {

class Explorer;
struct Outcome;

/// `bits`: some of each situation of a complete exploring. Those in `spreads` come to be set also
/// where one that has them can be reached, by moves that `leads(from, outcome)`.
///
/// Situations are numbered as they were met, so most moves lead to larger numbers, and one pass
/// from the end settles nearly all. Only what moves of the others lead to is remembered for more
/// passes, as long as there are no more than 64 million (4 bytes each).
void spread_back(const Explorer& explorer, std::uint8_t spreads,
                 const std::function<bool(std::uint32_t, const Outcome&)>& leads,
                 std::vector<std::uint8_t>& bits);

} // namespace hestrel::explore
