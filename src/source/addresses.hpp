#pragma once
// Files as editors and build servers name them: `file:` addresses (RFC 8089) and paths.

#include <optional>
#include <string>
#include <string_view>

namespace hestrel::source {

/// The path of a `file:` address of this machine; nothing for any other.
std::optional<std::string> path_of_address(std::string_view address);
/// A path, or a part of one, as it stands in an address (RFC 3986): what is not plain is
/// percent-encoded.
std::string percent_encoded(std::string_view path);
/// The address of a path from the root on.
std::string address_of_path(std::string_view path);

} // namespace hestrel::source
