#include "serve/document.hpp"

#include "source/source_text.hpp"

#include <algorithm>

namespace hestrel::serve {

namespace {

/// Bytes of the character that begins there.
std::size_t bytes_of(char first) {
    const auto byte = static_cast<unsigned char>(first);
    if (byte < 0xc0) return 1;
    if (byte < 0xe0) return 2;
    return byte < 0xf0 ? 3 : 4;
}
/// Its UTF-16 units.
std::size_t units_of(char first) {
    return bytes_of(first) == 4 ? 2 : 1;
}

std::size_t number_in(const source::Json& json, const char* key) {
    const auto found = json.find(key);
    return found != json.end() && found->is_number_unsigned() ? found->get<std::size_t>() : 0;
}

} // namespace

Document::Document(std::string text)
    : text_(std::move(text)), starts_(source::line_starts(text_)) {}

std::size_t Document::offset_of(Position position) const {
    if (position.line >= starts_.size()) return text_.size();
    std::size_t at = starts_[position.line];
    for (std::size_t units = 0; units < position.character && at < text_.size();) {
        if (text_[at] == '\n' || text_[at] == '\r') break;
        units += units_of(text_[at]);
        at = std::min(at + bytes_of(text_[at]), text_.size());
    }
    return at;
}

Position Document::position_of(std::size_t offset) const {
    offset = std::min(offset, text_.size());
    const auto behind = std::upper_bound(starts_.begin(), starts_.end(), offset);
    const auto line = static_cast<std::size_t>(behind - starts_.begin()) - 1;
    std::size_t character = 0;
    for (std::size_t at = starts_[line]; at < offset; at += bytes_of(text_[at]))
        character += units_of(text_[at]);
    return {line, character};
}

void Document::replace(Stretch stretch, std::string_view by) {
    const std::size_t from = std::min(stretch.from, text_.size());
    const std::size_t to = std::clamp(stretch.to, from, text_.size());
    text_.replace(from, to - from, by);
    starts_ = source::line_starts(text_);
}

source::Json range_json(const Document& document, Stretch stretch) {
    // Without lists of initializers, which take three times as long: there may be many.
    const auto json = [&](std::size_t offset) {
        const Position position = document.position_of(offset);
        source::Json there;
        there["line"] = position.line;
        there["character"] = position.character;
        return there;
    };
    source::Json range;
    range["start"] = json(stretch.from);
    range["end"] = json(stretch.to);
    return range;
}

Position position_in(const source::Json& json) {
    if (!json.is_object()) return {};
    return {number_in(json, "line"), number_in(json, "character")};
}

} // namespace hestrel::serve
