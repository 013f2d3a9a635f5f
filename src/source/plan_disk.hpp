#pragma once
// The disk as who reads or changes a plan sees it: changes to several files happen all or none.
//
// A change is written to a journal in the plan's folder first, old texts and new, then to the
// files; then the journal goes. Who finds a journal finishes what it says, at a kill or a power cut
// at whatever moment (docs/promises.md).

#include "source/disk.hpp"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::source {

class PlanDisk final : public DiskOver {
public:
    /// Finishes a change that was cut off. Where that may not be done, or another process is
    /// changing the plan, the plan is read as it was before. Throws FileError where a journal is
    /// none of this plan's, or where files have been changed by somebody else since.
    PlanDisk(Disk& real, const std::string& plan);

    /// One line on what was found to be cut off; empty where nothing was.
    [[nodiscard]] const std::string& said() const { return said_; }

    /// Changes files of the plan, path and new text, all or none; one that is not there is made.
    /// Throws FileError where another process is changing the plan, where a file is not what was
    /// read from here, and where one can't be written.
    void change(const std::vector<std::pair<std::string, std::string>>& texts);

    std::string read(const std::string& path) override;
    std::vector<std::string> matching(const std::string& pattern) override;

private:
    struct FileChange {
        std::string path;
        std::optional<std::string> before; ///< unset: a new file
        std::string after;
    };

    void mend();
    /// Those whose files still are as before. Throws FileError where one is neither that nor new.
    [[nodiscard]] std::vector<std::pair<std::string, std::string>>
    left_to_do(const std::vector<FileChange>& changes);
    void require_of_this_plan(const std::vector<FileChange>& changes);
    bool becomes_part(const std::vector<FileChange>& changes, const std::string& path);
    void read_as_before(const std::vector<FileChange>& changes);
    [[nodiscard]] std::vector<FileChange> read_journal();
    /// What a file says now; unset where it is not there.
    [[nodiscard]] std::optional<std::string> now(const std::string& path);
    [[nodiscard]] std::string journal_text(const std::vector<FileChange>& changes) const;

    std::string plan_;
    std::string folder_;
    std::string journal_;
    std::string said_;
    std::map<std::string, std::optional<std::string>>
        before_; ///< by whole path: read instead of the file; unset: not there yet
    std::map<std::string, std::string> seen_; ///< by whole path: as it was read first
};

} // namespace hestrel::source
