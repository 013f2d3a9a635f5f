#pragma once
// Which lines of a file a change takes away and which it brings.

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::edit {

/// Lines that stand together and change.
struct ChangedLines {
    std::size_t line = 0; ///< the first of them in the new text, from 1
    std::vector<std::string> before;
    std::vector<std::string> after;
};

/// In order of place. Of several ways to see a change, one with few lines.
std::vector<ChangedLines> line_difference(std::string_view before, std::string_view after);

} // namespace hestrel::edit
