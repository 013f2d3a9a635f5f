#pragma once
// What a move does, found out by the interpreter of flow/. A MoveRunner knows nothing of what other
// moves do, so several can work at once.

#include "explore/game.hpp"
#include "explore/layout.hpp"

#include <boost/container/small_vector.hpp>
#include <span>
#include <vector>

namespace hestrel::explore {

/// A situation, taken apart. What it refers to outlives it.
struct Unpacked {
    const Word* row = nullptr; ///< for facts and spent triggers
    std::vector<LevelThere> levels;
    const flow::State* control = nullptr;
    boost::container::small_vector<const PlayerNow*, 4> players;
};

/// How a move ends where certain branches are taken.
struct Ending {
    std::vector<Word> bits; ///< a row of which only facts and spent triggers are set
    std::vector<LevelThere> levels;
    flow::State control;
    std::vector<PlayerNow> players;
    std::vector<bool> placed;    ///< by a step, by player
    std::uint32_t speed = 0;     ///< which of those it was tried at
    bool order_mattered = false; ///< who of players of one kind is the first
    MoveLog log;
};

/// What a move asked about, and what it does, in all ways of taking branches; no way where it
/// can't be made.
struct MoveRun {
    std::vector<Ending> ways;
    bool asked_for_speed = false; ///< they are of all speeds; else each would go like the first
    flow::FactsAsked facts;
    std::vector<plan::TriggerId> once;
    std::vector<plan::LevelId> levels;            ///< single ones
    bool all_levels = false;                      ///< which there are
    std::vector<std::vector<flow::ZoneId>> zones; ///< by player: whether it is inside of them
    std::vector<bool> where;                      ///< by player: all about where it is
};

/// What players are called who have no names of their own: "carrier"; of several "carrier-1".
std::vector<std::string> names_of_players(const plan::Plan& plan,
                                          const std::vector<plan::PlayerKindId>& kinds);

/// A game as it stands, as if a move had ended so.
Ending ending_of(const plan::Plan& plan, const Layout& layout, const flow::Snapshot& now);

class MoveRunner {
public:
    MoveRunner(const plan::Plan& plan, plan::EditionId edition,
               const std::vector<plan::PlayerKindId>& players, Pace pace, const Layout& layout,
               const Reduction& reduction);

    /// `moves` differ only in speed. Where that can matter it is tried at each, else at the first.
    [[nodiscard]] MoveRun try_out(std::span<const Move> moves, const Unpacked& from);
    /// The boot, in all its ways; of those with an endless one, its log alone.
    [[nodiscard]] static std::vector<Ending>
    boot(const plan::Plan& plan, plan::EditionId edition,
         const std::vector<plan::PlayerKindId>& players, Pace pace, const Layout& layout,
         const Reduction& reduction, const plan::Start& start,
         const std::optional<flow::KeptStore>& saved, std::vector<bool>& came_true);

    /// The game in that situation; what it is asked is noted.
    Game& resume(const Unpacked& from);
    /// What was asked since the last `resume`.
    void take_asked(MoveRun& trial);
    [[nodiscard]] const Game& game() const { return game_; }
    /// By condition: whether it ever held.
    [[nodiscard]] const std::vector<bool>& came_true() const { return came_true_; }

private:
    bool try_one(const Move& move, std::uint32_t speed, const Unpacked& from, MoveRun& trial);

    const plan::Plan* plan_;
    const Layout* layout_;
    std::vector<bool> came_true_;
    Game game_;
    flow::FactsAsked asked_;
};

} // namespace hestrel::explore
