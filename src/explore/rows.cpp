#include "explore/rows.hpp"

#include <algorithm>

namespace hestrel::explore {

namespace {

constexpr std::size_t first_slots = 1024;

std::uint32_t tag_of(Word hash) {
    return static_cast<std::uint32_t>(hash >> 32);
}

} // namespace

Rows::Rows(std::size_t words) : words_(words), slots_(first_slots), mask_(first_slots - 1) {}

bool Rows::same(std::uint32_t number, const Word* row) const {
    const Word* known = (*this)[number];
    return std::equal(known, known + words_, row);
}

Rows::Added Rows::add(const Word* row, Word hash) {
    Word at = hash & mask_;
    for (; slots_[at].number != free; at = (at + 1) & mask_) {
        if (slots_[at].tag == tag_of(hash) && same(slots_[at].number, row))
            return {slots_[at].number, false};
    }
    const auto number = static_cast<std::uint32_t>(size_++);
    if ((number & (block_rows - 1)) == 0)
        blocks_.push_back(std::make_unique_for_overwrite<Word[]>(block_rows * words_));
    std::copy(row, row + words_,
              blocks_[number >> block_bits].get() + (number & (block_rows - 1)) * words_);
    slots_[at] = {number, tag_of(hash)};
    if (size_ * 4 > slots_.size() * 3) grow();
    return {number, true};
}

std::uint32_t Rows::find(const Word* row, Word hash) const {
    for (Word at = hash & mask_;; at = (at + 1) & mask_) {
        const Slot& slot = slots_[at];
        if (slot.number == free) return free;
        if (slot.tag == tag_of(hash) && same(slot.number, row)) return slot.number;
    }
}

void Rows::grow() {
    std::vector<Slot> larger(slots_.size() * 2);
    mask_ = larger.size() - 1;
    for (std::uint32_t number = 0; number < size_; ++number) {
        const Word hash_of_row = hash((*this)[number]);
        Word at = hash_of_row & mask_;
        while (larger[at].number != free) at = (at + 1) & mask_;
        larger[at] = {number, tag_of(hash_of_row)};
    }
    slots_ = std::move(larger);
}

} // namespace hestrel::explore
