#include "source/flow_yaml.hpp"

#include "source/json.hpp"

#include <algorithm>

namespace hestrel::source {

namespace {

/// Whether a text is the same when it stands without quotes inside brackets.
bool stands_plain(std::string_view text) {
    constexpr std::string_view inside = " _-./+<>=%()";
    if (text.empty() || text.front() == ' ' || text.back() == ' ') return false;
    const bool harmless = std::all_of(text.begin(), text.end(), [&](char c) {
        const bool letter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
        return letter || (c >= '0' && c <= '9') || inside.find(c) != std::string_view::npos;
    });
    if (!harmless) return false;
    // What begins with one of these means something else, unless a number or name follows.
    constexpr std::string_view leading = "-<>=%";
    return leading.find(text.front()) == std::string_view::npos ||
           (text.front() == '-' && text.size() > 1 && text[1] != ' ' && text[1] != '-');
}

std::string quoted(std::string_view text) {
    return Json(std::string(text)).dump(); // JSON's strings are YAML's in double quotes
}

} // namespace

std::string scalar_yaml(std::string_view text) {
    return stands_plain(text) ? std::string(text) : quoted(text);
}

std::string flow_yaml(const Value& value) {
    switch (value.kind()) {
    case Value::Kind::none: return "null";
    case Value::Kind::scalar:
        if (value.is_null()) return "null";
        return value.is_plain() && stands_plain(value.text()) ? std::string(value.text())
                                                              : quoted(value.text());
    case Value::Kind::sequence: {
        std::string text;
        for (const Value& each : value.elements())
            text += (text.empty() ? "" : ", ") + flow_yaml(each);
        return "[" + text + "]";
    }
    case Value::Kind::mapping: {
        std::string text;
        for (const auto& [key, entry] : value.entries()) {
            text += (text.empty() ? "" : ", ") + flow_yaml(key) + ": " + flow_yaml(entry);
        }
        return "{" + text + "}";
    }
    }
    return {};
}

} // namespace hestrel::source
