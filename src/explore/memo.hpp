#pragma once
// Memoised transitions with read sets: what a move asked about (its read set, with the values that
// it read there) and what came of it (its outcomes) make a memo entry. In any situation that has
// the same values at the same bits the move does the same, and is not run again (explorer.hpp has
// an example). Finding the entry costs a comparison of a few masked words; of many entries that
// read the same bits, a hash of the values.

#include "explore/hash_mix.hpp"
#include "explore/layout.hpp"
#include "explore/level_sets.hpp"
#include "explore/stands.hpp"

#include <cstdint>
#include <vector>

namespace hestrel::explore {

/// What a move does where some bits of the situation are so.
struct Outcome {
    std::uint32_t taken = 0;  ///< for Explorer::taken
    std::uint32_t first = 0;  ///< situation in which it was met first
    FewBits writes;           ///< but for the number of the set of levels
    FewBits levels;           ///< of its row; none of both: it leads back to where it began
    std::uint32_t effect = 0; ///< index into Explorer::effects
    std::uint32_t added = 0;  ///< to memory and frames, for Worst
    std::uint32_t near = 0;   ///< what goes on near players, for NearSets::path

    [[nodiscard]] bool leads_back() const { return writes.empty() && levels.empty(); }
};

/// What a move asked about, and the values that it read: bits of the situation, by word, single
/// levels, whether others hold a kit, and where players are, by player.
struct ReadSet {
    /// A player is inside of certain zones, and not of certain others.
    struct Inside {
        std::uint32_t player = 0;
        std::uint32_t zone_set = 0; ///< for Stands::part
        std::uint32_t part = 0;
    };
    /// Any of certain levels is there, or none.
    struct Held {
        std::uint32_t users = 0; ///< for ReadValues::users
        bool held = false;
    };
    FewBits bits;
    FewBits levels;
    Few<Held> held;
    Few<Inside> inside;

    /// Asks about more than some bits.
    [[nodiscard]] bool asks_more() const {
        return !levels.empty() || !held.empty() || !inside.empty();
    }
};

/// What situations answer.
class ReadValues {
public:
    /// All outlive it.
    ReadValues(const Layout& layout, const LevelSets& levels, Stands& stands)
        : set_(layout.levels), levels_(&levels), kinds_(&layout.kinds), stands_(&stands) {}

    /// All bits of some levels, by number, for `ReadSet::Held`.
    std::uint32_t users(const FewBits& levels);

    /// Whether a situation has the values that are known.
    [[nodiscard]] bool same(const ReadSet& known, const Word* row) const {
        if (!are_so(known.bits, row)) return false;
        if (!known.levels.empty() || !known.held.empty()) {
            const Word* set = set_of(row);
            if (!are_so(known.levels, set)) return false;
            for (const ReadSet::Held& each : known.held) {
                if (is_held(each.users, set) != each.held) return false;
            }
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
        if (!known.levels.empty() || !known.held.empty()) {
            const Word* set = set_of(row);
            for (const Bits& bits : known.levels) hash = hash_mix(hash, set[bits.word] & bits.mask);
            for (const ReadSet::Held& each : known.held)
                hash = hash_mix(hash, is_held(each.users, set) ? 1 : 0);
        }
        for (const ReadSet::Inside& inside : known.inside) hash = hash_mix(hash, part(inside, row));
        return static_cast<std::uint32_t>(hash);
    }
    /// That of the situation in which it was asked.
    [[nodiscard]] static std::uint32_t hash(const ReadSet& known);
    /// Whether any of some levels is there in a set's row.
    [[nodiscard]] bool is_held(std::uint32_t users, const Word* set) const {
        for (const Bits& bits : users_[users]) {
            if ((set[bits.word] & bits.mask) != 0) return true;
        }
        return false;
    }

private:
    [[nodiscard]] const Word* set_of(const Word* row) const {
        return levels_->row(static_cast<std::uint32_t>(set_.get(row)));
    }
    [[nodiscard]] std::uint32_t part(const ReadSet::Inside& inside, const Word* row) const {
        const auto kind = static_cast<std::uint32_t>((*kinds_)[inside.player].get(row));
        return stands_->part(inside.zone_set, kind);
    }

    Field set_;
    const LevelSets* levels_;
    const std::vector<Field>* kinds_;
    Stands* stands_;
    Interned<FewBits> users_;
};

struct MemoEntry {
    ReadSet asked;
    Few<Outcome> outcomes;
    std::vector<Outcome>
        nowhere; ///< made, but not followed: they go round in a circle, or too many lists run
    std::uint32_t moves = 0; ///< that it stands for: more where it is the same at each speed
    bool adds = false;       ///< any adds to memory or frames, or is not followed; set by MemoTable

    /// Of all of them, also of those that are not followed.
    template <class What>
    void for_outcomes(What&& what) const {
        for (const Outcome& outcome : outcomes) what(outcome);
        for (const Outcome& outcome : nowhere) what(outcome);
    }
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
    /// What a situation answers to all that known cases ask. Where no case is known of two, and
    /// this is the same, they are probably the same case.
    [[nodiscard]] std::uint64_t answers(const ReadValues& read_values, const Word* row) const;
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
    std::vector<Question> questions_; ///< none, while there are few entries; most entries first
};

} // namespace hestrel::explore
