#include "source/csv_reader.hpp"

#include "source/quantities.hpp"
#include "source/utf8.hpp"

namespace hestrel::source {

namespace {

/// Without the apostrophe that one of our tables put before it.
void take_apostrophe_off(std::string& cell) {
    if (cell.starts_with('\'') && reads_as_formula(cell)) cell.erase(0, 1);
}

} // namespace

bool reads_as_formula(std::string_view cell) {
    const std::size_t first = cell.find_first_not_of('\'');
    if (first == std::string_view::npos) return false;
    constexpr std::string_view begins_formula = "=+-@\t\r";
    return begins_formula.find(cell[first]) != std::string_view::npos &&
           !std::holds_alternative<double>(parse_number(cell));
}

std::vector<CsvCell> next_record(std::string_view csv, std::size_t& at, plan::Place& place) {
    std::vector<CsvCell> cells{{{}, place}};
    bool quoted = false;
    for (; at < csv.size(); ++at) {
        const char c = csv[at];
        if (!continues_character(c)) ++place.column;
        if (c == '\n') place = {place.file, place.line + 1, 1};
        if (quoted) {
            if (c != '"') {
                cells.back().text += c;
            } else if (at + 1 < csv.size() && csv[at + 1] == '"') {
                cells.back().text += csv[++at];
            } else {
                quoted = false;
            }
        } else if (c == '"') {
            quoted = true;
        } else if (c == ',') {
            cells.push_back({{}, place});
        } else if (c == '\n') {
            ++at;
            break;
        } else if (c != '\r') {
            cells.back().text += c;
        }
    }
    for (CsvCell& cell : cells) take_apostrophe_off(cell.text);
    return cells;
}

} // namespace hestrel::source
