#pragma once
// Tables as CSV (RFC 4180): comma, CRLF, quotes where a field needs them. What a spreadsheet would
// take for a formula gets an apostrophe in front, which `source/csv_reader` takes off.

#include "plan/units.hpp"

#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>
#include <utility>

namespace hestrel::tables {

/// A table being written, row by row.
class Csv {
public:
    /// Starts with the header; without one the caller adds it field by field.
    Csv() = default;
    Csv(std::initializer_list<std::string_view> header) { row(header); }

    /// Appends one field to the row under way.
    Csv& add(std::string_view written);
    /// Figures, in the forms of `tables/words`, which need no quotes; what is unset is empty.
    Csv& add(std::int64_t number);
    Csv& add(plan::Micros time);
    Csv& add(plan::Bytes size);
    template <class Figure>
    Csv& add(const std::optional<Figure>& figure) {
        return figure ? add(*figure) : add(std::string_view());
    }
    /// Throws std::logic_error where the row has not as many fields as the header.
    void end_row();
    void row(std::initializer_list<std::string_view> fields);

    /// All of it; the table is used up.
    [[nodiscard]] std::string take() { return std::move(text_); }

private:
    void begin_field();

    std::string text_;
    std::size_t fields_ = 0; ///< of the row under way
    std::size_t width_ = 0;  ///< of the header; 0 before it
};

} // namespace hestrel::tables
