#pragma once
// Files, behind an interface so that tests need none. A file appears whole or not at all.

#include <filesystem>
#include <map>
#include <memory>
#include <stdexcept>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::source {

/// A file or folder that could not be read or written; `what()` names it and says why.
class FileError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// A path from the root on, without detours, as its name says: links are not followed. Of "" the
/// folder that the program runs in.
std::filesystem::path whole(const std::filesystem::path& path);
/// Whether a file is in a folder or below it, as their names say.
bool lies_below(const std::filesystem::path& folder, const std::filesystem::path& file);

/// A folder that is held against others who change files in it, or a file; free again when this
/// goes.
class Held {
public:
    Held() = default;
    Held(const Held&) = delete;
    Held& operator=(const Held&) = delete;
    virtual ~Held() = default;
};

/// Where files are read from and written to. Everything throws FileError when it cannot.
class Disk {
public:
    Disk() = default;
    Disk(const Disk&) = delete;
    Disk& operator=(const Disk&) = delete;
    virtual ~Disk() = default;

    /// No more than a gigabyte.
    virtual std::string read(const std::string& path) = 0;
    /// The files that a pattern with `*` and `?` matches, sorted; none where nothing does.
    virtual std::vector<std::string> matching(const std::string& pattern) = 0;
    /// Writes beside `path` and renames, making the folders on the way: what was there before stays
    /// until the new file is whole. A symbolic link stays, and what it leads to is replaced; what
    /// is no file (a device, a pipe) is written to.
    virtual void write(const std::string& path, const std::string& text) = 0;
    /// Several files, path and text: none appears before all have been written beside.
    virtual void write_all(const std::vector<std::pair<std::string, std::string>>& texts) = 0;
    /// A file that is not there is no error.
    virtual void remove(const std::string& path) = 0;
    /// Adds to the end of a file, which is made with its folder where it is not there. Waits for
    /// who holds it. A symbolic link is refused.
    virtual void append(const std::string& path, const std::string& text) = 0;
    /// Nothing where another process holds the file or folder.
    virtual std::unique_ptr<Held> hold(const std::string& path) = 0;
    [[nodiscard]] virtual bool exists(const std::string& path) const = 0;
    /// Whether a file is there, or a link leads to one: no folder, device or pipe.
    [[nodiscard]] virtual bool is_file(const std::string& path) const = 0;
};

/// The machine's own disk.
class RealDisk final : public Disk {
public:
    std::string read(const std::string& path) override;
    std::vector<std::string> matching(const std::string& pattern) override;
    void write(const std::string& path, const std::string& text) override {
        write_all({{path, text}});
    }
    void write_all(const std::vector<std::pair<std::string, std::string>>& texts) override;
    void remove(const std::string& path) override;
    void append(const std::string& path, const std::string& text) override;
    std::unique_ptr<Held> hold(const std::string& path) override;
    [[nodiscard]] bool exists(const std::string& path) const override;
    [[nodiscard]] bool is_file(const std::string& path) const override;
};

/// Whether a path is one of those that a pattern with `*` and `?` names.
bool matches(const std::string& pattern, const std::string& path);

/// Files in memory, for tests and benchmarks.
class MemoryDisk final : public Disk {
public:
    std::string read(const std::string& path) override;
    std::vector<std::string> matching(const std::string& pattern) override;
    void write(const std::string& path, const std::string& text) override { files[path] = text; }
    void write_all(const std::vector<std::pair<std::string, std::string>>& texts) override {
        for (const auto& [path, text] : texts) write(path, text);
    }
    void remove(const std::string& path) override { files.erase(path); }
    void append(const std::string& path, const std::string& text) override { files[path] += text; }
    std::unique_ptr<Held> hold(const std::string&) override { return std::make_unique<Held>(); }
    [[nodiscard]] bool exists(const std::string& path) const override {
        return files.contains(path);
    }
    [[nodiscard]] bool is_file(const std::string& path) const override { return exists(path); }

    std::map<std::string, std::string> files;
};

/// A disk that hands on to another what it does not do by itself.
class DiskOver : public Disk {
public:
    /// `below` outlives it.
    explicit DiskOver(Disk& below) : below_(below) {}

    std::string read(const std::string& path) override { return below_.read(path); }
    std::vector<std::string> matching(const std::string& pattern) override {
        return below_.matching(pattern);
    }
    void write(const std::string& path, const std::string& text) override {
        below_.write(path, text);
    }
    void write_all(const std::vector<std::pair<std::string, std::string>>& texts) override {
        below_.write_all(texts);
    }
    void remove(const std::string& path) override { below_.remove(path); }
    void append(const std::string& path, const std::string& text) override {
        below_.append(path, text);
    }
    std::unique_ptr<Held> hold(const std::string& path) override { return below_.hold(path); }
    [[nodiscard]] bool exists(const std::string& path) const override {
        return below_.exists(path);
    }
    [[nodiscard]] bool is_file(const std::string& path) const override {
        return below_.is_file(path);
    }

protected:
    [[nodiscard]] Disk& below() const { return below_; }

private:
    Disk& below_;
};

/// Files as they would be: what has been changed, and the rest from the disk. Writes nothing.
class ChangedDisk final : public DiskOver {
public:
    ChangedDisk(Disk& real, const std::vector<std::pair<std::string, std::string>>& changed)
        : DiskOver(real), changed_(changed.begin(), changed.end()) {}

    std::string read(const std::string& path) override {
        const auto found = changed_.find(path);
        return found == changed_.end() ? below().read(path) : found->second;
    }
    std::vector<std::string> matching(const std::string& pattern) override;
    [[nodiscard]] bool exists(const std::string& path) const override {
        return changed_.contains(path) || below().exists(path);
    }
    void write(const std::string&, const std::string&) override {}
    void write_all(const std::vector<std::pair<std::string, std::string>>&) override {}
    void append(const std::string&, const std::string&) override {}
    void remove(const std::string&) override {}

private:
    std::map<std::string, std::string> changed_;
};

} // namespace hestrel::source
