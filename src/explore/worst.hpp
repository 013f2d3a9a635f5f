#pragma once
// The most memory and the longest frames among all situations and moves, kept while they are met
// (docs/model.md sections 4 and 8). What a move adds does not hang on what else is there: it is
// worked out once, and added to what each set of levels holds.

#include "explore/bounds.hpp"
#include "explore/interned.hpp"
#include "explore/level_sets.hpp"
#include "explore/near_sets.hpp"

#include <cstdint>
#include <unordered_map>
#include <vector>

namespace hestrel::explore {

/// What is measured: memory in one budget of a device, or its frames.
struct Measure {
    std::size_t device = 0; ///< of the options
    plan::PoolId pool;      ///< unset: in total
    bool frame = false;
    std::int64_t most = 0; ///< that there may be, bytes or microseconds
};

/// Where something was measured first.
struct Measured {
    std::int64_t amount = 0;  ///< bytes or microseconds
    std::uint32_t levels = 0; ///< the set
    std::uint32_t may_be = 0; ///< of levels that are left out, what may be there: for NearSets
    std::uint32_t veils = 0;  ///< that are up, by number
    std::uint32_t situation = 0;
    std::uint32_t taken = 0;  ///< moves only
    std::uint32_t effect = 0; ///< moves only
    bool ended = false;       ///< settled, by the move taken, which ended the session
};
constexpr std::size_t worst_kept = 10;

class Worst {
public:
    /// All outlive it.
    Worst(const plan::Plan& plan, const std::vector<plan::DeviceId>& devices,
          const std::vector<Bounds>& bounds, LevelSets& levels, NearSets& near);

    [[nodiscard]] const std::vector<Measure>& measures() const { return measures_; }
    /// What a move adds, by device, as a number.
    std::uint32_t number_of(const std::vector<UseAdded>& added);
    /// That of a move which adds nothing.
    static constexpr std::uint32_t nothing = 0;

    /// From now on moves are from this situation.
    void look_at(std::uint32_t situation, std::uint32_t levels, std::uint32_t control,
                 const flow::State& state) {
        now_.situation = situation;
        if (now_.levels == levels && control_ == control) return;
        look_elsewhere(levels, control, state);
    }
    /// The same where levels are left out; `near`: what may be there by each player.
    void look_at(std::uint32_t situation, std::uint32_t levels, std::uint32_t control,
                 const flow::State& state, const std::vector<NearStand>& near);
    /// So that several threads can ask `could_learn`.
    void learn();
    /// Whether it could know more after it has looked at a situation, and at all moves from there:
    /// `moves` calls back with what each adds. Nothing is left out there.
    template <class Moves>
    [[nodiscard]] bool could_learn(std::uint32_t levels, std::uint32_t control, bool moves_add,
                                   Moves&& moves) const {
        const auto known = known_.find(Word{levels} << 32 | control);
        if (known == known_.end()) return true;
        const Known& seen = known->second;
        if (seen.moved && !moves_add) return false;
        bool more = false;
        moves([&](std::uint32_t added) {
            more = more || (added == nothing ? !seen.moved : is_more(levels, seen.veils, added));
        });
        return more;
    }
    /// How often what it knows has changed.
    [[nodiscard]] std::size_t changes() const { return changes_; }
    /// Whether a move that adds nothing was looked at where levels and veils are the same.
    [[nodiscard]] bool has_moved() const { return *moved_; }
    void look_at_move(std::uint32_t added, std::uint32_t taken, std::uint32_t effect) {
        if (added == nothing && *moved_) return;
        measure_move(added, taken, effect);
    }
    /// The same where levels are left out; `path` is what goes on near players.
    void look_at_move(std::uint32_t added, std::uint32_t path_number, std::uint32_t taken,
                      std::uint32_t effect);

    /// The most of each levels and veils in settled situations, or of each levels during moves; of
    /// frames the longest only. The largest first, of equal ones the one met first.
    [[nodiscard]] const std::vector<Measured>& worst(std::size_t measure, bool during) const {
        return (during ? during_ : settled_)[measure];
    }

private:
    using Amounts = std::vector<std::int64_t>;          ///< by measure, bytes or microseconds
    static constexpr std::int64_t none = INT64_MIN / 4; ///< adding to it makes no difference
    struct Added {
        Amounts beyond;   ///< what was there
        Amounts launched; ///< in all; `none` where the game is not launched
    };

    [[nodiscard]] bool is_more(std::uint32_t levels, std::uint32_t veils,
                               std::uint32_t added) const;
    [[nodiscard]] Amounts held_by(const std::vector<LevelThere>& levels) const;
    [[nodiscard]] Amounts settled_now();
    std::uint32_t number_of_veils(const std::vector<plan::VeilId>& veils);
    void look_elsewhere(std::uint32_t levels, std::uint32_t control, const flow::State& state);
    void measure_move(std::uint32_t added, std::uint32_t taken, std::uint32_t effect);
    void keep_settled();
    [[nodiscard]] Amounts alone(const std::vector<plan::LevelId>& levels) const;
    [[nodiscard]] Amounts beside(std::uint32_t levels,
                                 const std::vector<plan::LevelId>& near) const;
    void add_staged(const std::vector<plan::LevelId>& asked, Amounts& amounts) const;
    const Amounts& most_alone(std::uint32_t set);
    const Amounts& most_on(std::uint32_t path);
    [[nodiscard]] bool may_be_worse(std::uint32_t added, std::uint32_t number);
    void keep(std::vector<Measured>& worst, std::size_t measure, std::int64_t amount, Measured at);

    const std::vector<Bounds>* bounds_;
    LevelSets* levels_;
    NearSets* near_sets_;
    std::vector<Measure> measures_;
    Interned<Added> added_;
    Interned<std::vector<plan::VeilId>> veils_;
    std::vector<std::int64_t> of_levels_;        ///< by set, then by measure
    std::vector<std::vector<Measured>> settled_; ///< by measure
    std::vector<std::vector<Measured>> during_;
    Amounts least_; ///< by measure: moves that take no more are not kept
    /// Levels and control that were looked at.
    struct Known {
        bool moved = false;      ///< whether from there a move was that adds nothing
        std::uint32_t veils = 0; ///< that are up
    };
    std::unordered_map<Word, Known, MixedHash> known_;
    std::vector<Amounts> of_veils_; ///< by number

    std::size_t changes_ = 0;

    Measured now_; ///< where moves are from
    std::uint32_t control_ = UINT32_MAX;
    Amounts held_;                ///< there, by levels and veils
    std::vector<NearStand> near_; ///< by player; none where nothing is left out
    struct KnownNear {
        std::uint32_t may_be = 0; ///< by all players together
        bool moved = false;
    };
    std::unordered_map<Key, KnownNear, KeyHash> known_near_; ///< like `known_`, by who is near what
    std::vector<Amounts> most_alone_; ///< by set of NearSets: all that its levels take
    std::vector<Amounts> most_on_;    ///< by path of NearSets: the same, with what is staged
    bool* moved_ = nullptr;           ///< in `known_`
};

} // namespace hestrel::explore
