#pragma once
// The report of walks that were made already, for commands that made them.

#include "command/options.hpp"
#include "walk/record.hpp"

#include <string>
#include <utility>
#include <vector>

namespace hestrel::command {

/// What was run, as the page says it: label, value.
using Ran = std::vector<std::pair<std::string, std::string>>;

/// Writes the page to `file`. Where a figure can't be drawn the page is written without any, says
/// why, and DrawingError is thrown after that.
void write_report(const plan::Plan& plan, const std::vector<walk::Record>& records, Ran ran,
                  const std::string& file, bool figures, unsigned jobs);

} // namespace hestrel::command
