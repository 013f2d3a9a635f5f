#pragma once
// Ways that exploring found, written as routes for `hestrel walk`.

#include "command/output.hpp"
#include "explore/explorer.hpp"

#include <map>
#include <string>

namespace hestrel::command {

class Witnesses {
public:
    /// Files in `folder`, each of which includes the plan; none where it is empty.
    Witnesses(std::string folder, const std::string& plan_path, Output& output);

    /// Writes a way to `what` (`over-budget`), with a comment on it. Returns the file's path; empty
    /// where none is written.
    std::string write(const explore::Explorer& explorer, const explore::Way& way,
                      const std::string& what, const std::string& about);

private:
    std::string folder_;
    std::string include_;
    Output& output_;
    std::map<std::string, int> numbers_; ///< by name without it
};

} // namespace hestrel::command
