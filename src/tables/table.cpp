#include "tables/table.hpp"

#include "plan/names.hpp"
#include "source/utf8.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>

namespace hestrel::tables {

using source::Json;

namespace {

template <class... Forms>
struct Overloaded : Forms... {
    using Forms::operator()...;
};
template <class... Forms>
Overloaded(Forms...) -> Overloaded<Forms...>;

} // namespace

Cell Cell::number(double value, int decimals) {
    Cell cell;
    cell.value_ = Decimal{value, decimals};
    return cell;
}

std::string Cell::csv() const {
    return std::visit(
        Overloaded{[](std::monostate) { return std::string(); },
                   [](const std::string& text) { return text; },
                   [](bool yes) { return std::string(yes ? "yes" : "no"); },
                   [](std::int64_t number) { return std::to_string(number); },
                   [](const Decimal& number) {
                       return fmt::format("{:.{}f}", number.value, number.decimals);
                   },
                   [](plan::Micros time) { return seconds_text(time); },
                   [](plan::Bytes size) { return mebibytes_text(size); },
                   [](const std::vector<std::string>& list) { return plan::joined(list, " "); }},
        value_);
}

void Cell::add_to(Csv& csv) const {
    std::visit(Overloaded{[&](const std::string& text) { csv.add(text); },
                          [&](std::int64_t number) { csv.add(number); },
                          [&](plan::Micros time) { csv.add(time); },
                          [&](plan::Bytes size) { csv.add(size); },
                          [&](const auto&) { csv.add(this->csv()); }},
               value_);
}

Json Cell::json() const {
    return std::visit(Overloaded{[](std::monostate) { return Json(); },
                                 [](const std::string& text) { return Json(text); },
                                 [](bool yes) { return Json(yes); },
                                 [](std::int64_t number) { return Json(number); },
                                 [](const Decimal& number) { return Json(number.value); },
                                 [](plan::Micros time) { return Json(plan::in_seconds(time)); },
                                 [](plan::Bytes size) { return Json(plan::in_mebibytes(size)); },
                                 [](const std::vector<std::string>& list) { return Json(list); }},
                      value_);
}

std::string Cell::text() const {
    return std::visit(
        Overloaded{[](plan::Micros time) { return short_time(time); },
                   [](plan::Bytes size) { return short_mebibytes(size); },
                   [](const std::vector<std::string>& list) { return plan::joined(list); },
                   [this](const auto&) { return csv(); }},
        value_);
}

std::string Cell::sort_key() const {
    return std::visit(Overloaded{[](plan::Micros time) { return std::to_string(time.count); },
                                 [](plan::Bytes size) { return std::to_string(size.count); },
                                 [](const Decimal& number) { return std::to_string(number.value); },
                                 [this](const auto&) { return text(); }},
                      value_);
}

std::string markdown_cell(std::string_view text) {
    constexpr std::string_view meaning_something = "|\\`<>&*_[]~$";
    std::string cell;
    for (std::size_t at = 0; at < text.size(); ++at) {
        const char c = text[at];
        // An address is a link even without brackets.
        const bool of_address = (c == ':' && text.substr(at, 3) == "://") ||
                                (c == '.' && at >= 3 && text.substr(at - 3, 3) == "www");
        if (of_address || meaning_something.find(c) != std::string_view::npos) cell += '\\';
        cell += c == '\n' || c == '\r' ? ' ' : c;
    }
    return source::visible(cell);
}

} // namespace hestrel::tables
