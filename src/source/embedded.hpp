#pragma once
// Files that are part of the program, so that it needs no installed ones.

#include <string>

namespace hestrel::source {

struct EmbeddedFile {
    std::string name; ///< without folders
    std::string text;
};

} // namespace hestrel::source
