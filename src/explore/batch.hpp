#pragma once
// What situations lead to, on its way into the table of all situations.

#include "explore/packed.hpp"
#include "explore/state_table.hpp"
#include "plan/team.hpp"

#include <algorithm>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::explore {

/// A situation, and what its moves do.
struct Moving {
    std::uint32_t situation = 0;
    const Word* row = nullptr;
    std::span<const MemoEntry* const> entries;
    bool may_stay = false; ///< where no move leads on that is no dead end
};

struct Batch {
    struct From {
        std::uint32_t situation = 0;
        std::size_t in_block = 0; ///< which of the block that is
        std::size_t end = 0;      ///< of what it leads to
        std::uint64_t made = 0;   ///< moves
        bool adds = false;        ///< any of them to memory or frames
        bool leads_on = false;    ///< it is no dead end
    };
    std::vector<From> from;
    std::vector<Word> rows;
    std::vector<std::uint32_t> hashes;
    std::vector<std::uint32_t> taken; ///< for Explorer::taken
    std::size_t size = 0;             ///< of those in use

    void clear() {
        from.clear();
        size = sifted_ = from_sifted_ = 0;
    }
    /// Adds what one situation leads to; false, and nothing is added, where `apply(outcome, row)`
    /// finds something unknown. A launch by itself, which `launches(outcome)` tells, is no way on.
    template <class Words, class Apply, class Launches>
    bool gather(const Moving& moving, const StateTable& table, Words words, Apply&& apply,
                Launches&& launches) {
        From added;
        added.situation = moving.situation;
        std::size_t launched = 0;
        std::size_t end = size;
        for (const MemoEntry* entry : moving.entries) {
            added.made += entry->moves;
            added.adds = added.adds || entry->adds;
            make_room(end + entry->outcomes.size(), words);
            for (const Outcome& outcome : entry->outcomes) {
                if (outcome.leads_back()) continue;
                Word* after = rows.data() + end * words;
                for (std::size_t word = 0; word < words; ++word) after[word] = moving.row[word];
                const Applied applied = apply(outcome, after);
                if (applied == Applied::unknown) return false;
                if (applied == Applied::unchanged) continue;
                const std::uint32_t hash = table.hash(after, words);
                table.expect_slot(hash);
                if (launches(outcome)) ++launched;
                hashes[end] = hash;
                taken[end++] = outcome.taken;
            }
        }
        added.leads_on = moving.may_stay || end - size > launched;
        size = added.end = end;
        from.push_back(added);
        return true;
    }

    /// What was added last is no part of it any more.
    void take_back() {
        from.pop_back();
        size = from.empty() ? 0 : from.back().end;
    }
    /// Leaves rows out that the table has.
    template <class Words>
    void sift(const StateTable& table, Words words) {
        for (std::size_t i = sifted_; i < size; ++i) table.expect_row(hashes[i]);
        std::size_t next = sifted_;
        for (; from_sifted_ < from.size(); ++from_sifted_) {
            From& each = from[from_sifted_];
            for (; next < each.end; ++next) {
                const Word* row = rows.data() + next * words;
                if (table.find(row, hashes[next], words) != UINT32_MAX) continue;
                std::copy(row, row + words, rows.data() + sifted_ * words);
                hashes[sifted_] = hashes[next];
                taken[sifted_++] = taken[next];
            }
            each.end = sifted_;
        }
        size = sifted_;
    }
    /// As bytes, behind others; and back, from the front of some, which are taken away.
    void pack(std::string& bytes, std::size_t words) const;
    void unpack(std::string_view& bytes, const StateTable& table);
    [[nodiscard]] std::size_t unsifted() const { return size - sifted_; }

private:
    std::size_t sifted_ = 0; ///< so many of them were
    std::size_t from_sifted_ = 0;

    void make_room(std::size_t wanted, std::size_t words) {
        constexpr std::size_t at_first = 256;
        if (wanted <= hashes.size()) return;
        hashes.resize(2 * wanted + at_first);
        taken.resize(hashes.size());
        rows.resize(hashes.size() * words);
    }
};

} // namespace hestrel::explore
