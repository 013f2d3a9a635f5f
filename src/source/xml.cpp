#include "source/xml.hpp"

namespace hestrel::source {

namespace {

/// Three bytes that are U+FFFE or U+FFFF, which XML has no place for.
bool is_no_character(std::string_view text, std::size_t at) {
    return text.substr(at, 3) == "\xEF\xBF\xBE" || text.substr(at, 3) == "\xEF\xBF\xBF";
}

} // namespace

std::string xml_text(std::string_view text) {
    std::string safe;
    for (std::size_t at = 0; at < text.size(); ++at) {
        const char c = text[at];
        switch (c) {
        case '<': safe += "&lt;"; break;
        case '>': safe += "&gt;"; break;
        case '&': safe += "&amp;"; break;
        case '"': safe += "&quot;"; break;
        case '\'': safe += "&#39;"; break;
        case '\n': safe += "&#10;"; break;
        default:
            if (is_no_character(text, at)) {
                safe += ' ';
                at += 2;
            } else {
                safe += static_cast<unsigned char>(c) < ' ' ? ' ' : c;
            }
        }
    }
    return safe;
}

} // namespace hestrel::source
