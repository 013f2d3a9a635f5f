#pragma once
// A table of the page: header cells, cells that say what they sort by.

#include "plan/finding.hpp"
#include "tables/table.hpp"

#include <concepts>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::report {

/// How a verdict looks: good, warn or bad.
[[nodiscard]] constexpr std::string_view grade_of(plan::Verdict verdict) {
    switch (verdict) {
    case plan::Verdict::fine: return "good";
    case plan::Verdict::over_limit: return "warn";
    default: return "bad";
    }
}

/// A table whose columns can be sorted on the page.
class HtmlTable {
public:
    struct Column {
        std::string title;
        bool number = false; ///< to the right
        std::string group{}; ///< columns next to each other of one group share a head; empty: none
    };
    struct Cell {
        std::string text;
        std::string key{};        ///< what it sorts by: a number or a text; empty: last
        std::string_view grade{}; ///< good, warn, bad, or none
        std::string link{};       ///< empty: none

        Cell() = default;
        Cell(std::string said, std::string by, std::string_view graded = {}, std::string to = {})
            : text(std::move(said)), key(std::move(by)), grade(graded), link(std::move(to)) {}
        /// A value as people read it, sorted by what it is.
        template <class T>
        requires std::constructible_from<tables::Cell, const T&> Cell(const T& value)
            : text(tables::Cell(value).text()), key(tables::Cell(value).sort_key()) {}
    };
    static Cell graded(Cell cell, std::string_view grade) {
        cell.grade = grade;
        return cell;
    }

    explicit HtmlTable(std::vector<Column> columns) : columns_(std::move(columns)) {}
    /// As many cells as columns; the first is the row's head. `levels`: those that it is about, by
    /// which the page can be filtered; empty: it always stays.
    void row(std::vector<Cell> cells, std::string levels = {}) {
        rows_.push_back({std::move(cells), std::move(levels)});
    }
    /// `about` says to who can't see it what the table holds.
    [[nodiscard]] std::string html(std::string_view about) const;

private:
    struct Row {
        std::vector<Cell> cells;
        std::string levels;
    };
    [[nodiscard]] std::string head() const;
    [[nodiscard]] bool begins_group(std::size_t column) const;

    std::vector<Column> columns_;
    std::vector<Row> rows_;
};

} // namespace hestrel::report
