#pragma once
// Messages of the Language Server Protocol 3.17 as bytes: a header with the length, then JSON.
//
//   Content-Length: 52\r\n
//   \r\n
//   {"jsonrpc": "2.0", "method": "initialized", "params": {}}

#include "source/json.hpp"

#include <cstddef>
#include <optional>
#include <stdexcept>
#include <string>
#include <string_view>

namespace hestrel::serve {

/// Bytes that are no message: whoever speaks does not speak this protocol, and what follows can't
/// be told apart any more.
class ProtocolError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// Cuts what comes in, in pieces of any size, into messages.
class MessageReader {
public:
    /// No message may be longer, in bytes.
    static constexpr std::size_t longest = std::size_t{256} << 20;

    void add(std::string_view bytes) { bytes_ += bytes; }
    /// The text of the next message; nothing while it is not whole. Throws ProtocolError.
    std::optional<std::string> next();
    /// Whether something has begun that is no whole message.
    [[nodiscard]] bool has_rest() const { return !bytes_.empty(); }

private:
    std::string bytes_;
};

/// JSON as it goes out: what is no UTF-8 in it is replaced.
std::string text_of(const source::Json& json);
/// A message as it goes out.
std::string framed(std::string_view text);

} // namespace hestrel::serve
