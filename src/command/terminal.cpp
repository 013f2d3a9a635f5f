#include "command/terminal.hpp"

#include "source/utf8.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <unistd.h>

namespace hestrel::command {

std::size_t cells(std::string_view text) {
    return static_cast<std::size_t>(std::count_if(
        text.begin(), text.end(), [](char c) { return !source::continues_character(c); }));
}

std::string TextTable::text() const {
    std::vector<std::size_t> widths;
    for (std::size_t i = 0; i < columns_.size(); ++i) {
        std::size_t width = cells(columns_[i].title);
        for (const auto& row : rows_) width = std::max(width, cells(row[i]));
        widths.push_back(width);
    }
    std::string text;
    const auto line = [&](auto cell_of) {
        std::string row;
        for (std::size_t i = 0; i < columns_.size(); ++i) {
            const std::string& cell = cell_of(i);
            const std::string blanks(widths[i] - cells(cell), ' ');
            if (i > 0) row += "  ";
            row += columns_[i].align == Align::right ? blanks + cell : cell + blanks;
        }
        row.erase(row.find_last_not_of(' ') + 1);
        text += row + "\n";
    };
    line([&](std::size_t i) -> const std::string& { return columns_[i].title; });
    for (const auto& row : rows_) line([&](std::size_t i) -> const std::string& { return row[i]; });
    return text;
}

std::string wrapped(std::string_view text, std::size_t width, std::string_view indent) {
    std::string lines;
    std::string line;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find(' '), text.size());
        const std::string_view word = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        if (!line.empty() && indent.size() + cells(line) + 1 + cells(word) > width) {
            lines += std::string(indent) + line + "\n";
            line.clear();
        }
        line += (line.empty() ? "" : " ") + std::string(word);
    }
    return lines + std::string(indent) + line + "\n";
}

void show_exploring(std::size_t situations, std::size_t waiting) {
    fmt::print(stderr, "\r{} situations, {} to look at ", tables::grouped(situations),
               tables::grouped(waiting));
}

bool on_terminal(std::FILE* stream) {
    return ::isatty(::fileno(stream)) != 0;
}

} // namespace hestrel::command
