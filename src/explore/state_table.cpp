#include "explore/state_table.hpp"

#include <algorithm>
#include <new>
#include <sys/mman.h>

namespace hestrel::explore {

namespace {

constexpr std::size_t first_slots = 1024;

} // namespace

void* zeroed_pages(std::size_t bytes) {
    void* pages =
        ::mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
    if (pages == MAP_FAILED) throw std::bad_alloc();
    ::madvise(pages, bytes, MADV_HUGEPAGE); // where it can't, it is only slower
    return pages;
}

void PagesBack::operator()(void* pages) const {
    ::munmap(pages, bytes);
}

StateTable::StateTable(std::size_t words)
    : words_(words), slots_(first_slots), mask_(first_slots - 1) {}

std::uint32_t StateTable::add_at(std::uint32_t slot, const Word* row, std::uint32_t hash) {
    const auto number = static_cast<std::uint32_t>(size_++);
    if ((number & (block_rows - 1)) == 0)
        blocks_.push_back(std::make_unique_for_overwrite<Word[]>(block_rows * words_));
    std::copy(row, row + words_,
              blocks_[number >> block_bits].get() + (number & (block_rows - 1)) * words_);
    slots_[slot] = {number + 1, hash};
    if (size_ * 4 > slots_.size() * 3) grow();
    return number;
}

/// StateTable need not be looked at: each goes to where it was, or as far behind as there were
/// slots.
void StateTable::grow() {
    Zeroed<Slot> larger(slots_.size() * 2);
    mask_ = static_cast<std::uint32_t>(larger.size() - 1);
    for (const Slot& slot : slots_) {
        if (slot.behind == 0) continue;
        std::uint32_t at = slot.hash & mask_;
        while (larger[at].behind != 0) at = (at + 1) & mask_;
        larger[at] = slot;
    }
    slots_ = std::move(larger);
}

} // namespace hestrel::explore
