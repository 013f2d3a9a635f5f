#pragma once
// Where memo entries are kept: by what is there and what steps have left (a context), and
// by where a player is in it (a place).

#include "explore/moves.hpp"
#include "explore/packed.hpp"

#include <deque>
#include <tsl/robin_map.h>

namespace hestrel::explore {

/// What steps have left, and what is on its way, together, and the first situation that has them.
struct Context {
    std::uint32_t control = 0;
    std::uint32_t going_on = 0; ///< for LevelSets::what_goes_on
    std::uint32_t first = 0;
};

/// A place in one context, and what a player can do there.
struct PlaceMemo {
    std::vector<Memo> moves;
    std::vector<const Memo*> wanted; ///< for whoever looks for some of them
    /// Those whose area one is inside of there, where no veil is up.
    std::vector<plan::LevelId> seen;
};

/// A context, and what can be done wherever players are.
struct ContextMemo {
    Context context;
    bool at_rest = false;
    std::vector<Memo> moves;
    std::vector<const Memo*> wanted;
    Memo rules{0}; ///< entries of rules that were looked at already
    std::vector<tsl::robin_map<std::uint32_t, PlaceMemo*, MixedHash>> places; ///< by player, stand
    std::vector<std::uint32_t> last_stand;                                    ///< by player
    std::vector<PlaceMemo*> last_place;
};

/// Contexts and places in the order in which they were met. What is given back never moves.
class MemoTable {
public:
    /// All outlive it.
    MemoTable(const plan::Plan& plan, Packed& packed, const Moves& moves)
        : plan_(&plan), packed_(&packed), moves_(&moves) {}
    MemoTable(const MemoTable&) = delete;
    MemoTable& operator=(const MemoTable&) = delete;
    ~MemoTable() = default;

    /// That of a situation; it is its first where there was none.
    ContextMemo& context_of(const Word* row, std::uint32_t situation) {
        const Layout& layout = packed_->layout();
        const bool same = (row[0] & layout.moves) == last_key_ && layout.on_the_way.get(row) == 0;
        return same ? *last_context_ : find_context(row, situation);
    }
    PlaceMemo& place_of(ContextMemo& context, std::size_t player, const Word* row) {
        const std::uint32_t stand = packed_->stand_number(row, player);
        return context.last_stand[player] == stand ? *context.last_place[player]
                                                   : find_place(context, player, row);
    }
    const MemoEntry* keep(Memo& memo, MemoEntry added);

    /// What was found last, by one of several who only look.
    struct Cursor {
        Word key = ~Word{0};
        const ContextMemo* context = nullptr;
        std::vector<std::uint32_t> stands; ///< by player
        std::vector<const PlaceMemo*> places;
    };
    /// The same without making any; null where there is none. The levels were told to `learn`.
    [[nodiscard]] const ContextMemo* known_context(const Word* row, Cursor& cursor) const;
    [[nodiscard]] const PlaceMemo* known_place(const ContextMemo& context, std::size_t player,
                                               const Word* row, Cursor& cursor) const;

    /// Of contexts, places and entries, together.
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] const std::deque<ContextMemo>& contexts() const { return contexts_; }
    [[nodiscard]] const std::deque<PlaceMemo>& places() const { return places_; }
    [[nodiscard]] std::deque<ContextMemo>& contexts() { return contexts_; }
    [[nodiscard]] std::deque<PlaceMemo>& places() { return places_; }

private:
    using ContextKey = std::pair<Word, Word>;
    [[nodiscard]] ContextKey key_of(const Word* row, std::uint32_t going_on) const;
    ContextMemo& find_context(const Word* row, std::uint32_t situation);
    PlaceMemo& find_place(ContextMemo& context, std::size_t player, const Word* row);

    const plan::Plan* plan_;
    Packed* packed_;
    const Moves* moves_;
    std::size_t size_ = 0;
    std::deque<MemoEntry> entries_;
    std::deque<ContextMemo> contexts_;
    std::deque<PlaceMemo> places_;
    struct PairHash {
        std::size_t operator()(const ContextKey& key) const {
            return hash_mix(hash_mix(0, key.first), key.second);
        }
    };
    /// By control and what else is on its way, and by which players are.
    tsl::robin_map<ContextKey, ContextMemo*, PairHash> by_key_;
    Word last_key_ = ~Word{0};
    ContextMemo* last_context_ = nullptr;
};

} // namespace hestrel::explore
