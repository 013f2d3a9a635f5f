#pragma once
// Advice as values for `--set`, and as changed plan files.

#include "advise/edits.hpp"
#include "format/disk.hpp"
#include "format/overrides.hpp"
#include "format/plan_files.hpp"
#include "plan/plan.hpp"

#include <optional>
#include <string>
#include <vector>

namespace hestrel::format {

/// Says changes of a plan as values at paths of its files.
class Settings {
public:
    /// `plan` was read from `path`, with `tried` values. Throws FileError where a file can't be
    /// read again.
    Settings(Disk& disk, const plan::Plan& plan, const std::string& path,
             const std::vector<Override>& tried);

    /// In the order in which they are to be set. Nothing where no values can say it: of a level
    /// whose size comes from a table, or a path that a list of several files holds.
    [[nodiscard]] std::optional<std::vector<Override>>
    of(const std::vector<advise::Edit>& edits) const;

private:
    const plan::Plan& plan_;
    FilesAgain again_;
};

/// `triggers.quay-approach.box={min: …}`.
std::string assignment(const Override& setting);
/// The same, in quotes where a shell needs them.
std::string set_text(const Override& setting);
/// `--set … --set …`, for one command line.
std::string set_line(const std::vector<Override>& settings);

} // namespace hestrel::format
