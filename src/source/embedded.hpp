#pragma once
// Files that are part of the program, so that it needs no installed ones.

#include <initializer_list>
#include <string>
#include <string_view>

namespace hestrel::source {

struct EmbeddedFile {
    std::string name; ///< without folders
    std::string text;
};

/// A file's pieces, one after another.
inline std::string joined(std::initializer_list<std::string_view> pieces) {
    std::string text;
    for (const std::string_view piece : pieces) text += piece;
    return text;
}

} // namespace hestrel::source
