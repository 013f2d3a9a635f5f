#pragma once
// Where something stands in the plan's files.

#include <compare>
#include <cstdint>

namespace hestrel::plan {

/// A position in one of `Plan::files`. Lines and columns count from 1; line 0: nowhere in
/// particular.
struct Place {
    std::uint32_t file = 0;
    std::uint32_t line = 0;
    std::uint32_t column = 0;
    /// In a named list: as which of `Plan::list_uses` it is done, counted from 1; 0: in none.
    std::uint32_t use = 0;

    auto operator<=>(const Place&) const = default;
};

} // namespace hestrel::plan
