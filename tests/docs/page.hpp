#pragma once
// A page of the documentation: its blocks of code, and what they are for.

#include "source/lines.hpp"
#include "support/program.hpp"

#include <string>
#include <vector>

namespace hestrel::tests {

/// A fenced block: "```yaml plan.yaml" is a file of that name, "```console" holds commands after
/// "$ " with what they print; any other is for people.
struct Block {
    std::string language;
    std::string file;     ///< empty: it is none
    std::size_t from = 0; ///< of its text in the page
    std::size_t size = 0;
    std::size_t line = 0; ///< of its fence, from 1
};

/// Every fenced block of a page, in order.
inline std::vector<Block> blocks_of(const std::string& page) {
    std::vector<Block> blocks;
    std::size_t line = 1;
    bool inside = false;
    for (std::size_t at = 0; at < page.size(); ++line) {
        const std::size_t end = std::min(page.find('\n', at), page.size() - 1);
        const std::string text = page.substr(at, end - at);
        if (text.starts_with("```") && !inside) {
            const std::size_t space = std::min(text.find(' '), text.size());
            const std::string file = space < text.size() ? text.substr(space + 1) : "";
            blocks.push_back({text.substr(3, space - 3), file, end + 1, 0, line});
            inside = true;
        } else if (text == "```") {
            blocks.back().size = at - blocks.back().from;
            inside = false;
        }
        at = end + 1;
    }
    REQUIRE_FALSE(inside);
    return blocks;
}

/// A command of a console block, and what the page says that it prints.
struct Shown {
    std::string command;
    std::vector<std::string> output;
};

/// Its lines without blanks at their ends.
inline std::vector<std::string> lines_in(const std::string& text) {
    std::vector<std::string> lines;
    for (const std::string_view line : source::lines_of(text)) {
        lines.emplace_back(line);
        while (lines.back().ends_with(' ')) lines.back().pop_back();
    }
    return lines;
}

inline std::vector<Shown> shown_in(const std::string& console) {
    std::vector<Shown> all;
    bool goes_on = false;
    for (const std::string& line : lines_in(console)) {
        if (goes_on) {
            all.back().command += "\n" + line;
        } else if (line.starts_with("$ ")) {
            all.push_back({line.substr(2), {}});
        } else {
            REQUIRE_FALSE(all.empty()); // what a command prints comes after it
            all.back().output.push_back(line);
        }
        goes_on = (goes_on || line.starts_with("$ ")) && line.ends_with("\\");
    }
    return all;
}

/// Whether lines are those that are shown; a shown "…" stands for any number of them.
inline bool fits(const std::vector<std::string>& shown, const std::vector<std::string>& lines,
                 std::size_t s = 0, std::size_t l = 0) {
    for (; s < shown.size(); ++s, ++l) {
        if (shown[s] == "…") {
            for (std::size_t skip = l; skip <= lines.size(); ++skip) {
                if (fits(shown, lines, s + 1, skip)) return true;
            }
            return false;
        }
        if (l >= lines.size() || shown[s] != lines[l]) return false;
    }
    return l == lines.size();
}

} // namespace hestrel::tests
