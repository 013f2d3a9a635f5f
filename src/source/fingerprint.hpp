#pragma once
// What a text is known by: its SHA-256 (FIPS 180-4).

#include <string>
#include <string_view>

namespace hestrel::source {

/// In 64 hexadecimal digits, as `sha256sum` prints it.
std::string sha256_hex(std::string_view text);
/// In Base64 (RFC 4648), as a Content-Security-Policy names a script.
std::string sha256_base64(std::string_view text);

} // namespace hestrel::source
