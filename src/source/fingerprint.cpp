#include "source/fingerprint.hpp"

#include <array>
#include <cstddef>
#include <cstdint>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nettle/base64.h>
#include <nettle/sha2.h>

namespace hestrel::source {

namespace {

using Digest = std::array<std::uint8_t, SHA256_DIGEST_SIZE>;

Digest digest_of(std::string_view text) {
    Digest digest{};
    sha256_ctx context{};
    sha256_init(&context);
    // Characters as bytes.
    sha256_update(&context, text.size(), reinterpret_cast<const std::uint8_t*>(text.data()));
    sha256_digest(&context, digest.size(), digest.data());
    return digest;
}

} // namespace

std::string sha256_hex(std::string_view text) {
    return fmt::format("{:02x}", fmt::join(digest_of(text), ""));
}

std::string sha256_base64(std::string_view text) {
    const Digest digest = digest_of(text);
    return base64({reinterpret_cast<const char*>(digest.data()), digest.size()}); // bytes as chars
}

std::string base64(std::string_view bytes) {
    std::string encoded(BASE64_ENCODE_RAW_LENGTH(bytes.size()), '\0');
    base64_encode_raw(encoded.data(), bytes.size(),
                      reinterpret_cast<const std::uint8_t*>(bytes.data())); // chars as bytes
    return encoded;
}

} // namespace hestrel::source
