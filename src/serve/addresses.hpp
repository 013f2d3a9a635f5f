#pragma once
// Files as an editor names them: `file:` addresses (RFC 8089) and paths.

#include <optional>
#include <string>
#include <string_view>

namespace hestrel::serve {

/// The path of a `file:` address of this machine; nothing for any other.
std::optional<std::string> path_of_address(std::string_view address);
/// The address of a path from the root on.
std::string address_of_path(std::string_view path);

} // namespace hestrel::serve
