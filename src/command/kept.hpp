#pragma once
// What exploring keeps on the disk: what has no room in memory, and whole layers to go on from.

#include "command/options.hpp"
#include "command/output.hpp"
#include "explore/explorer.hpp"

#include <string>

namespace hestrel::command {

/// The folder for what has no room in memory.
std::string folder_outside(const Call& call);

/// Adds both to the options of exploring one edition, where and as the command line says. `name`
/// tells its folder from those of others.
void keep_on_disk(const Call& call, Output& output, const std::string& name,
                  explore::Options& exploring);

} // namespace hestrel::command
