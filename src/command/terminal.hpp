#pragma once
// What people read on the terminal.

#include "tables/text_table.hpp"

#include <cstdio>
#include <string>
#include <string_view>

namespace hestrel::command {

using tables::cells;
using tables::text_columns;
using tables::TextTable;

/// Text broken at blanks into lines of no more than so many cells, each line indented.
std::string wrapped(std::string_view text, std::size_t width, std::string_view indent);

/// Whether what goes to `stream` is read by a person.
bool on_terminal(std::FILE* stream);

} // namespace hestrel::command
