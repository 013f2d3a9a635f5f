#pragma once
// Example plans and pages, part of the program so that `demo`, `new` and `help` need no installed
// files.

#include "source/embedded.hpp"

#include <vector>

namespace hestrel::command {

/// Glasswater Post, file by file.
const std::vector<source::EmbeddedFile>& embedded_examples();
/// The plan that `new` writes.
const std::vector<source::EmbeddedFile>& embedded_starters();
/// What `new --levels` writes, as templates: of a level's file, then of the plan's.
const std::vector<source::EmbeddedFile>& embedded_level_starters();

/// The pages of docs/, the one that lists them first.
const std::vector<source::EmbeddedFile>& embedded_pages();

} // namespace hestrel::command
