#pragma once
// Manual pages (man, section 1) from the same texts as `--help`.

#include "command/commands.hpp"

#include <string>

namespace hestrel::manual {

/// "hestrel-walk.1": the page of a command, as roff.
std::string man_page(const command::Command& command, const std::string& version);
/// "hestrel.1": all commands, a line each, and exit codes.
std::string overview_page(const std::string& version);
/// "hestrel-mpi.1": what several processes do together.
std::string mpi_page(const std::string& version);

} // namespace hestrel::manual
