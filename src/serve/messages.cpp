#include "serve/messages.hpp"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>

namespace hestrel::serve {

namespace {

/// The length that a header says. Other fields (`Content-Type`) say nothing that matters here.
std::size_t length_in(std::string_view header) {
    std::optional<std::size_t> length;
    while (!header.empty()) {
        const std::size_t end = std::min(header.find("\r\n"), header.size());
        const std::string_view line = header.substr(0, end);
        header.remove_prefix(std::min(end + 2, header.size()));
        const std::size_t colon = line.find(':');
        if (colon == std::string_view::npos)
            throw ProtocolError(fmt::format("a header line without a colon: \"{}\"", line));
        std::string name(line.substr(0, colon));
        std::transform(name.begin(), name.end(), name.begin(),
                       [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
        if (name != "content-length") continue;
        std::string_view digits = line.substr(colon + 1);
        digits.remove_prefix(std::min(digits.find_first_not_of(' '), digits.size()));
        std::size_t value = 0;
        const auto [behind, error] =
            std::from_chars(digits.data(), digits.data() + digits.size(), value);
        if (error != std::errc() || behind != digits.data() + digits.size() ||
            value > MessageReader::longest)
            throw ProtocolError(fmt::format("\"{}\" is no length of a message", digits));
        length = value;
    }
    if (!length) throw ProtocolError("a header without Content-Length");
    return *length;
}

} // namespace

std::optional<std::string> MessageReader::next() {
    constexpr std::size_t longest_header = 4096;
    const std::size_t end = bytes_.find("\r\n\r\n");
    if (end > longest_header && bytes_.size() > longest_header)
        throw ProtocolError("what comes in has no header of a message");
    if (end == std::string::npos) return std::nullopt;
    const std::size_t begins = end + 4;
    const std::size_t length = length_in(std::string_view(bytes_).substr(0, end));
    if (bytes_.size() - begins < length) return std::nullopt;
    std::string text = bytes_.substr(begins, length);
    bytes_.erase(0, begins + length);
    return text;
}

std::string text_of(const source::Json& json) {
    return json.dump(-1, ' ', false, source::Json::error_handler_t::replace);
}

std::string framed(std::string_view text) {
    return fmt::format("Content-Length: {}\r\n\r\n{}", text.size(), text);
}

} // namespace hestrel::serve
