#pragma once
// Memory on a disk: an unnamed file, gone with the process however that ends. The machine writes
// pages to it, and reads them back, as it needs its memory.

#include "plan/storage.hpp"
#include "source/descriptor.hpp"

#include <map>
#include <string>

namespace hestrel::source {

class OverflowFile final : public plan::Overflow {
public:
    /// The file is made in that folder when it is needed first.
    explicit OverflowFile(std::string folder) : folder_(std::move(folder)) {}
    OverflowFile(const OverflowFile&) = delete;
    OverflowFile& operator=(const OverflowFile&) = delete;
    ~OverflowFile() override;

    /// All of it has its place on the disk before anything is written. Null also where no file can
    /// be made in the folder.
    void* take(std::size_t bytes) override;
    void give_back(void* memory, std::size_t bytes) override;
    void keep_below(std::size_t most) override;

private:
    struct Region {
        std::size_t bytes = 0;
        std::size_t in_file = 0; ///< where it begins
        bool whole = true;       ///< one piece; else small ones are cut from it
    };
    char* map(std::size_t bytes);

    std::string folder_;
    Descriptor file_{-1};
    std::size_t size_ = 0; ///< of the file
    std::map<char*, Region> regions_;
    char* free_ = nullptr; ///< small pieces are cut from one region
    std::size_t left_ = 0;
};

/// Where files that nobody keeps go: what TMPDIR says, else /var/tmp.
std::string folder_for_overflow();

} // namespace hestrel::source
