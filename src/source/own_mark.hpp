#pragma once
// By what the single files that Hestrel writes are known.

#include <string_view>

namespace hestrel::source {

/// Stands in the first line of each.
inline constexpr std::string_view own_mark = "written by Hestrel";

} // namespace hestrel::source
