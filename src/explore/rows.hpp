#pragma once
// All situations seen, each a row of a few words, found again by a flat table of their numbers.

#include "explore/layout.hpp"

#include <cstdint>
#include <memory>
#include <vector>

namespace hestrel::explore {

/// Numbers rows in the order in which they come; a row is never moved or taken out.
class Rows {
public:
    explicit Rows(std::size_t words);

    struct Added {
        std::uint32_t number;
        bool fresh;
    };
    Added add(const Word* row, Word hash);
    /// The number of a row that is there.
    [[nodiscard]] std::uint32_t find(const Word* row, Word hash) const;
    /// Brings where `hash` will be looked for near.
    void expect(Word hash) const { __builtin_prefetch(&slots_[hash & mask_]); }
    [[nodiscard]] Word hash(const Word* row) const {
        Word mixed = 0x9E3779B97F4A7C15;
        for (std::size_t i = 0; i < words_; ++i) {
            mixed = (mixed ^ row[i]) * 0xD6E8FEB86659FD93;
            mixed ^= mixed >> 32;
        }
        return mixed;
    }

    [[nodiscard]] const Word* operator[](std::uint32_t number) const {
        return blocks_[number >> block_bits].get() + (number & (block_rows - 1)) * words_;
    }
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] std::size_t words() const { return words_; }
    /// All that it holds.
    [[nodiscard]] std::size_t bytes() const {
        return blocks_.size() * block_rows * words_ * sizeof(Word) + slots_.size() * sizeof(Slot);
    }

private:
    static constexpr std::uint32_t block_bits = 14;
    static constexpr std::uint32_t block_rows = 1U << block_bits;
    struct Slot {
        std::uint32_t number = free;
        std::uint32_t tag = 0; ///< upper half of the hash: tells most others apart without a look
    };
    static constexpr std::uint32_t free = UINT32_MAX;

    [[nodiscard]] bool same(std::uint32_t number, const Word* row) const;
    void grow();

    std::size_t words_;
    std::size_t size_ = 0;
    std::vector<std::unique_ptr<Word[]>> blocks_;
    std::vector<Slot> slots_;
    Word mask_ = 0;
};

} // namespace hestrel::explore
