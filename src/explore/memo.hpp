#pragma once
// Memoised transitions with read sets: what a move asked about (its read set, with the values that
// it read there) and what came of it (its outcomes) make a memo entry. In any situation that has
// the same values at the same bits the move does the same, and is not run again (explorer.hpp has
// an example). Finding the entry costs a comparison of a few masked words; of many entries that
// read the same bits, a hash of the values.

#include "explore/hash_mix.hpp"
#include "explore/layout.hpp"
#include "explore/stands.hpp"

#include <boost/container/small_vector.hpp>
#include <cstdint>
#include <vector>

namespace hestrel::explore {

/// Bits of a row that must be so, or become so.
struct Bits {
    std::uint32_t word = 0;
    Word mask = 0;
    Word value = 0;
};

/// Few, mostly one, and looked at all the time: the first lies within what it belongs to.
template <class T>
using Few = boost::container::small_vector<T, 1>;
using FewBits = Few<Bits>;

/// What a move does where some bits of the situation are so.
struct Outcome {
    std::uint32_t taken = 0;  ///< for Explorer::taken
    std::uint32_t first = 0;  ///< situation in which it was met first
    FewBits writes;           ///< none: it leads back to where it began
    std::uint32_t effect = 0; ///< index into Explorer::effects

    /// Whether that changed it.
    bool apply(Word* row) const {
        Word changed = 0;
        for (const Bits& bits : writes) {
            Word& word = row[bits.word];
            const Word after = (word & ~bits.mask) | bits.value;
            changed |= word ^ after;
            word = after;
        }
        return changed != 0;
    }
};

/// What a move asked about, and the values that it read: bits of the situation, by word, and where
/// players are, by player.
struct ReadSet {
    /// A player is inside of certain zones, and not of certain others.
    struct Inside {
        std::uint32_t player = 0;
        std::uint32_t zone_set = 0; ///< for Stands::part
        std::uint32_t part = 0;
    };
    FewBits bits;
    Few<Inside> inside;

    void ask_for(const Field& field, const Word* row);
};

/// What situations answer.
class ReadValues {
public:
    /// Both outlive it.
    ReadValues(const Layout& layout, Stands& stands) : kinds_(&layout.kinds), stands_(&stands) {}

    /// Whether a situation has the values that are known.
    [[nodiscard]] bool same(const ReadSet& known, const Word* row) const {
        for (const Bits& bits : known.bits) {
            if ((row[bits.word] & bits.mask) != bits.value) return false;
        }
        for (const ReadSet::Inside& inside : known.inside) {
            if (part(inside, row) != inside.part) return false;
        }
        return true;
    }
    /// The same for situations that answer the same to what `known` asks.
    [[nodiscard]] std::uint32_t hash(const ReadSet& known, const Word* row) const {
        Word hash = 0;
        for (const Bits& bits : known.bits) hash = hash_mix(hash, row[bits.word] & bits.mask);
        for (const ReadSet::Inside& inside : known.inside) hash = hash_mix(hash, part(inside, row));
        return static_cast<std::uint32_t>(hash);
    }
    /// That of the situation in which it was asked.
    [[nodiscard]] static std::uint32_t hash(const ReadSet& known);

private:
    [[nodiscard]] std::uint32_t part(const ReadSet::Inside& inside, const Word* row) const {
        const auto kind = static_cast<std::uint32_t>((*kinds_)[inside.player].get(row));
        return stands_->part(inside.zone_set, kind);
    }

    const std::vector<Field>* kinds_;
    Stands* stands_;
};

struct MemoEntry {
    ReadSet asked;
    Few<Outcome> outcomes;
    std::uint32_t moves = 0; ///< that it stands for: more where it is the same at each speed
};

/// A move from one context and place, at any speed, with all entries met so far; they stand
/// elsewhere.
class Memo {
public:
    explicit Memo(std::uint32_t move) : move_(move) {}

    [[nodiscard]] std::uint32_t move() const { return move_; }
    /// A case, and the first of the bits that it asks about: most are told apart by those.
    struct Known {
        Bits first;
        const MemoEntry* of = nullptr;
        bool asks_more = false;
    };
    [[nodiscard]] const Few<Known>& all() const { return entries_; }

    /// The case that a situation is; null where that is not known yet. Where it is several they
    /// lead to the same.
    [[nodiscard]] const MemoEntry* find(const ReadValues& read_values, const Word* row) const {
        if (!questions_.empty()) return find_among_many(read_values, row);
        for (const Known& each : entries_) {
            if ((row[each.first.word] & each.first.mask) != each.first.value) continue;
            if (!each.asks_more || read_values.same(each.of->asked, row)) return each.of;
        }
        return nullptr;
    }
    void add(const MemoEntry* added);

private:
    /// Entries with the same read set, by hash of the values read.
    struct Question {
        struct Slot {
            const MemoEntry* of = nullptr;
            std::uint32_t hash = 0;
        };
        std::vector<Slot> slots; ///< more than there are entries
        std::size_t used = 0;
        const MemoEntry* first = nullptr;

        [[nodiscard]] const MemoEntry* find(const ReadValues& read_values, const Word* row) const;
        void add(const MemoEntry* added);
    };
    [[nodiscard]] const MemoEntry* find_among_many(const ReadValues& read_values,
                                                   const Word* row) const;
    void ask_as_well(const MemoEntry* added);

    std::uint32_t move_;
    Few<Known> entries_;
    std::vector<Question> questions_; ///< none, while there are few entries
};

} // namespace hestrel::explore
