#pragma once
// The nearest right name for a wrong one.

#include <span>
#include <string>
#include <string_view>

namespace hestrel::source {

/// The candidate that differs from `wrong` in the fewest typed characters (a swap of neighbours
/// counts as one), if that is few enough to be a slip; empty otherwise. Of equals, the first.
std::string_view nearest(std::string_view wrong, std::span<const std::string_view> candidates);

/// Whether the two differ only in capital letters.
bool differs_only_in_capitals(std::string_view one, std::string_view other);

/// What to append to a message about a wrong name: "; did you mean X?", "; X is spelled with other
/// capitals", or nothing.
std::string hint(std::string_view wrong, std::span<const std::string_view> candidates);

} // namespace hestrel::source
