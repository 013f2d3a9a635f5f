#include "source/disk.hpp"

#include <algorithm>
#include <array>
#include <cerrno>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <fnmatch.h>
#include <glob.h>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>

namespace hestrel::source {

namespace {

[[noreturn]] void fail(const std::string& path, const char* doing, int error) {
    throw FileError(fmt::format("{}: {}: {}", path, doing, std::generic_category().message(error)));
}

/// Closes a file descriptor when it goes out of scope.
class Descriptor {
public:
    explicit Descriptor(int number) : number_(number) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    ~Descriptor() {
        if (number_ >= 0) ::close(number_);
    }
    [[nodiscard]] int number() const { return number_; }
    /// Closes now; the error number, or 0.
    int close() {
        const int result = ::close(number_);
        number_ = -1;
        return result == 0 ? 0 : errno;
    }

private:
    int number_;
};

/// Writes all of `text` and flushes it to the disk; the error number, or 0.
int write_all(int descriptor, const std::string& text) {
    std::size_t written = 0;
    while (written < text.size()) {
        const ssize_t count = ::write(descriptor, text.data() + written, text.size() - written);
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) return errno;
        written += static_cast<std::size_t>(count);
    }
    return ::fsync(descriptor) == 0 || errno == EINVAL ? 0 : errno;
}

/// A file written beside the one it is going to replace; gone again unless it appears.
class BesideFile {
public:
    BesideFile(const std::string& path, const std::string& text)
        : path_(path), beside_(fmt::format("{}.{}.part", path, ::getpid())) {
        const std::filesystem::path folder = std::filesystem::path(path).parent_path();
        std::error_code error;
        struct stat status {};
        const bool there = ::stat(path_.c_str(), &status) == 0;
        // A file that takes the place of a device or pipe would be the end of that.
        if (there && !S_ISREG(status.st_mode) && !S_ISDIR(status.st_mode))
            throw FileError(fmt::format("{}: cannot be written: it is no file", path_));
        if (!folder.empty()) std::filesystem::create_directories(folder, error);
        if (error) fail(folder.string(), "cannot be made", error.value());
        Descriptor file{::open(beside_.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666)};
        if (file.number() < 0) fail(path_, "cannot be written", errno);
        // What replaces a file may be read and written by whom that could.
        if (there) ::fchmod(file.number(), status.st_mode);
        int failed = write_all(file.number(), text);
        const int closed = file.close();
        if (failed == 0) failed = closed;
        if (failed == 0) return;
        ::unlink(beside_.c_str());
        fail(path_, "cannot be written", failed);
    }
    BesideFile(BesideFile&& other) noexcept
        : path_(std::move(other.path_)), beside_(std::exchange(other.beside_, {})) {}
    BesideFile(const BesideFile&) = delete;
    BesideFile& operator=(const BesideFile&) = delete;
    BesideFile& operator=(BesideFile&&) = delete;
    ~BesideFile() {
        if (!beside_.empty()) ::unlink(beside_.c_str());
    }

    void appear() {
        if (::rename(beside_.c_str(), path_.c_str()) != 0) fail(path_, "cannot be written", errno);
        beside_.clear();
    }

private:
    std::string path_;
    std::string beside_;
};

} // namespace

std::string RealDisk::read(const std::string& path) {
    Descriptor file{::open(path.c_str(), O_RDONLY | O_CLOEXEC)};
    if (file.number() < 0) fail(path, "cannot be read", errno);
    struct stat status {};
    if (::fstat(file.number(), &status) != 0) fail(path, "cannot be read", errno);
    if (S_ISDIR(status.st_mode)) fail(path, "cannot be read", EISDIR);
    std::string text;
    std::array<char, 65536> buffer{};
    while (true) {
        const ssize_t count = ::read(file.number(), buffer.data(), buffer.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) fail(path, "cannot be read", errno);
        if (count == 0) return text;
        text.append(buffer.data(), static_cast<std::size_t>(count));
    }
}

void RealDisk::write_all(const std::vector<std::pair<std::string, std::string>>& texts) {
    std::vector<BesideFile> beside;
    for (const auto& [path, text] : texts) beside.emplace_back(path, text);
    for (BesideFile& file : beside) file.appear();
}

bool RealDisk::exists(const std::string& path) const {
    std::error_code error;
    return std::filesystem::exists(std::filesystem::symlink_status(path, error));
}

std::string MemoryDisk::read(const std::string& path) {
    const auto found = files.find(path);
    if (found == files.end()) fail(path, "cannot be read", ENOENT);
    return found->second;
}

std::vector<std::string> RealDisk::matching(const std::string& pattern) {
    glob_t found{};
    std::vector<std::string> paths;
    if (::glob(pattern.c_str(), 0, nullptr, &found) == 0) {
        paths.assign(found.gl_pathv, found.gl_pathv + found.gl_pathc);
    }
    ::globfree(&found);
    std::sort(paths.begin(), paths.end()); // not by the language of the terminal
    return paths;
}

std::vector<std::string> MemoryDisk::matching(const std::string& pattern) {
    std::vector<std::string> paths;
    for (const auto& [path, text] : files) {
        if (::fnmatch(pattern.c_str(), path.c_str(), FNM_PATHNAME) == 0) paths.push_back(path);
    }
    return paths;
}

} // namespace hestrel::source
