#include "source/yaml_writer.hpp"

#include "plan/names.hpp"
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
        std::vector<std::string> elements;
        for (const Value& each : value.elements()) elements.push_back(flow_yaml(each));
        return flow_list(elements);
    }
    case Value::Kind::mapping: {
        FlowMap map;
        for (const auto& [key, entry] : value.entries()) map.add(flow_yaml(key), flow_yaml(entry));
        return map.text();
    }
    }
    return {};
}

std::string flow_yaml(const Json& value) {
    if (value.is_string()) return scalar_yaml(value.get<std::string>());
    if (value.is_array()) {
        std::vector<std::string> elements;
        for (const Json& each : value) elements.push_back(flow_yaml(each));
        return flow_list(elements);
    }
    if (value.is_object()) {
        FlowMap map;
        for (const auto& [key, each] : value.items()) map.add(scalar_yaml(key), flow_yaml(each));
        return map.text();
    }
    return value.dump();
}

std::string flow_list(const std::vector<std::string>& elements) {
    return "[" + plan::joined(elements) + "]";
}

FlowMap& FlowMap::add(std::string_view key, std::string_view value) {
    if (!entries_.empty()) entries_ += ", ";
    entries_.append(key).append(": ").append(value);
    return *this;
}

void BlockYaml::line(std::string_view text) {
    text_.append(2 * depth_, ' ').append(text).append("\n");
}

void BlockYaml::comment(std::string_view text) {
    text_.append("# ").append(text).append("\n");
}

void BlockYaml::entry(std::string_view key, std::string_view value) {
    line(std::string(key) + ": " + std::string(value));
}

void BlockYaml::element(std::string_view value) {
    line("- " + std::string(value));
}

void BlockYaml::begin(std::string_view key) {
    line(std::string(key) + ":");
    ++depth_;
}

} // namespace hestrel::source
