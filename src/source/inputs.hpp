#pragma once
// What a command has read, so that none of its results takes the place of that.

#include "source/disk.hpp"

#include <filesystem>
#include <map>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::source {

/// Files that were read, and patterns by which a plan includes files.
class Inputs {
public:
    /// From now on it is noted what is in files that are read, for `fingerprint`.
    void note_contents() { notes_contents_ = true; }
    void add_file(const std::string& path, std::string_view text);
    void add_pattern(const std::string& pattern);
    /// Throws FileError where a result there would take the place of what was read, or would be
    /// read as a part of the plan from then on.
    void require_free(const std::string& path) const;

    /// The same for two runs that have read the same in files that stand in the same order, since
    /// `note_contents`.
    [[nodiscard]] std::string fingerprint() const;

private:
    bool notes_contents_ = false;
    std::map<std::filesystem::path, std::string> files_; ///< by place, SHA-256 where it is noted
    std::set<std::string> patterns_;
};

/// A disk that notes what is read from it.
class NotingDisk final : public DiskOver {
public:
    /// Both outlive it.
    NotingDisk(Disk& below, Inputs& inputs) : DiskOver(below), inputs_(inputs) {}

    std::string read(const std::string& path) override {
        std::string text = below().read(path);
        inputs_.add_file(path, text);
        return text;
    }
    std::vector<std::string> matching(const std::string& pattern) override {
        inputs_.add_pattern(pattern);
        return below().matching(pattern);
    }

private:
    Inputs& inputs_;
};

} // namespace hestrel::source
