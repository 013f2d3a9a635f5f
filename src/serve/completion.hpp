#pragma once
// What could stand at the cursor: keys of the table, names of what fits there, words.

#include "serve/cursor.hpp"
#include "serve/workspace.hpp"

namespace hestrel::serve {

/// The list of items for `textDocument/completion`. `names`: the plan from which names are taken;
/// null where none is known.
source::Json completion_json(const Document& document, std::size_t offset, const PlanRead* names);

} // namespace hestrel::serve
