#include "explore/pages.hpp"

#include <sys/mman.h>

namespace hestrel::explore {

namespace {

/// On pages as large as there are; null where there are none.
void* zeroed_pages(std::size_t bytes) {
    void* pages =
        ::mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
    if (pages == MAP_FAILED) return nullptr;
    ::madvise(pages, bytes, MADV_HUGEPAGE); // where it can't, it is only slower
    return pages;
}

} // namespace

Pages::Piece::~Piece() {
    if (memory_ == nullptr) return;
    if (on_disk_) {
        from_->overflow_->give_back(memory_, bytes_);
    } else {
        ::munmap(memory_, bytes_);
        from_->bytes_ -= bytes_;
    }
}

Pages::Piece Pages::take(std::size_t bytes) {
    Piece piece;
    piece.memory_ = overflows_ ? overflow_->take(bytes) : zeroed_pages(bytes);
    if (piece.memory_ == nullptr) {
        if (overflows_) throw plan::NoRoom();
        throw std::bad_alloc();
    }
    piece.bytes_ = bytes;
    piece.from_ = this;
    piece.on_disk_ = overflows_;
    if (!overflows_) bytes_ += bytes;
    return piece;
}

} // namespace hestrel::explore
