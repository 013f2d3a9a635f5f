#pragma once
// Which libraries the program was built with, for `--version`.

#include <string>

namespace hestrel::source {

/// "GCC 12.2.0; Boost 1.74.0, fmt 9.1.0, …".
std::string built_with();

} // namespace hestrel::source
