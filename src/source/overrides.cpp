#include "source/overrides.hpp"

#include <fmt/format.h>
#include <stdexcept>

namespace hestrel::source {

Override parse_override(const std::string& text) {
    const std::size_t equals = text.find('=');
    if (equals == std::string::npos || equals == 0) {
        throw std::invalid_argument(fmt::format(
            "--set takes path=value, such as devices.handheld.read.rate=60, not \"{}\"", text));
    }
    Override made;
    made.value = text.substr(equals + 1);
    std::string key;
    for (const char c : text.substr(0, equals) + '.') {
        if (c != '.') {
            key += c;
        } else if (key.empty()) {
            throw std::invalid_argument(fmt::format("--set {}: the path has an empty part", text));
        } else {
            made.path.push_back(std::move(key));
            key.clear();
        }
    }
    return made;
}

} // namespace hestrel::source
