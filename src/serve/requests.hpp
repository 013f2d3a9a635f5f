#pragma once
// What is inside of messages of the Language Server Protocol: their parts, and refusals.

#include "source/addresses.hpp"
#include "source/disk.hpp"
#include "source/json.hpp"

#include <initializer_list>
#include <stdexcept>
#include <string>

namespace hestrel::serve {

/// What the protocol calls an error (JSON-RPC 2.0, section 5.1).
class Refused : public std::runtime_error {
public:
    Refused(int number, const std::string& message) : std::runtime_error(message), code(number) {}
    int code;
};
constexpr int parse_error = -32700;
constexpr int invalid_request = -32600;
constexpr int method_not_found = -32601;
constexpr int invalid_params = -32602;
constexpr int internal_error = -32603;
constexpr int not_initialized = -32002;
constexpr int request_failed = -32803;

/// A part of a message; null where it is not there.
inline const source::Json& part(const source::Json& json, std::initializer_list<const char*> keys) {
    static const source::Json nothing;
    const source::Json* at = &json;
    for (const char* key : keys) {
        if (!at->is_object()) return nothing;
        const auto found = at->find(key);
        if (found == at->end()) return nothing;
        at = &*found;
    }
    return *at;
}

/// Empty where it is no text.
inline std::string text_in(const source::Json& json) {
    return json.is_string() ? json.get<std::string>() : std::string();
}

/// The file or folder that an address names; empty where it names none.
inline std::string path_of(const source::Json& address) {
    const auto path = source::path_of_address(text_in(address));
    return path ? source::whole(*path).string() : std::string();
}

/// The file that a request is about; empty where it names none.
inline std::string path_in(const source::Json& params) {
    return path_of(part(params, {"textDocument", "uri"}));
}

} // namespace hestrel::serve
