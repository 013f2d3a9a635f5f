#pragma once
// All that a plan says, as one JSON object, and what differs between two of them.

#include "source/disk.hpp"
#include "source/json.hpp"
#include "source/overrides.hpp"

#include <string>
#include <vector>

namespace hestrel::source {

/// What the files of a plan say together, values tried by `--set` among it: mappings of several
/// files are one, lists one after the other. Measured sizes stand under `sizes`, row by row. Throws
/// FileError where a file can't be read.
Json plan_content(Disk& disk, const std::string& path, const std::vector<Override>& tried);

/// One place at which two plans differ.
struct PlanChange {
    std::string path;   ///< "levels.quay.packed"
    std::string before; ///< one line of YAML; empty: not there
    std::string after;
    bool operator==(const PlanChange&) const = default;
};

/// In the order of `after`, then what is only in `before`. Of lists that are not as long as they
/// were, what has come and gone.
std::vector<PlanChange> plan_changes(const Json& before, const Json& after);

} // namespace hestrel::source
