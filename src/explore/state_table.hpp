#pragma once
// All situations seen, each a row of a few words, found again by a flat table of their numbers.

#include "explore/hash_mix.hpp"
#include "explore/layout.hpp"

#include <cstdint>
#include <memory>
#include <vector>

namespace hestrel::explore {

/// Throws std::bad_alloc where there are none.
void* zeroed_pages(std::size_t bytes);
struct PagesBack {
    std::size_t bytes = 0;
    void operator()(void* pages) const;
};

/// So many T of zeros, on pages as large as there are: to be looked into here and there.
template <class T>
class Zeroed {
public:
    explicit Zeroed(std::size_t size)
        : size_(size), memory_(zeroed_pages(size * sizeof(T)), PagesBack{size * sizeof(T)}) {}
    [[nodiscard]] std::size_t size() const { return size_; }
    T& operator[](std::size_t at) { return static_cast<T*>(memory_.get())[at]; }
    const T& operator[](std::size_t at) const { return static_cast<const T*>(memory_.get())[at]; }
    [[nodiscard]] const T* begin() const { return &(*this)[0]; }
    [[nodiscard]] const T* end() const { return begin() + size_; }

private:
    std::size_t size_;
    std::unique_ptr<void, PagesBack> memory_;
};

/// Numbers rows in the order in which they come; a row is never moved or taken out.
class StateTable {
public:
    explicit StateTable(std::size_t words);

    struct Added {
        std::uint32_t number;
        bool fresh;
    };
    Added add(const Word* row, std::uint32_t hash) { return add(row, hash, words_); }
    /// `words` says at compile time how many a row has, where it can.
    template <class Words>
    Added add(const Word* row, std::uint32_t hash, Words words) {
        const std::uint32_t slot = slot_of(row, hash, words);
        const std::uint32_t behind = slots_[slot].behind;
        return behind != 0 ? Added{behind - 1, false} : Added{add_at(slot, row, hash), true};
    }
    /// The number of a row; UINT32_MAX where it is not there.
    [[nodiscard]] std::uint32_t find(const Word* row, std::uint32_t hash) const {
        return slots_[slot_of(row, hash, words_)].behind - 1;
    }
    /// Brings where `hash` will be looked for near.
    void expect_slot(std::uint32_t hash) const { __builtin_prefetch(&slots_[hash & mask_]); }
    /// And the row that is probably found there.
    void expect_row(std::uint32_t hash) const {
        std::uint32_t at = hash & mask_;
        while (slots_[at].behind != 0 && slots_[at].hash != hash) at = (at + 1) & mask_;
        if (slots_[at].behind != 0) __builtin_prefetch((*this)[slots_[at].behind - 1]);
    }
    [[nodiscard]] std::uint32_t hash(const Word* row) const { return hash(row, words_); }
    template <class Words>
    [[nodiscard]] std::uint32_t hash(const Word* row, Words words) const {
        Word hash = 0x9E3779B97F4A7C15;
        for (std::size_t i = 0; i < words; ++i) hash = hash_mix(hash, row[i]);
        return static_cast<std::uint32_t>(hash);
    }

    [[nodiscard]] const Word* operator[](std::uint32_t number) const {
        return blocks_[number >> block_bits].get() + (number & (block_rows - 1)) * words_;
    }
    [[nodiscard]] std::size_t size() const { return size_; }
    /// All that it holds.
    [[nodiscard]] std::size_t bytes() const {
        return blocks_.size() * block_rows * words_ * sizeof(Word) + slots_.size() * sizeof(Slot);
    }

private:
    static constexpr std::uint32_t block_bits = 14;
    static constexpr std::uint32_t block_rows = 1U << block_bits;
    struct Slot {
        std::uint32_t behind = 0; ///< one more than the row's number; 0: free
        std::uint32_t hash = 0;   ///< tells most others apart without a look
    };

    /// Where a row is, or the free slot where it would be.
    template <class Words>
    [[nodiscard]] std::uint32_t slot_of(const Word* row, std::uint32_t hash, Words words) const {
        std::uint32_t at = hash & mask_;
        while (slots_[at].behind != 0 &&
               (slots_[at].hash != hash || !same(slots_[at].behind - 1, row, words)))
            at = (at + 1) & mask_;
        return at;
    }
    template <class Words>
    [[nodiscard]] bool same(std::uint32_t number, const Word* row, Words words) const {
        const Word* known =
            blocks_[number >> block_bits].get() + (number & (block_rows - 1)) * words;
        Word differs = 0;
        for (std::size_t i = 0; i < words; ++i) differs |= known[i] ^ row[i];
        return differs == 0;
    }
    std::uint32_t add_at(std::uint32_t slot, const Word* row, std::uint32_t hash);
    void grow();

    std::size_t words_;
    std::size_t size_ = 0;
    std::vector<std::unique_ptr<Word[]>> blocks_;
    Zeroed<Slot> slots_;
    std::uint32_t mask_ = 0;
};

} // namespace hestrel::explore
