#pragma once
// Where in a plan an editor's cursor is, while the text around it is being written and is no YAML
// as it stands.
//
//     levels:
//       quay:
//         kits: [brass-fittings, gl|        a value at levels.quay.kits.1
//         ne|                               a key at levels.quay
//
// What stands before the cursor is read with a made-up word in the place of the one that is typed,
// and with the brackets closed that are open there; first as a value, then as a key.

#include "serve/document.hpp"
#include "source/source_text.hpp"
#include "source/yaml_tree.hpp"

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::serve {

struct Cursor {
    std::vector<std::string> path; ///< of the value that is typed, or of the key's mapping
    bool is_key = false;
    Stretch word;       ///< the word that is typed, all of it
    std::string before; ///< what stands before that word in the same value
    /// The keys that stand before it in the same mapping, with those of their values that are
    /// scalars.
    std::vector<std::pair<std::string, std::string>> beside;
    std::shared_ptr<source::YamlTree> tree; ///< of what stands before
};

/// Nothing in a comment, and where no YAML can be made of what stands before.
std::optional<Cursor> cursor_at(std::string_view text, std::size_t offset);

/// The path of the key or value of a tree that covers a byte of its text, with whether it is a
/// key, whose own name is then the last of the path; nothing where none does.
struct Covered {
    std::vector<std::string> path;
    bool is_key = false;
    Stretch word;
};
std::optional<Covered> covered_at(const source::YamlTree& tree, const source::SourceText& lines,
                                  std::size_t offset);

/// The word around a byte: of a name, with the dots in it.
Stretch word_at(std::string_view text, std::size_t offset);

} // namespace hestrel::serve
