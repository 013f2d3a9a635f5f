#pragma once
// What the editor shows of the name or key below the pointer.

#include "serve/workspace.hpp"

namespace hestrel::serve {

/// For `textDocument/hover`: the card of a thing, in short, or what a key means; null for anything
/// else. `names`: the plan from which names are taken; null where none is known.
source::Json hover_json(const Document& document, const std::string& path, std::size_t offset,
                        const PlanRead* names);

} // namespace hestrel::serve
