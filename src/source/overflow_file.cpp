#include "source/overflow_file.hpp"

#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <fcntl.h>
#include <memory>
#include <sys/mman.h>

namespace hestrel::source {

namespace {

/// Pieces of this size and more are regions of their own.
constexpr std::size_t large = std::size_t{8} << 20;

/// Without a name, in a folder.
Descriptor unnamed_file(const std::string& folder) {
    Descriptor file{::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600)};
    if (file.number() >= 0) return file;
    std::string name = folder + "/.hestrel-XXXXXX"; // where the file system has none
    Descriptor named{::mkostemp(name.data(), O_CLOEXEC)};
    if (named.number() >= 0) ::unlink(name.c_str());
    return named;
}

/// Pages of files that are in the memory of the process.
std::size_t file_bytes_in_memory() {
    const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen("/proc/self/statm", "re"),
                                                               &std::fclose);
    unsigned long size = 0;
    unsigned long resident = 0;
    unsigned long shared = 0;
    if (!file || std::fscanf(file.get(), "%lu %lu %lu", &size, &resident, &shared) != 3)
        return SIZE_MAX;
    return shared * static_cast<std::size_t>(::sysconf(_SC_PAGESIZE));
}

} // namespace

OverflowFile::~OverflowFile() {
    for (const auto& [start, region] : regions_) ::munmap(start, region.bytes);
}

char* OverflowFile::map(std::size_t bytes) {
    if (file_.number() < 0) file_ = unnamed_file(folder_);
    if (file_.number() < 0) return nullptr;
    const auto begin = static_cast<off_t>(size_);
    int failed = 0;
    do failed = ::posix_fallocate(file_.number(), begin, static_cast<off_t>(bytes));
    while (failed == EINTR);
    if (failed != 0) return nullptr;
    void* start = ::mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_SHARED, file_.number(), begin);
    if (start == MAP_FAILED) return nullptr;
    regions_[static_cast<char*>(start)] = {bytes, size_};
    size_ += bytes;
    return static_cast<char*>(start);
}

void* OverflowFile::take(std::size_t bytes) {
    const auto page = static_cast<std::size_t>(::sysconf(_SC_PAGESIZE));
    bytes = (bytes + page - 1) / page * page;
    if (bytes >= large) return map(bytes);
    if (left_ < bytes) {
        free_ = map(2 * large);
        left_ = free_ == nullptr ? 0 : 2 * large;
        if (free_ == nullptr) return map(bytes); // what little is left
        regions_[free_].whole = false;
    }
    void* piece = free_;
    free_ += bytes;
    left_ -= bytes;
    return piece;
}

void OverflowFile::give_back(void* memory, std::size_t) {
    const auto found = regions_.find(static_cast<char*>(memory));
    if (found == regions_.end() || !found->second.whole) return; // it goes with the file
    ::munmap(memory, found->second.bytes);
    ::fallocate(file_.number(), FALLOC_FL_PUNCH_HOLE | FALLOC_FL_KEEP_SIZE,
                static_cast<off_t>(found->second.in_file), static_cast<off_t>(found->second.bytes));
    regions_.erase(found);
}

void OverflowFile::keep_below(std::size_t most) {
    if (regions_.empty() || file_bytes_in_memory() <= most) return;
    // They stay in the file, and what was not written to the disk yet is kept by the machine.
    for (const auto& [start, region] : regions_) ::madvise(start, region.bytes, MADV_DONTNEED);
}

std::string folder_for_overflow() {
    const char* folder = std::getenv("TMPDIR"); // NOLINT(concurrency-mt-unsafe): nobody sets it
    return folder != nullptr && *folder != '\0' ? folder : "/var/tmp";
}

} // namespace hestrel::source
