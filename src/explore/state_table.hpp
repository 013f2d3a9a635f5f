#pragma once
// All situations seen, each a row of a few words, found again by a flat table of their numbers.
//
// A slot is four bytes. Of a table of 2^k slots a row's hash tells by its lower k bits where to
// begin to look, and no number needs more bits than that; so the slot holds the number in its lower
// k bits, and the hash's other bits in those above, which tell most others apart without a look.

#include "explore/hash_mix.hpp"
#include "explore/layout.hpp"
#include "explore/pages.hpp"

#include <cstdint>
#include <vector>

namespace hestrel::explore {

/// Numbers rows in the order in which they come; a row is never taken out. Wherever a row's hash is
/// given, it is `hash(row)`.
class StateTable {
public:
    /// `pages` outlives it.
    StateTable(Pages& pages, std::size_t words);

    struct Added {
        std::uint32_t number;
        bool fresh;
    };
    Added add(const Word* row, std::uint32_t hash) { return add(row, hash, words()); }
    /// `words` says at compile time how many a row has, where it can. Throws plan::NoRoom.
    template <class Words>
    Added add(const Word* row, std::uint32_t hash, Words words) {
        const std::uint32_t slot = slot_of(row, hash, words);
        const std::uint32_t behind = behind_of(slots_[slot]);
        return behind != 0 ? Added{behind - 1, false} : Added{add_at(slot, row, hash), true};
    }
    struct Candidate {
        const Word* row = nullptr;
        std::uint32_t hash = 0;
    };
    /// The same as to add them one after the other; their numbers. Slots are looked at part by part
    /// of the table, on several threads, and what is on a disk is read from front to end. Throws
    /// plan::NoRoom before anything has changed.
    std::vector<std::uint32_t> add_together(const std::vector<Candidate>& candidates,
                                            unsigned jobs);
    /// The number of a row; UINT32_MAX where it is not there.
    [[nodiscard]] std::uint32_t find(const Word* row, std::uint32_t hash) const {
        return find(row, hash, words());
    }
    template <class Words>
    [[nodiscard]] std::uint32_t find(const Word* row, std::uint32_t hash, Words words) const {
        return behind_of(slots_[slot_of(row, hash, words)]) - 1;
    }
    /// Brings where `hash` will be looked for near.
    void expect_slot(std::uint32_t hash) const { __builtin_prefetch(&slots_[hash & mask_]); }
    /// And the row that is probably found there.
    void expect_row(std::uint32_t hash) const {
        std::uint32_t at = hash & mask_;
        while (slots_[at] != free && !may_be(slots_[at], hash)) at = (at + 1) & mask_;
        if (slots_[at] != free) __builtin_prefetch((*this)[behind_of(slots_[at]) - 1]);
    }
    [[nodiscard]] std::uint32_t hash(const Word* row) const { return hash(row, words()); }
    template <class Words>
    [[nodiscard]] std::uint32_t hash(const Word* row, Words words) const {
        Word hash = 0x9E3779B97F4A7C15;
        for (std::size_t i = 0; i < words; ++i) hash = hash_mix(hash, row[i]);
        return static_cast<std::uint32_t>(hash);
    }
    /// For so many more: adding them throws nothing.
    void make_room(std::size_t more);
    /// To where pages are taken from now.
    void move_out();

    [[nodiscard]] const Word* operator[](std::uint32_t number) const { return rows_[number]; }
    [[nodiscard]] const Records<Word>& rows() const { return rows_; }
    [[nodiscard]] std::size_t size() const { return rows_.size(); }
    [[nodiscard]] std::size_t words() const { return rows_.width(); }

private:
    /// One more than a row's number, and of its hash what is above the mask.
    using Slot = std::uint32_t;
    static constexpr Slot free = 0;
    [[nodiscard]] std::uint32_t behind_of(Slot slot) const { return slot & mask_; }
    [[nodiscard]] Slot slot_for(std::uint32_t behind, std::uint32_t hash) const {
        return behind | (hash & ~mask_);
    }
    [[nodiscard]] bool may_be(Slot slot, std::uint32_t hash) const {
        return ((slot ^ hash) & ~mask_) == 0;
    }

    /// Where a row is, or the free slot where it would be.
    template <class Words>
    [[nodiscard]] std::uint32_t slot_of(const Word* row, std::uint32_t hash, Words words) const {
        std::uint32_t at = hash & mask_;
        while (slots_[at] != free &&
               (!may_be(slots_[at], hash) || !same(behind_of(slots_[at]) - 1, row, words)))
            at = (at + 1) & mask_;
        return at;
    }
    template <class Words>
    [[nodiscard]] bool same(std::uint32_t number, const Word* row, Words words) const {
        const Word* known = rows_.at(number, words);
        Word differs = 0;
        for (std::size_t i = 0; i < words; ++i) differs |= known[i] ^ row[i];
        return differs == 0;
    }
    std::uint32_t add_at(std::uint32_t slot, const Word* row, std::uint32_t hash);
    void grow();
    class Joining;

    Pages* pages_;
    Records<Word> rows_;
    Zeroed<Slot> slots_;
    std::uint32_t mask_ = 0;
};

} // namespace hestrel::explore
