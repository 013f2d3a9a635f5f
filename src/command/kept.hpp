#pragma once
// What exploring keeps on the disk: what has no room in memory, and whole layers to go on from.

#include "command/options.hpp"
#include "command/output.hpp"
#include "explore/explorer.hpp"

#include <string>

namespace hestrel::command {

/// Both, where and as the command line says.
class Keeping {
public:
    /// All inputs have been read. `call` outlives it, and what it is added to.
    Keeping(const Call& call, Output& output);

    /// To the options of exploring one edition. `name` tells its folder from those of others.
    void add_to(explore::Options& exploring, const std::string& name) const;
    /// For what has no room in memory.
    [[nodiscard]] const std::string& folder() const { return folder_; }

private:
    const Call* call_;
    std::string folder_;
    std::string inputs_; ///< what was read, as a fingerprint; only where layers are kept
};

} // namespace hestrel::command
