#include "source/addresses.hpp"

#include <charconv>
#include <fmt/format.h>

namespace hestrel::source {

std::optional<std::string> path_of_address(std::string_view address) {
    constexpr std::string_view scheme = "file://";
    if (!address.starts_with(scheme)) return std::nullopt;
    address.remove_prefix(scheme.size());
    if (address.starts_with("localhost/"))
        address.remove_prefix(std::string_view("localhost").size());
    if (!address.starts_with('/')) return std::nullopt;
    std::string path;
    while (!address.empty()) {
        if (address.front() != '%') {
            path += address.front();
            address.remove_prefix(1);
            continue;
        }
        unsigned byte = 0;
        const std::string_view digits = address.substr(1, 2);
        const auto [behind, error] =
            std::from_chars(digits.data(), digits.data() + digits.size(), byte, 16);
        if (error != std::errc() || digits.size() < 2 || behind != digits.data() + 2 || byte == 0)
            return std::nullopt;
        path += static_cast<char>(byte);
        address.remove_prefix(3);
    }
    return path;
}

std::string percent_encoded(std::string_view path) {
    constexpr std::string_view plain = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz"
                                       "0123456789-._~/";
    std::string encoded;
    for (const char c : path) {
        if (plain.find(c) != std::string_view::npos) {
            encoded += c;
        } else {
            encoded += fmt::format("%{:02X}", static_cast<unsigned>(static_cast<unsigned char>(c)));
        }
    }
    return encoded;
}

std::string address_of_path(std::string_view path) {
    return "file://" + percent_encoded(path);
}

} // namespace hestrel::source
