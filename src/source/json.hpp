#pragma once
// How the program writes JSON: keys in the order they were put in, one space a level.

#include <nlohmann/json.hpp>
#include <string>

namespace hestrel::source {

using Json = nlohmann::ordered_json;

/// The file's whole text. Throws nlohmann::json::type_error where a string is not UTF-8.
inline std::string file_text(const Json& json) {
    return json.dump(1) + "\n";
}

} // namespace hestrel::source
