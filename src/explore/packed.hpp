#pragma once
// What a row of numbers stands for, and the way from a situation to its row and back.

#include "explore/alike_players.hpp"
#include "explore/interned.hpp"
#include "explore/level_sets.hpp"
#include "explore/memo.hpp"
#include "explore/move_runner.hpp"
#include "explore/near_sets.hpp"

namespace hestrel::explore {

/// What became of a row to which an outcome was applied.
enum class Applied : std::uint8_t {
    changed,
    unchanged, ///< it leads back to where it began
    unknown,   ///< something of the new row has no number yet
};

/// The tables behind the numbers of rows. Not copied: what it is made of refers to it.
class Packed {
public:
    /// `told_apart`: nobody is alike. `reduction`: what is left out.
    Packed(const plan::Plan& plan, std::vector<plan::PlayerKindId> kinds, bool told_apart,
           Reduction reduction, Pages& pages)
        : kinds_(std::move(kinds)), layout_(plan, kinds_.size()), reduction_(std::move(reduction)),
          zones_(plan, [this](plan::LevelId level) { return reduction_.near.has(level); }),
          near_(reduction_.near, zones_), tree_(plan::level_tree(plan.levels)),
          levels_(tree_, pages), read_values_(layout_, levels_, stands_),
          alike_(plan, kinds_, layout_, controls_, told_apart) {}
    Packed(const Packed&) = delete;
    Packed& operator=(const Packed&) = delete;
    ~Packed() = default;

    [[nodiscard]] const std::vector<plan::PlayerKindId>& players() const { return kinds_; }
    [[nodiscard]] const Layout& layout() const { return layout_; }
    [[nodiscard]] const flow::Zones& zones() const { return zones_; }
    [[nodiscard]] const Reduction& reduction() const { return reduction_; }
    [[nodiscard]] const FoldedNear& folded() const { return reduction_.near; }
    [[nodiscard]] const NearSets& near() const { return near_; }
    NearSets& near() { return near_; }
    /// What of the levels that are left out may be there by where a player is.
    NearStand near_player(const Word* row, std::size_t player) {
        return near_.of_stand(stand_number(row, player), player_of(row, player));
    }
    [[nodiscard]] const ReadValues& read_values() const { return read_values_; }
    ReadValues& read_values() { return read_values_; }
    [[nodiscard]] const plan::LevelTree& tree() const { return tree_; }

    [[nodiscard]] const LevelSets& levels() const { return levels_; }
    LevelSets& levels() { return levels_; }
    [[nodiscard]] const Interned<flow::State>& controls() const { return controls_; }
    [[nodiscard]] const Stands& stands() const { return stands_; }
    [[nodiscard]] std::uint32_t level_number(const Word* row) const {
        return static_cast<std::uint32_t>(layout_.levels.get(row));
    }
    [[nodiscard]] std::uint32_t control_number(const Word* row) const {
        return static_cast<std::uint32_t>(layout_.control.get(row));
    }
    [[nodiscard]] std::uint32_t stand_number(const Word* row, std::size_t player) const {
        return static_cast<std::uint32_t>(layout_.players[player].get(row));
    }
    [[nodiscard]] std::vector<LevelThere> levels_of(const Word* row) const {
        return levels_.levels(level_number(row));
    }
    [[nodiscard]] const flow::State& control_of(const Word* row) const {
        return controls_[control_number(row)];
    }
    [[nodiscard]] const PlayerNow& player_of(const Word* row, std::size_t player) const {
        return stands_[stand_number(row, player)];
    }

    AlikePlayers& alike() { return alike_; }
    /// Makes a row what it is after a move; whether that changed it. Players who are alike may not
    /// be in order any more.
    bool apply(const Outcome& outcome, Word* row) {
        const bool changed = write(outcome.writes, row);
        if (outcome.levels.empty()) return changed;
        const std::uint32_t before = level_number(row);
        const std::uint32_t after = levels_.changed(before, outcome.levels);
        layout_.levels.set(row, fitting(after, layout_.levels));
        return changed || before != after;
    }
    /// Whether all that a row's numbers stand for is known.
    [[nodiscard]] bool is_known(const Word* row) const;
    /// `apply`, and players who are alike in order, without making any number, in `scratch`. The
    /// row is of no use where something is unknown.
    [[nodiscard]] Applied apply_known(const Outcome& outcome, Word* row,
                                      std::vector<Word>& scratch) const;
    /// So that several threads can ask.
    void learn() {
        levels_.learn();
        stands_.learn();
    }
    [[nodiscard]] Unpacked unpacked(const Word* row) const;
    [[nodiscard]] std::vector<Word> row_of(const Ending& way);
    [[nodiscard]] std::uint32_t number_of(const PlayerNow& player) {
        return stands_.number(player, zones_);
    }
    /// What a move asked about, beside what its place in the tables says. `mover`: who goes, whose
    /// place is known; UINT32_MAX: nobody.
    [[nodiscard]] ReadSet read_set_of(const MoveRun& trial, const Word* row, std::uint32_t mover);

private:
    std::vector<plan::PlayerKindId> kinds_;
    Layout layout_;
    Reduction reduction_;
    flow::Zones zones_;
    NearSets near_;
    plan::LevelTree tree_;
    LevelSets levels_;
    Interned<flow::State> controls_;
    Stands stands_;
    ReadValues read_values_;
    AlikePlayers alike_;
};

} // namespace hestrel::explore
