#include "tables/csv.hpp"

#include "source/csv_reader.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <stdexcept>

namespace hestrel::tables {

void Csv::begin_field() {
    if (fields_++ > 0) text_ += ',';
}

Csv& Csv::add(std::int64_t number) {
    begin_field();
    text_ += fmt::format_int(number).c_str();
    return *this;
}

Csv& Csv::add(plan::Micros time) {
    begin_field();
    add_seconds(text_, time);
    return *this;
}

Csv& Csv::add(plan::Bytes size) {
    begin_field();
    add_mebibytes(text_, size);
    return *this;
}

Csv& Csv::add(std::string_view written) {
    begin_field();
    const bool apostrophe = source::reads_as_formula(written);
    const std::string marked = apostrophe ? "'" + std::string(written) : std::string();
    const std::string_view field = apostrophe ? std::string_view(marked) : written;
    const auto needs_quotes = [](char c) { return c == ',' || c == '"' || c == '\r' || c == '\n'; };
    if (std::none_of(field.begin(), field.end(), needs_quotes)) {
        text_ += field;
        return *this;
    }
    text_ += '"';
    for (const char c : field) {
        if (c == '"') text_ += '"';
        text_ += c;
    }
    text_ += '"';
    return *this;
}

void Csv::end_row() {
    if (width_ == 0) width_ = fields_;
    if (fields_ != width_) throw std::logic_error("a row that does not fit its table's header");
    text_ += "\r\n";
    fields_ = 0;
}

void Csv::row(std::initializer_list<std::string_view> fields) {
    for (const std::string_view field : fields) add(field);
    end_row();
}

} // namespace hestrel::tables
