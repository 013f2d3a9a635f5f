#pragma once
// Tables as plain text, for a terminal.

#include "tables/table.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::tables {

/// A table of text: columns as wide as they need to be, two blanks apart.
class TextTable {
public:
    enum class Align : std::uint8_t { left, right };
    struct Column {
        std::string title;
        Align align = Align::left;
    };

    /// The first rows of a table that is said by its columns.
    template <class Row, class Rows>
    static TextTable of(const Columns<Row>& columns, const Rows& rows, std::size_t most) {
        std::vector<TextTable::Column> titles;
        for (const auto& column : columns)
            titles.push_back({column.name, column.right ? Align::right : Align::left});
        TextTable table(std::move(titles));
        for (const Row& row : rows) {
            if (table.rows_.size() == most) break;
            std::vector<std::string> cells;
            for (const auto& column : columns) cells.push_back(column.of(row).text());
            table.row(std::move(cells));
        }
        return table;
    }
    explicit TextTable(std::vector<Column> columns) : columns_(std::move(columns)) {}
    void row(std::vector<std::string> cells) { rows_.push_back(std::move(cells)); }
    /// The table, one line per row, no blanks at the ends of lines.
    [[nodiscard]] std::string text() const;

private:
    std::vector<Column> columns_;
    std::vector<std::vector<std::string>> rows_;
};

/// How many character cells a UTF-8 text takes, counting one per code point.
std::size_t cells(std::string_view text);
/// So many cells a line of text for people has at most.
constexpr std::size_t text_columns = 100;

/// Lines of no more than so many cells, broken at blanks; a longer word has a line to itself.
std::vector<std::string> broken(std::string_view text, std::size_t most,
                                std::size_t (*cells_of)(std::string_view) = cells);

} // namespace hestrel::tables
