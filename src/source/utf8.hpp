#pragma once
// Characters and bytes: columns count the first, texts hold the second.

#include <cstddef>
#include <string>
#include <string_view>

namespace hestrel::source {

/// As some editors and spreadsheets put it before a text.
constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
constexpr std::string_view without_byte_order_mark(std::string_view text) {
    return text.starts_with(byte_order_mark) ? text.substr(byte_order_mark.size()) : text;
}

/// Whether a byte of UTF-8 continues the character before it, and takes no column of its own.
constexpr bool continues_character(char byte) {
    constexpr unsigned mask = 0xC0;
    constexpr unsigned continuation = 0x80;
    return (static_cast<unsigned char>(byte) & mask) == continuation;
}

/// Bytes of the character that begins at `at`, which is inside `text`.
constexpr std::size_t sign_length(std::string_view text, std::size_t at) {
    std::size_t length = 1;
    while (at + length < text.size() && continues_character(text[at + length])) ++length;
    return length;
}

/// A character and the bytes that it takes in a text.
struct Character {
    char32_t code = 0;
    std::size_t bytes = 0; ///< 0: what stands there is not UTF-8
};

/// The character at `at`, which is inside `text`. Too long forms and halves of pairs are none.
Character character_at(std::string_view text, std::size_t at);

/// Whether all of a text is UTF-8.
bool is_utf8(std::string_view text);

/// The beginning of a text: no more than so many bytes, and no part of a character.
std::string_view shortened(std::string_view text, std::size_t most);

/// A text as a terminal may get it. What a terminal would act on instead of showing it (control
/// characters, marks that turn the order of writing, bytes that are no UTF-8) is written out, as
/// `\x1b` or `\u202e`; line ends and tabs stay.
std::string visible(std::string_view text);

} // namespace hestrel::source
