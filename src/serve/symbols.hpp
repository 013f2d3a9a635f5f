#pragma once
// What a file defines, as an editor's outline.

#include "serve/workspace.hpp"

#include <cstdint>
#include <string>

namespace hestrel::serve {

/// For `textDocument/documentSymbol`: what is defined in a file, what stands inside a level below
/// that level. The text of JSON: of ten thousand levels it has nine million characters.
std::string symbols_text(const PlanRead& read, std::uint32_t file);

} // namespace hestrel::serve
