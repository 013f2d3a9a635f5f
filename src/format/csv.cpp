#include "format/csv.hpp"

namespace hestrel::format {

Csv& Csv::add(std::string_view field) {
    if (!row_empty_) text_ += ',';
    row_empty_ = false;
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
    text_ += "\r\n";
    row_empty_ = true;
}

void Csv::row(std::initializer_list<std::string_view> fields) {
    for (const std::string_view field : fields) add(field);
    end_row();
}

} // namespace hestrel::format
