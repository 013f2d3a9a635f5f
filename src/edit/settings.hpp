#pragma once
// Advice as values for `--set`, and as changed plan files.

#include "advise/edits.hpp"
#include "plan/plan.hpp"
#include "source/disk.hpp"
#include "source/overrides.hpp"
#include "source/plan_files.hpp"

#include <optional>
#include <string>
#include <vector>

namespace hestrel::edit {

/// Says changes of a plan as values at paths of its files.
class Settings {
public:
    /// `plan` was read from `path`, with `tried` values. Throws FileError where a file can't be
    /// read again.
    Settings(source::Disk& disk, const plan::Plan& plan, const std::string& path,
             const std::vector<source::Override>& tried);

    /// In the order in which they are to be set. Nothing where no values can say it: of a level
    /// whose size comes from a table, or a path that a list of several files holds.
    [[nodiscard]] std::optional<std::vector<source::Override>>
    of(const std::vector<advise::Edit>& edits) const;

private:
    const plan::Plan& plan_;
    source::FilesAgain again_;
};

/// `triggers.quay-approach.box={min: …}`.
std::string assignment(const source::Override& setting);
/// The same, in quotes where a shell needs them.
std::string set_text(const source::Override& setting);
/// `--set … --set …`, for one command line.
std::string set_line(const std::vector<source::Override>& settings);

} // namespace hestrel::edit
