#include "source/source_text.hpp"

#include "source/utf8.hpp"

namespace hestrel::source {

namespace {

/// How many bytes end a line at `at`; 0 where none does.
std::size_t line_end_at(std::string_view text, std::size_t at) {
    for (const std::string_view end : {"\r\n", "\n", "\r"}) {
        if (text.substr(at, end.size()) == end) return end.size();
    }
    return 0;
}

} // namespace

SourceText::SourceText(std::string_view text) : text_(text) {
    std::size_t at = text.starts_with(byte_order_mark) ? byte_order_mark.size() : 0;
    starts_.push_back(at);
    while (at < text.size()) {
        const std::size_t end = line_end_at(text, at);
        if (end > 0) {
            ends_.push_back(at);
            starts_.push_back(at + end);
        }
        at += end > 0 ? end : 1;
    }
    ends_.push_back(text.size());
}

std::optional<std::size_t> SourceText::offset_of(plan::Place place) const {
    if (place.line == 0 || place.line > starts_.size()) return std::nullopt;
    std::size_t at = starts_[place.line - 1];
    for (std::uint32_t column = 1; column < place.column && at < text_.size(); ++column) {
        ++at;
        while (at < text_.size() && continues_character(text_[at])) ++at;
    }
    return at;
}

std::string_view SourceText::line(std::uint32_t line) const {
    if (line == 0 || line > starts_.size()) return {};
    return text_.substr(starts_[line - 1], ends_[line - 1] - starts_[line - 1]);
}

} // namespace hestrel::source
