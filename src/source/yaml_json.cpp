#include "source/yaml_json.hpp"

#include "source/json.hpp"
#include "source/quantities.hpp"

#include <cmath>
#include <string>

namespace hestrel::source {

namespace {

Json scalar_as_json(const Value& value) {
    const std::string text(value.text());
    if (!value.is_plain()) return text;
    if (value.is_null()) return nullptr;
    if (text == "true" || text == "false") return text == "true";
    const Parsed<double> number = parse_number(text);
    if (const auto* parsed = std::get_if<double>(&number)) {
        constexpr double exact = 9e15; // whole numbers up to here are exact
        if (*parsed == std::floor(*parsed) && std::abs(*parsed) < exact)
            return static_cast<std::int64_t>(*parsed);
        return *parsed;
    }
    return text;
}

} // namespace

Json yaml_as_json(const Value& value) {
    switch (value.kind()) {
    case Value::Kind::none: return nullptr;
    case Value::Kind::scalar: return scalar_as_json(value);
    case Value::Kind::sequence: {
        Json list = Json::array();
        for (const Value& each : value.elements()) list.push_back(yaml_as_json(each));
        return list;
    }
    case Value::Kind::mapping: {
        Json mapping = Json::object();
        for (const auto& [key, entry] : value.entries())
            mapping[std::string(key.text())] = yaml_as_json(entry);
        return mapping;
    }
    }
    return nullptr;
}

} // namespace hestrel::source
