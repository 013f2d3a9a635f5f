#pragma once
// Example plans, part of the program so that `demo` and `new` need no installed files.

#include <string>
#include <vector>

namespace hestrel::command {

struct EmbeddedFile {
    std::string name; ///< without folders
    std::string text;
};

/// Glasswater Post, file by file.
const std::vector<EmbeddedFile>& embedded_examples();
/// The plan that `new` writes.
const std::vector<EmbeddedFile>& embedded_starters();

} // namespace hestrel::command
