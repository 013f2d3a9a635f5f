#pragma once
// Tables, each said once: columns with a name and what a row has there. Writers give them a form:
// CSV, JSON and Markdown here, the terminal's in text_table, the page's in report/html_table.
//
//     const Columns<Parcel> columns{{"parcel", [](const Parcel& p) { return p.name; }},
//                                   {"size_mib", [](const Parcel& p) { return p.size; }}};
//     csv_of(columns, parcels);   // parcel,size_mib ⏎ core,140.000 ⏎
//     json_of(columns, parcels);  // [{"parcel": "core", "size_mib": 140.0}]

#include "plan/plan.hpp"
#include "source/json.hpp"
#include "tables/csv.hpp"

#include <concepts>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace hestrel::tables {

/// What one cell holds, before a writer gives it a form. A column's name ends with the unit:
/// times are in s (`_s`), sizes in MiB (`_mib`), lengths in m (`_m`).
class Cell {
public:
    Cell() = default; ///< nothing: empty in CSV, null in JSON
    Cell(std::string text) : value_(std::move(text)) {}
    Cell(std::string_view text) : value_(std::string(text)) {}
    Cell(const char* text) : value_(std::string(text)) {}
    Cell(bool yes) : value_(yes) {} ///< yes or no in CSV
    Cell(std::integral auto number) : value_(static_cast<std::int64_t>(number)) {}
    Cell(plan::Micros time) : value_(time) {}
    Cell(plan::Bytes size) : value_(size) {}
    Cell(std::vector<std::string> list) : value_(std::move(list)) {} ///< blanks between in CSV
    template <class T>
    Cell(const std::optional<T>& value) {
        if (value) *this = Cell(*value);
    }
    /// With so many decimals in CSV; JSON takes it whole.
    static Cell number(double value, int decimals);

    [[nodiscard]] std::string csv() const;
    void add_to(Csv& csv) const;
    [[nodiscard]] source::Json json() const;
    /// As people read it: "12.50 s", "1,312".
    [[nodiscard]] std::string text() const;
    /// By which a table on the page sorts; empty: last.
    [[nodiscard]] std::string sort_key() const;

private:
    struct Decimal {
        double value = 0;
        int decimals = 0;
    };
    std::variant<std::monostate, std::string, bool, std::int64_t, Decimal, plan::Micros,
                 plan::Bytes, std::vector<std::string>>
        value_;
};

template <class Row>
struct Column {
    std::string name;
    std::function<Cell(const Row&)> of;
    bool right = false; ///< a figure, which people like to the right
};
template <class Row>
using Columns = std::vector<Column<Row>>;

/// The table as CSV, with a header.
template <class Row, class Rows>
std::string csv_of(const Columns<Row>& columns, const Rows& rows) {
    Csv csv;
    for (const Column<Row>& column : columns) csv.add(column.name);
    csv.end_row();
    for (const Row& row : rows) {
        for (const Column<Row>& column : columns) column.of(row).add_to(csv);
        csv.end_row();
    }
    return csv.take();
}

/// One row as an object: numbers as numbers, lists as arrays, what is empty as null.
template <class Row>
source::Json json_of_row(const Columns<Row>& columns, const Row& row) {
    source::Json object = source::Json::object();
    for (const Column<Row>& column : columns) object[column.name] = column.of(row).json();
    return object;
}

/// The table as a list of objects.
template <class Row, class Rows>
source::Json json_of(const Columns<Row>& columns, const Rows& rows) {
    source::Json list = source::Json::array();
    for (const Row& row : rows) list.push_back(json_of_row(columns, row));
    return list;
}

/// A text in a cell of a Markdown table.
std::string markdown_cell(std::string_view text);

/// The first rows of the table as Markdown; what is cut off is counted below.
template <class Row, class Rows>
std::string markdown_of(const Columns<Row>& columns, const Rows& rows, std::size_t most) {
    std::string text = "|";
    std::string rule = "|";
    for (const Column<Row>& column : columns) {
        text += (column.name.empty() ? "" : " " + column.name) + " |";
        rule += column.right ? "--:|" : "---|";
    }
    text += "\n" + rule + "\n";
    std::size_t count = 0;
    for (const Row& row : rows) {
        if (count++ >= most) continue;
        text += "|";
        for (const Column<Row>& column : columns)
            text += " " + markdown_cell(column.of(row).text()) + " |";
        text += "\n";
    }
    return count > most ? text + "\nand " + std::to_string(count - most) + " more\n" : text;
}

} // namespace hestrel::tables
