#include "source/dot.hpp"

#include "source/xml.hpp"

namespace hestrel::source {

std::string dot_string(std::string_view text, Lines lines) {
    std::string literal = "\"";
    for (const char c : xml_characters(text)) {
        switch (c) {
        case '"': literal += "\\\""; break;
        case '\\': literal += "\\\\"; break;
        case '&': literal += "&amp;"; break;
        case '\n': literal += lines == Lines::left ? "\\l" : "\\n"; break;
        default: literal += c;
        }
    }
    return literal + "\"";
}

std::string dot_data(std::string_view text) {
    std::string literal = "\"";
    for (const char c : xml_characters(text)) {
        if (c == '"' || c == '\\') literal += '\\';
        literal += c == '\n' ? ' ' : c;
    }
    return literal + "\"";
}

} // namespace hestrel::source
