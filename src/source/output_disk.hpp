#pragma once
// The disk as results see it: they take the place of nothing that was read, and of nothing that
// Hestrel did not write (docs/promises.md).

#include "source/disk.hpp"
#include "source/inputs.hpp"

#include <map>
#include <mutex>
#include <set>
#include <string>
#include <string_view>

namespace hestrel::source {

/// The names of files in a folder of results, and what was in them: in `.hestrel-written`, in the
/// form that `sha256sum --check` reads.
class WrittenFiles {
public:
    WrittenFiles(Disk& disk, std::string folder);

    /// Whether Hestrel wrote that text under that name.
    [[nodiscard]] bool has(const std::string& name, std::string_view text);
    /// That it is going to. One who is killed has done so or not: both texts are known then.
    void add(const std::string& name, std::string_view text);
    /// All that was added is written: the list in order of names, each with its last text.
    void settle();

private:
    void read();

    Disk& disk_;
    std::string folder_;
    std::string list_;
    std::map<std::string, std::set<std::string>> known_; ///< by name, SHA-256
    std::map<std::string, std::string> added_;
};

class OutputDisk {
public:
    /// `disk` outlives it. `force`: what Hestrel did not write is replaced too; never what was
    /// read.
    OutputDisk(Disk& disk, bool force) : disk_(disk), force_(force) {}
    OutputDisk(const OutputDisk&) = delete;
    OutputDisk& operator=(const OutputDisk&) = delete;
    ~OutputDisk();

    [[nodiscard]] Inputs& inputs() { return inputs_; }

    /// A file in a folder of results. Throws FileError where another file has its place. Can be
    /// called from several threads.
    void write_in(const std::string& folder, const std::string& name, const std::string& text);
    /// Throws FileError where `write_alone` would, before there is work to lose.
    void require_alone(const std::string& path, bool is_known = false);
    /// A single file, whose first line has `own_mark` (own_mark.hpp). Throws FileError as above.
    /// `is_known`: it was read as one of ours before.
    void write_alone(const std::string& path, const std::string& text, bool is_known = false);

private:
    void require_free(const std::string& path) const;

    Disk& disk_;
    bool force_;
    Inputs inputs_;
    std::mutex mutex_;
    std::map<std::string, WrittenFiles> written_; ///< by folder
};

} // namespace hestrel::source
