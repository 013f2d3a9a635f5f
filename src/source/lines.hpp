#pragma once
// A text by its lines.

#include <algorithm>
#include <string_view>
#include <vector>

namespace hestrel::source {

/// Its lines without what ends them; nothing behind the last end is no line.
inline std::vector<std::string_view> lines_of(std::string_view text) {
    std::vector<std::string_view> lines;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        lines.push_back(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return lines;
}

} // namespace hestrel::source
