#include "tables/csv.hpp"

#include "source/csv_reader.hpp"

#include <stdexcept>

namespace hestrel::tables {

Csv& Csv::add(std::string_view written) {
    if (fields_++ > 0) text_ += ',';
    const bool apostrophe = source::reads_as_formula(written);
    const std::string marked = apostrophe ? "'" + std::string(written) : std::string();
    const std::string_view field = apostrophe ? std::string_view(marked) : written;
    if (field.find_first_of(",\"\r\n") == std::string_view::npos) {
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
