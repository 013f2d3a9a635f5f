#pragma once
// How the program writes JSON: keys in the order they were put in, one space a level.

#include <nlohmann/json.hpp>
#include <string>

namespace hestrel::source {

using Json = nlohmann::ordered_json;

/// The file's whole text. A byte that is not UTF-8, as a file's name may have, becomes U+FFFD.
inline std::string file_text(const Json& json) {
    return json.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

} // namespace hestrel::source
