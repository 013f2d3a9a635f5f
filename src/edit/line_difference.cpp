#include "edit/line_difference.hpp"

#include "source/lines.hpp"

#include <algorithm>

namespace hestrel::edit {

std::vector<ChangedLines> line_difference(std::string_view before, std::string_view after) {
    const std::vector<std::string_view> old_lines = source::lines_of(before);
    const std::vector<std::string_view> new_lines = source::lines_of(after);
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
        std::size_t taken = old_lines.size() - from;
        std::size_t brought = new_lines.size() - to;
        const std::size_t most = taken == 0 || brought == 0 ? 0 : taken + brought;
        bool found = false;
        for (std::size_t apart = 1; apart + 1 < most && !found; ++apart) {
            const std::size_t left = new_lines.size() - to; // of which one is met
            std::size_t less = apart < left ? 0 : apart - left + 1;
            for (; less <= apart && from + less < old_lines.size() && !found; ++less) {
                const std::size_t at = from + less;
                const std::size_t then = to + apart - less;
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
