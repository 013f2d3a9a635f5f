#pragma once
// Where cases of moves are remembered: by what is there and what steps have left (a context), and
// by where a player is in it (a place).

#include "explore/moves.hpp"
#include "explore/packed.hpp"

#include <deque>
#include <tsl/robin_map.h>

namespace hestrel::explore {

/// Levels and what steps have left, together, and the first situation that has them.
struct Context {
    std::uint32_t levels = 0;
    std::uint32_t control = 0;
    std::uint32_t first = 0;
};

/// Players at one place in one context.
struct Place {
    std::uint32_t levels = 0;
    std::uint32_t control = 0;
    std::uint32_t stand = 0;
    std::uint32_t first = 0;
    std::uint64_t situations = 0;
};

/// A place, and what a player can do there.
struct AtPlace {
    Place place;
    std::vector<Cases> moves;
    std::vector<const Cases*> wanted; ///< for whoever looks for some of them
};

struct StirredHash {
    std::size_t operator()(Word key) const { return stirred(0, key); }
};

/// A context, and what can be done wherever players are.
struct InContext {
    Context context;
    std::vector<Cases> moves;
    std::vector<const Cases*> wanted;
    Cases rules{0}; ///< cases of rules that were looked at already
    std::vector<tsl::robin_map<std::uint32_t, AtPlace*, StirredHash>> places; ///< by player, stand
    std::vector<std::uint32_t> last_stand;                                    ///< by player
    std::vector<AtPlace*> last_place;
};

/// Contexts and places in the order in which they were met. What is given back never moves.
class Remembered {
public:
    /// All outlive it.
    Remembered(const plan::Plan& plan, const Packed& packed, const Moves& moves)
        : plan_(&plan), packed_(&packed), moves_(&moves) {}
    Remembered(const Remembered&) = delete;
    Remembered& operator=(const Remembered&) = delete;
    ~Remembered() = default;

    /// That of a situation; it is its first where there was none.
    InContext& context_of(const Word* row, std::uint32_t situation) {
        return row[0] == last_key_ ? *last_context_ : find_context(row, situation);
    }
    AtPlace& place_of(InContext& context, std::size_t player, const Word* row,
                      std::uint32_t situation) {
        const std::uint32_t stand = packed_->stand_number(row, player);
        return context.last_stand[player] == stand ? *context.last_place[player]
                                                   : find_place(context, player, row, situation);
    }
    const Case* keep(Cases& cases, Case added);

    [[nodiscard]] const std::deque<InContext>& contexts() const { return contexts_; }
    [[nodiscard]] const std::deque<AtPlace>& places() const { return places_; }
    [[nodiscard]] std::deque<InContext>& contexts() { return contexts_; }
    [[nodiscard]] std::deque<AtPlace>& places() { return places_; }

private:
    InContext& find_context(const Word* row, std::uint32_t situation);
    AtPlace& find_place(InContext& context, std::size_t player, const Word* row,
                        std::uint32_t situation);

    const plan::Plan* plan_;
    const Packed* packed_;
    const Moves* moves_;
    std::deque<Case> cases_;
    std::deque<InContext> contexts_;
    std::deque<AtPlace> places_;
    /// By the first word of rows: levels, control, and whether anybody is on the way.
    tsl::robin_map<Word, InContext*, StirredHash> by_key_;
    Word last_key_ = ~Word{0};
    InContext* last_context_ = nullptr;
};

} // namespace hestrel::explore
