#pragma once
// The example plan, part of the program so that `hestrel demo` needs no installed files.

#include <string>
#include <vector>

namespace hestrel::command {

struct EmbeddedFile {
    std::string name; ///< without folders
    std::string text;
};

const std::vector<EmbeddedFile>& embedded_examples();

} // namespace hestrel::command
