#pragma once
// All moves that a plan allows, and where each can be made.

#include "explore/situation.hpp"
#include "plan/level_tree.hpp"

#include <span>
#include <vector>

namespace hestrel::explore {

/// Moves by number; 0 is the boot.
class Moves {
public:
    /// What depends on who explores.
    struct Rules {
        Pace pace = Pace::unhurried;
        std::size_t most_running = 2; ///< lists at once, where players hurry
        plan::LevelId launch_level;   ///< in which the game is launched
        bool quit_anywhere = false;   ///< and launched again; else only once it has ended
    };
    /// `reduction` outlives it.
    Moves(const plan::Plan& plan, const std::vector<plan::PlayerKindId>& players,
          const Rules& rules, const Reduction& reduction);

    [[nodiscard]] const std::vector<Move>& all() const { return all_; }
    /// The number of the move that launches the game again.
    [[nodiscard]] std::uint32_t launch() const { return launch_; }
    /// Any condition asks how fast a player moves: each of its speeds can be a move of its own.
    [[nodiscard]] bool asks_for_speed() const { return asks_for_speed_; }
    /// Any condition asks where players are: no way is so quiet that nothing goes by it.
    [[nodiscard]] bool asks_where() const { return asks_where_; }
    /// Those that differ from a move only in speed, itself the first.
    [[nodiscard]] std::span<const Move> at_each_speed(std::uint32_t move) const;
    /// The same move of another player; itself where it is nobody's own.
    [[nodiscard]] std::uint32_t by_player(std::uint32_t move, flow::PlayerId player) const;
    /// A player's moves from where it stands, each at the first of its speeds.
    [[nodiscard]] std::vector<std::uint32_t> of_player(std::size_t player,
                                                       plan::WaypointId at) const;
    /// What can be done wherever players are: items, and where they hurry what goes on meanwhile.
    [[nodiscard]] std::vector<std::uint32_t> anywhere(const std::vector<LevelThere>& levels,
                                                      const flow::State& control) const;

private:
    void list_ways();
    void list_items();
    void list_meanwhile(std::size_t most_running);
    void add_meanwhile(const std::vector<LevelThere>& levels, const flow::State& control,
                       std::vector<std::uint32_t>& moves) const;

    const plan::Plan* plan_;
    const std::vector<plan::PlayerKindId>* players_;
    Rules rules_;
    const Reduction* reduction_;
    plan::LevelTree tree_;
    bool asks_for_speed_ = false;
    bool asks_where_ = false;
    std::vector<Move> all_;
    plan::Table<plan::WaypointId, std::vector<std::uint32_t>> from_; ///< of each player
    plan::Table<plan::MenuId, std::vector<std::uint32_t>> of_menu_;
    /// The first move of each kind of what goes on meanwhile.
    struct Meanwhile {
        std::uint32_t arrive = 0; ///< one for each level
        std::uint32_t attach = 0; ///< one for each level
        std::uint32_t wake = 0;   ///< one for each list that can run, and one for a switch
        std::uint32_t attach_block = 0;
        std::uint32_t sweep = 0;
        std::uint32_t drop = 0;
    };
    Meanwhile meanwhile_;
    std::uint32_t launch_ = 0;
};

} // namespace hestrel::explore
