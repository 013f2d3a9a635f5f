#pragma once
// Completion for shells, from the table of commands and their options. Names of routes, devices,
// editions and levels come from the plan on the command line.

#include <string>

namespace hestrel::manual {

std::string bash_completion();
std::string zsh_completion();
std::string fish_completion();

} // namespace hestrel::manual
