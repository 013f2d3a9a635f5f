#pragma once
// What people read on the terminal: plain text tables.

#include <cstdio>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::command {

/// A table of text: columns as wide as they need to be, two blanks apart.
class TextTable {
public:
    enum class Align : std::uint8_t { left, right };
    struct Column {
        std::string title;
        Align align = Align::left;
    };

    explicit TextTable(std::vector<Column> columns) : columns_(std::move(columns)) {}
    void row(std::vector<std::string> cells) { rows_.push_back(std::move(cells)); }
    /// The table, one line per row, no blanks at the ends of lines.
    [[nodiscard]] std::string text() const;

private:
    std::vector<Column> columns_;
    std::vector<std::vector<std::string>> rows_;
};

/// Text broken at blanks into lines of no more than so many cells, each line indented.
std::string wrapped(std::string_view text, std::size_t width, std::string_view indent);

/// How many character cells a UTF-8 text takes, counting one per code point.
std::size_t cells(std::string_view text);

/// How far exploring has come, on standard error, over what was said before.
void show_exploring(std::size_t situations, std::size_t waiting);

/// Whether what goes to `stream` is read by a person.
bool on_terminal(std::FILE* stream);

} // namespace hestrel::command
