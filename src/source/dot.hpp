#pragma once
// Texts in DOT, Graphviz' language of graphs.

#include <cstdint>
#include <string>
#include <string_view>

namespace hestrel::source {

/// A text as a DOT string literal: nothing in it is taken for an escape, an entity or an end. Line
/// breaks begin a new line; lines are centred, or begin at the left.
enum class Lines : std::uint8_t { centred, left };
std::string dot_string(std::string_view text, Lines lines = Lines::centred);
/// The same of what is no label: it has no entities, and stands on one line.
std::string dot_data(std::string_view text);

} // namespace hestrel::source
