#include "source/source_text.hpp"

#include "source/utf8.hpp"

#include <algorithm>

namespace hestrel::source {

std::vector<std::size_t> line_starts(std::string_view text) {
    std::vector<std::size_t> starts{0};
    for (std::size_t i = 0; i < text.size(); ++i) {
        const bool pair = text[i] == '\r' && i + 1 < text.size() && text[i + 1] == '\n';
        if (text[i] == '\n' || (text[i] == '\r' && !pair)) starts.push_back(i + 1);
    }
    return starts;
}

SourceText::SourceText(std::string_view text) : text_(text), starts_(line_starts(text)) {
    if (text.starts_with(byte_order_mark)) starts_.front() = byte_order_mark.size();
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

std::uint32_t SourceText::line_at(std::size_t offset) const {
    const auto behind = std::upper_bound(starts_.begin(), starts_.end(), offset);
    return std::max(static_cast<std::uint32_t>(behind - starts_.begin()), 1U);
}

std::string_view SourceText::line(std::uint32_t line) const {
    if (line == 0 || line > starts_.size()) return {};
    const std::size_t from = starts_[line - 1];
    if (line == starts_.size()) return text_.substr(from);
    std::size_t end = starts_[line] - 1;
    if (end > from && text_[end] == '\n' && text_[end - 1] == '\r') --end;
    return text_.substr(from, end - from);
}

} // namespace hestrel::source
