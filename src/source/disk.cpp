#include "source/disk.hpp"

#include "source/descriptor.hpp"
#include "source/leftovers.hpp"

#include <algorithm>
#include <array>
#include <cerrno>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <fnmatch.h>
#include <glob.h>
#include <iterator>
#include <list>
#include <optional>
#include <set>
#include <sys/file.h>
#include <sys/random.h>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>

namespace hestrel::source {

namespace {

constexpr std::size_t most_bytes = std::size_t{1} << 30; // a plan, table or log has fewer by far

/// What the names of Hestrel's own files in other people's folders begin with.
constexpr std::string_view own_prefix = ".hestrel-";

bool is_own(const std::filesystem::path& path) {
    return path.filename().string().starts_with(own_prefix);
}

[[noreturn]] void refuse_size(const std::string& path) {
    throw FileError(fmt::format("{}: cannot be read: it has more than {} bytes", path, most_bytes));
}

void make_folder(const std::filesystem::path& folder) {
    std::error_code error;
    if (!folder.empty()) std::filesystem::create_directories(folder, error);
    if (error) fail(folder.string(), "cannot be made", error.value());
}

/// A name that nobody can guess and no pattern of `include` matches.
std::string unguessable() {
    std::array<unsigned char, 12> bytes{};
    if (::getrandom(bytes.data(), bytes.size(), 0) != static_cast<ssize_t>(bytes.size()))
        throw FileError("no random name can be made for a file");
    return fmt::format("{}{:02x}", own_prefix, fmt::join(bytes, ""));
}

/// Whether a name stands for what the process has open already, as /dev/stdout does.
bool is_open_already(const std::filesystem::path& path) {
    const std::string name = whole(path).string();
    return name == "/dev/stdout" || name == "/dev/stderr" || name.starts_with("/dev/fd/") ||
           name.starts_with("/proc/");
}

/// Where a path leads, symbolic links followed: to a file that may not be there yet, or to what is
/// open already.
std::filesystem::path followed(std::filesystem::path path) {
    constexpr int most_links = 40; // as the kernel
    std::error_code error;
    for (int links = 0; !is_open_already(path) && std::filesystem::is_symlink(path, error);
         ++links) {
        if (links == most_links) fail(path.string(), "cannot be written", ELOOP);
        const std::filesystem::path to = std::filesystem::read_symlink(path, error);
        if (error) fail(path.string(), "cannot be written", error.value());
        path = to.is_absolute() ? to : path.parent_path() / to;
    }
    return path;
}

/// Writes to what is no file, and never takes its place: a device, a pipe, a socket.
void write_into(const std::string& path, const std::string& text) {
    // Without waiting for somebody to open the other end.
    Descriptor file{::open(path.c_str(), O_WRONLY | O_APPEND | O_NONBLOCK | O_NOCTTY | O_CLOEXEC)};
    if (file.number() < 0) fail(path, "cannot be written", errno);
    ::fcntl(file.number(), F_SETFL, ::fcntl(file.number(), F_GETFL) & ~O_NONBLOCK);
    int failed = put_and_flush(file, text);
    const int closed = file.close();
    if (failed == 0) failed = closed;
    if (failed != 0 && failed != EPIPE) fail(path, "cannot be written", failed);
}

/// A file written beside the one it is going to replace; gone again unless it appears.
class BesideFile {
public:
    BesideFile(const std::string& path, const std::string& text)
        : path_(path), target_(followed(path)), folder_(target_.parent_path()) {
        make_folder(folder_);
        Descriptor file = made();
        struct stat status {};
        if (::stat(target_.c_str(), &status) == 0) {
            // What replaces a file may be read and written by whom that could. Only root can give
            // a file away; for others it is their own then.
            static_cast<void>(::fchown(file.number(), status.st_uid, status.st_gid) == 0);
            ::fchmod(file.number(), status.st_mode & 07777U);
        }
        int failed = put_and_flush(file, text);
        const int closed = file.close();
        if (failed == 0) failed = closed;
        if (failed == 0) return;
        ::unlink(beside_.c_str());
        fail(path_, "cannot be written", failed);
    }
    BesideFile(const BesideFile&) = delete;
    BesideFile& operator=(const BesideFile&) = delete;
    ~BesideFile() {
        if (!beside_.empty()) ::unlink(beside_.c_str());
    }

    void appear() {
        if (::rename(beside_.c_str(), target_.c_str()) != 0)
            fail(path_, "cannot be written", errno);
        beside_.clear();
    }
    [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }

private:
    /// The new file, with the rights that the machine gives new files.
    Descriptor made() {
        while (true) {
            beside_ = (folder_ / unguessable()).string();
            leftover_.emplace(beside_);
            const int number =
                ::open(beside_.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
            const int error = errno;
            if (number >= 0) return Descriptor{number};
            leftover_.reset(); // it is not ours
            beside_.clear();
            if (error != EEXIST) fail(path_, "cannot be written", error);
        }
    }

    std::string path_; ///< as it was asked for
    std::filesystem::path target_;
    std::filesystem::path folder_;
    std::string beside_;
    std::optional<Leftover> leftover_;
};

/// Flushes a folder, so that a file's new name is there after a power cut. Not all can be.
void flush_folder(const std::filesystem::path& folder) {
    const Descriptor opened{
        ::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC)};
    if (opened.number() >= 0) ::fsync(opened.number());
}

} // namespace

std::filesystem::path whole(const std::filesystem::path& path) {
    std::error_code error; // such as a folder to run in that is gone
    const auto full = std::filesystem::absolute(path.empty() ? "." : path, error);
    return (error ? path : full).lexically_normal();
}

bool lies_below(const std::filesystem::path& folder, const std::filesystem::path& file) {
    const std::filesystem::path way = whole(file).lexically_relative(whole(folder));
    return !way.empty() && *way.begin() != "..";
}

std::string RealDisk::read(const std::string& path) {
    Descriptor file{::open(path.c_str(), O_RDONLY | O_CLOEXEC)};
    if (file.number() < 0) fail(path, "cannot be read", errno);
    struct stat status {};
    if (::fstat(file.number(), &status) != 0) fail(path, "cannot be read", errno);
    if (S_ISDIR(status.st_mode)) fail(path, "cannot be read", EISDIR);
    if (status.st_size > static_cast<off_t>(most_bytes)) refuse_size(path);
    std::string text;
    std::array<char, 65536> buffer{};
    while (true) {
        const ssize_t count = ::read(file.number(), buffer.data(), buffer.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) fail(path, "cannot be read", errno);
        if (count == 0) return text;
        if (text.size() + static_cast<std::size_t>(count) > most_bytes) refuse_size(path);
        text.append(buffer.data(), static_cast<std::size_t>(count));
    }
}

void RealDisk::write_all(const std::vector<std::pair<std::string, std::string>>& texts) {
    std::list<BesideFile> beside;
    for (const auto& [path, text] : texts) {
        struct stat status {};
        const bool there = ::stat(path.c_str(), &status) == 0;
        const bool is_file = !there || S_ISREG(status.st_mode) || S_ISDIR(status.st_mode);
        if (is_file && !is_open_already(followed(path)))
            beside.emplace_back(path, text);
        else
            write_into(path, text);
    }
    std::set<std::filesystem::path> folders;
    for (BesideFile& file : beside) {
        file.appear();
        folders.insert(file.folder());
    }
    for (const std::filesystem::path& folder : folders) flush_folder(folder);
}

void RealDisk::remove(const std::string& path) {
    if (::unlink(path.c_str()) != 0 && errno != ENOENT) fail(path, "cannot be removed", errno);
    flush_folder(std::filesystem::path(path).parent_path());
}

void RealDisk::append(const std::string& path, const std::string& text) {
    make_folder(std::filesystem::path(path).parent_path());
    while (true) {
        const Descriptor file{
            ::open(path.c_str(), O_WRONLY | O_CREAT | O_APPEND | O_NOFOLLOW | O_CLOEXEC, 0666)};
        if (file.number() < 0) fail(path, "cannot be written", errno);
        ::flock(file.number(), LOCK_EX); // gone with the descriptor
        struct stat opened {};
        struct stat there {};
        // Who held it may have put another in its place.
        if (::fstat(file.number(), &opened) != 0 || ::stat(path.c_str(), &there) != 0 ||
            opened.st_ino != there.st_ino)
            continue;
        const int failed = put(file, text);
        if (failed != 0) fail(path, "cannot be written", failed);
        return;
    }
}

std::unique_ptr<Held> RealDisk::hold(const std::string& path) {
    class HeldPath final : public Held {
    public:
        explicit HeldPath(Descriptor path) : path_(std::move(path)) {}

    private:
        Descriptor path_; // the lock goes with it, and with the process
    };
    Descriptor opened{::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC)};
    if (opened.number() < 0) fail(path, "cannot be read", errno);
    // Some file systems have no locks; there nobody is kept out.
    if (::flock(opened.number(), LOCK_EX | LOCK_NB) != 0 && errno == EWOULDBLOCK) return nullptr;
    return std::make_unique<HeldPath>(std::move(opened));
}

bool RealDisk::exists(const std::string& path) const {
    std::error_code error;
    return std::filesystem::exists(std::filesystem::symlink_status(path, error));
}

bool RealDisk::is_file(const std::string& path) const {
    std::error_code error;
    return std::filesystem::is_regular_file(path, error) && !is_open_already(followed(path));
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
        std::copy_if(found.gl_pathv, found.gl_pathv + found.gl_pathc, std::back_inserter(paths),
                     [](const char* path) { return !is_own(path); });
    }
    ::globfree(&found);
    std::sort(paths.begin(), paths.end()); // not by the language of the terminal
    return paths;
}

std::vector<std::string> MemoryDisk::matching(const std::string& pattern) {
    std::vector<std::string> paths;
    for (const auto& [path, text] : files) {
        if (matches(pattern, path)) paths.push_back(path);
    }
    return paths;
}

bool matches(const std::string& pattern, const std::string& path) {
    return ::fnmatch(pattern.c_str(), path.c_str(), FNM_PATHNAME | FNM_PERIOD) == 0 &&
           !is_own(path);
}

std::vector<std::string> ChangedDisk::matching(const std::string& pattern) {
    std::vector<std::string> paths = below().matching(pattern);
    for (const auto& [path, text] : changed_) {
        if (matches(pattern, path)) paths.push_back(path);
    }
    std::sort(paths.begin(), paths.end());
    paths.erase(std::unique(paths.begin(), paths.end()), paths.end());
    return paths;
}

} // namespace hestrel::source
