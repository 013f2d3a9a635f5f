#include "source/utf8.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace hestrel::source {

namespace {

/// What a terminal acts on, but for tabs and line ends.
bool acts_on_a_terminal(char32_t code) {
    struct CodeRange {
        char32_t first, last;
    };
    constexpr std::array<CodeRange, 9> acting{{{0x00, 0x08},
                                               {0x0B, 0x1F},
                                               {0x7F, 0x9F},
                                               {0x061C, 0x061C},
                                               {0x200E, 0x200F},
                                               {0x2028, 0x202E},
                                               {0x2066, 0x2069},
                                               {0xFEFF, 0xFEFF},
                                               {0xFFF9, 0xFFFB}}};
    return std::any_of(acting.begin(), acting.end(), [&](const CodeRange& range) {
        return range.first <= code && code <= range.last;
    });
}

} // namespace

Character character_at(std::string_view text, std::size_t at) {
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    const unsigned char lead = byte(at);
    if (lead < 0x80) return {lead, 1};
    struct Form {
        unsigned char mask, marker;
        std::size_t bytes;
        char32_t least; ///< what fits no shorter form
    };
    constexpr std::array<Form, 3> forms{
        {{0xE0, 0xC0, 2, 0x80}, {0xF0, 0xE0, 3, 0x800}, {0xF8, 0xF0, 4, 0x10000}}};
    constexpr char32_t last_code = 0x10FFFF;
    for (const Form& form : forms) {
        if ((lead & form.mask) != form.marker) continue;
        if (at + form.bytes > text.size()) return {};
        auto code = static_cast<char32_t>(lead & static_cast<unsigned char>(~form.mask));
        for (std::size_t i = 1; i < form.bytes; ++i) {
            if (!continues_character(text[at + i])) return {};
            code = code << 6U | (byte(at + i) & 0x3FU);
        }
        const bool is_half = code >= 0xD800 && code <= 0xDFFF; // of a pair of UTF-16
        if (code < form.least || code > last_code || is_half) return {};
        return {code, form.bytes};
    }
    return {};
}

bool is_utf8(std::string_view text) {
    for (std::size_t at = 0; at < text.size();) {
        const Character next = character_at(text, at);
        if (next.bytes == 0) return false;
        at += next.bytes;
    }
    return true;
}

std::string_view shortened(std::string_view text, std::size_t most) {
    if (text.size() <= most) return text;
    while (most > 0 && continues_character(text[most])) --most;
    return text.substr(0, most);
}

std::string visible(std::string_view text) {
    if (std::all_of(text.begin(), text.end(), [](char c) { return c >= ' ' && c <= '~'; }))
        return std::string(text);
    std::string shown;
    shown.reserve(text.size());
    for (std::size_t at = 0; at < text.size();) {
        const Character character = character_at(text, at);
        if (character.bytes == 0) {
            shown += fmt::format("\\x{:02x}", static_cast<unsigned char>(text[at]));
        } else if (!acts_on_a_terminal(character.code) || text.substr(at, 2) == "\r\n") {
            shown += text.substr(at, character.bytes);
        } else if (character.code < 0x80) {
            shown += fmt::format("\\x{:02x}", static_cast<unsigned>(character.code));
        } else {
            shown += fmt::format("\\u{:04x}", static_cast<unsigned>(character.code));
        }
        at += std::max<std::size_t>(character.bytes, 1);
    }
    return shown;
}

} // namespace hestrel::source
