#pragma once
// Files, behind an interface so that tests need none. A file appears whole or not at all.

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

/// A folder that is held against others who change files in it; free again when this goes.
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
    /// Nothing where another process holds the folder.
    virtual std::unique_ptr<Held> hold(const std::string& folder) = 0;
    [[nodiscard]] virtual bool exists(const std::string& path) const = 0;
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
    std::unique_ptr<Held> hold(const std::string& folder) override;
    [[nodiscard]] bool exists(const std::string& path) const override;
};

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
    std::unique_ptr<Held> hold(const std::string&) override { return std::make_unique<Held>(); }
    [[nodiscard]] bool exists(const std::string& path) const override {
        return files.contains(path);
    }

    std::map<std::string, std::string> files;
};

/// Files as they would be: what has been changed, and the rest from the disk. Writes nothing.
class ChangedDisk final : public Disk {
public:
    ChangedDisk(Disk& real, const std::vector<std::pair<std::string, std::string>>& changed)
        : real_(real), changed_(changed.begin(), changed.end()) {}

    std::string read(const std::string& path) override {
        const auto found = changed_.find(path);
        return found == changed_.end() ? real_.read(path) : found->second;
    }
    std::vector<std::string> matching(const std::string& pattern) override {
        return real_.matching(pattern);
    }
    void write(const std::string&, const std::string&) override {}
    void write_all(const std::vector<std::pair<std::string, std::string>>&) override {}
    void remove(const std::string&) override {}
    std::unique_ptr<Held> hold(const std::string&) override { return std::make_unique<Held>(); }
    [[nodiscard]] bool exists(const std::string& path) const override { return real_.exists(path); }

private:
    Disk& real_;
    std::map<std::string, std::string> changed_;
};

} // namespace hestrel::source
