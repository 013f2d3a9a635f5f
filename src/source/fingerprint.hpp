#pragma once
// What a text is known by: its SHA-256 (FIPS 180-4); and bytes as text.

#include <string>
#include <string_view>

namespace hestrel::source {

/// In 64 hexadecimal digits, as `sha256sum` prints it.
std::string sha256_hex(std::string_view text);
/// In Base64 (RFC 4648), as a Content-Security-Policy names a script.
std::string sha256_base64(std::string_view text);
/// Bytes themselves in Base64.
std::string base64(std::string_view bytes);

} // namespace hestrel::source
