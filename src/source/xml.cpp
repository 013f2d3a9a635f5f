#include "source/xml.hpp"

#include "source/utf8.hpp"

#include <algorithm>

namespace hestrel::source {

namespace {

/// What XML has no place for. Marks that control a terminal or a page are not needed either.
bool is_no_character(char32_t code) {
    const bool controls = (code < ' ' && code != '\n') || (code >= 0x7F && code <= 0x9F);
    return controls || code == 0xFFFE || code == 0xFFFF;
}

} // namespace

std::string xml_characters(std::string_view text) {
    std::string fitting;
    for (std::size_t at = 0; at < text.size();) {
        const Character character = character_at(text, at);
        if (character.bytes == 0 || is_no_character(character.code))
            fitting += ' ';
        else
            fitting += text.substr(at, character.bytes);
        at += std::max<std::size_t>(character.bytes, 1);
    }
    return fitting;
}

std::string xml_text(std::string_view text) {
    std::string safe;
    for (const char c : xml_characters(text)) {
        switch (c) {
        case '<': safe += "&lt;"; break;
        case '>': safe += "&gt;"; break;
        case '&': safe += "&amp;"; break;
        case '"': safe += "&quot;"; break;
        case '\'': safe += "&#39;"; break;
        case '\n': safe += "&#10;"; break;
        default: safe += c;
        }
    }
    return safe;
}

} // namespace hestrel::source
