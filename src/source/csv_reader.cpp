#include "source/csv_reader.hpp"

#include "source/utf8.hpp"

namespace hestrel::source {

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
            return cells;
        } else if (c != '\r') {
            cells.back().text += c;
        }
    }
    return cells;
}

} // namespace hestrel::source
