#pragma once
// Characters and bytes: columns count the first, texts hold the second.

namespace hestrel::format {

/// Whether a byte of UTF-8 continues the character before it, and takes no column of its own.
constexpr bool continues_character(char byte) {
    constexpr unsigned mask = 0xC0;
    constexpr unsigned continuation = 0x80;
    return (static_cast<unsigned char>(byte) & mask) == continuation;
}

} // namespace hestrel::format
