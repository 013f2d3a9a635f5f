#pragma once
// What is told by a move that was tried: the case it is, what comes of it, and what went on in it.

#include "explore/bounds.hpp"
#include "explore/moves.hpp"
#include "explore/packed.hpp"
#include "explore/worst.hpp"

#include <cstddef>
#include <optional>
#include <unordered_map>
#include <vector>

namespace hestrel::explore {

/// A move with the branches it takes.
struct MoveTaken {
    std::uint32_t move = 0; ///< index into Explorer::moves
    std::vector<MoveLog::Taken> branches;
};
/// The moves that lead from a beginning to somewhere: numbers for Explorer::taken, the boot first.
using Way = std::vector<std::uint32_t>;

/// What went on in a move, where it was met first. Moves in which nothing does share one.
struct Effect {
    MoveLog log;
    std::uint32_t first = 0; ///< situation
    std::uint32_t taken = 0; ///< for Explorer::taken
    bool ended = false;
};

class MemoBuilder {
public:
    /// Memory is looked at by `bounds`; a move after which more lists than `most_running` would
    /// run leads nowhere. All that is referred to outlives it.
    MemoBuilder(const plan::Plan& plan, Packed& packed, const Moves& moves,
                const std::vector<Bounds>& bounds, Worst& worst, std::size_t most_running);

    /// The case of a move that was tried from a situation.
    MemoEntry tried(const MoveRun& trial, std::uint32_t number, const Word* row,
                    std::uint32_t situation);
    /// That of a move on which nothing can happen, which needs no interpreter; else nothing.
    std::optional<MemoEntry> quiet(std::uint32_t number, const Word* row, std::uint32_t situation);
    /// A move with the branches that it takes, by number.
    std::uint32_t number_of(std::uint32_t move, const std::vector<MoveLog::Taken>& branches);

    [[nodiscard]] const Interned<MoveTaken>& taken() const { return taken_; }
    [[nodiscard]] const std::vector<Effect>& effects() const { return effects_; }
    /// That effects take, in all.
    [[nodiscard]] std::size_t effect_bytes() const { return effect_bytes_; }
    /// Moves were met after which too many lists would run.
    [[nodiscard]] bool too_many_running() const { return too_many_running_; }

private:
    [[nodiscard]] FewBits writes_of(const Move& move, const Ending& way, const Word* row,
                                    const std::vector<Word>& after, ReadSet& asked) const;
    /// Levels of which it is known how they are there, and a row of their bits.
    struct Known {
        std::vector<LevelThere> levels;
        std::vector<Word> bits;
    };
    [[nodiscard]] Known known_levels(const MoveRun& trial, const Word* row) const;
    [[nodiscard]] std::uint32_t added_by(const MoveLog& log, const std::vector<plan::VeilId>& veils,
                                         const Known& known, const Word* row, ReadSet& asked);
    [[nodiscard]] FewBits level_writes(const Move& move, std::uint32_t before,
                                       std::uint32_t after) const;
    /// What is known of a kit on a device.
    struct KitUse {
        std::optional<FewBits> users; ///< the levels that need it; unset: not known yet
        std::size_t asked_in = 0;     ///< of `added_`: when `by_others` was true or not
        bool by_others = false;
    };
    bool held_by_others(std::size_t device, loading::PieceId kit, const Known& known,
                        const Word* set, ReadSet& asked);
    [[nodiscard]] std::uint32_t kept(Effect effect);
    [[nodiscard]] std::uint32_t quiet_effect(std::uint32_t situation, std::uint32_t taken);
    /// A way on which nothing can happen.
    struct QuietWay {
        std::uint32_t to = UINT32_MAX; ///< stand; UINT32_MAX: something can happen
        std::uint32_t near = 0;        ///< for NearSets::path
        /// Of levels that it comes near and that are left out, those above: they may come.
        std::vector<plan::LevelId> may_come;
    };
    [[nodiscard]] const QuietWay& quietly(std::uint32_t move, std::uint32_t stand);
    [[nodiscard]] QuietWay quiet_way(const Move& going, const PlayerNow& from);

    const plan::Plan* plan_;
    Packed* packed_;
    const Moves* moves_;
    std::size_t most_running_;
    const std::vector<Bounds>* bounds_;
    Worst* worst_;
    Interned<MoveTaken> taken_;
    std::vector<Effect> effects_;
    std::size_t effect_bytes_ = 0;
    std::vector<std::vector<KitUse>> kits_; ///< by device and piece, as far as asked for
    std::size_t added_ = 0;                 ///< times that it was worked out what a move adds
    std::optional<std::uint32_t> quiet_effect_;
    std::unordered_map<Word, QuietWay> quiet_; ///< by move and stand
    bool too_many_running_ = false;
};

} // namespace hestrel::explore
