#include "edit/line_difference.hpp"

#include <algorithm>

namespace hestrel::edit {

namespace {

std::vector<std::string_view> lines_of(std::string_view text) {
    std::vector<std::string_view> lines;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        lines.push_back(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return lines;
}

} // namespace

std::vector<ChangedLines> line_difference(std::string_view before, std::string_view after) {
    const std::vector<std::string_view> old_lines = lines_of(before);
    const std::vector<std::string_view> new_lines = lines_of(after);
    std::vector<ChangedLines> all;
    std::size_t from = 0;
    std::size_t to = 0;
    while (from < old_lines.size() || to < new_lines.size()) {
        if (from < old_lines.size() && to < new_lines.size() && old_lines[from] == new_lines[to]) {
            ++from;
            ++to;
            continue;
        }
        // The nearest lines from which on both are the same again.
        const std::size_t most = old_lines.size() - from + new_lines.size() - to;
        std::size_t taken = old_lines.size() - from;
        std::size_t brought = new_lines.size() - to;
        bool found = false;
        for (std::size_t apart = 1; apart < most && !found; ++apart) {
            for (std::size_t less = 0; less <= apart && !found; ++less) {
                const std::size_t at = from + less;
                const std::size_t then = to + apart - less;
                if (at >= old_lines.size() || then >= new_lines.size()) continue;
                if (old_lines[at] != new_lines[then] || old_lines[at].empty()) continue;
                taken = less;
                brought = apart - less;
                found = true;
            }
        }
        ChangedLines lines;
        lines.line = to + 1;
        for (std::size_t i = 0; i < taken; ++i) lines.before.emplace_back(old_lines[from + i]);
        for (std::size_t i = 0; i < brought; ++i) lines.after.emplace_back(new_lines[to + i]);
        all.push_back(std::move(lines));
        from += taken;
        to += brought;
    }
    return all;
}

} // namespace hestrel::edit
