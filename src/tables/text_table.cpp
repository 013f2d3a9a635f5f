#include "tables/text_table.hpp"

#include "source/utf8.hpp"

#include <algorithm>

namespace hestrel::tables {

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

std::vector<std::string> broken(std::string_view text, std::size_t most,
                                std::size_t (*cells_of)(std::string_view)) {
    std::vector<std::string> lines(1);
    while (!text.empty()) {
        const std::size_t end = std::min(text.find(' '), text.size());
        const std::string word(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
        if (!lines.back().empty() && cells_of(lines.back()) + 1 + cells_of(word) > most)
            lines.emplace_back();
        lines.back() += (lines.back().empty() ? "" : " ") + word;
    }
    return lines;
}

} // namespace hestrel::tables
