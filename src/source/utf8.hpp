#pragma once
// Characters and bytes: columns count the first, texts hold the second.

#include <cstddef>
#include <string_view>

namespace hestrel::source {

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

} // namespace hestrel::source
