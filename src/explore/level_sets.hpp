#pragma once
// Which levels are there, in which condition: a set of levels is a row of a few bits for each level
// of the plan, kept once, and stands in situations by its number. So a move can ask about single
// levels, and change single ones, whatever else is there.

#include "explore/bits.hpp"
#include "explore/interned.hpp"
#include "explore/situation.hpp"
#include "explore/state_table.hpp"
#include "plan/level_tree.hpp"

#include <bit>
#include <vector>

namespace hestrel::explore {

class LevelSets {
public:
    /// Both outlive it.
    LevelSets(const plan::LevelTree& tree, Pages& pages);

    std::uint32_t number(const std::vector<LevelThere>& levels);
    /// The set that another becomes by what is written; it may be the same.
    std::uint32_t changed(std::uint32_t set, const FewBits& writes);

    /// The same without making one, in `scratch`; UINT32_MAX where there is none.
    [[nodiscard]] std::uint32_t known_changed(std::uint32_t set, const FewBits& writes,
                                              std::vector<Word>& scratch) const;

    [[nodiscard]] std::size_t size() const { return rows_.size(); }
    [[nodiscard]] std::size_t words() const { return words_; }
    [[nodiscard]] const Word* row(std::uint32_t set) const { return rows_[set]; }
    [[nodiscard]] const Records<Word>& rows() const { return rows_.rows(); }
    /// The set that has this row.
    std::uint32_t number_of_row(const Word* row) { return rows_.add(row, rows_.hash(row)).number; }
    /// To where pages are taken from now.
    void move_out() { rows_.move_out(); }
    /// All that are there, in plan order.
    [[nodiscard]] std::vector<LevelThere> levels(std::uint32_t set) const;
    /// Calls `what(level, shown)` for each of them.
    template <class What>
    void for_levels(std::uint32_t set, What&& what) const {
        const Word* row = rows_[set];
        for (std::uint32_t word = 0; word < words_; ++word) {
            for (Word left = row[word]; left != 0;) {
                const auto bit = static_cast<std::uint32_t>(std::countr_zero(left));
                const std::uint32_t shift = bit / level_bits * level_bits;
                what(plan::LevelId{word * levels_in_word + shift / level_bits},
                     static_cast<std::uint32_t>(left >> shift & level_mask));
                left &= ~(level_mask << shift);
            }
        }
    }
    [[nodiscard]] bool is_there(std::uint32_t set, plan::LevelId level) const {
        const std::uint32_t code = code_of(rows_[set], level);
        return code != absent && code != leaving;
    }
    [[nodiscard]] bool is_shown(std::uint32_t set, plan::LevelId level) const {
        return shows(code_of(rows_[set], level));
    }
    /// It was asked for, and is not on its way any more.
    [[nodiscard]] bool has_come(std::uint32_t set, plan::LevelId level) const {
        return is_there(set, level) && !there(level, code_of(rows_[set], level)).pending;
    }
    [[nodiscard]] bool is_wanted(std::uint32_t set, plan::LevelId level) const {
        return there(level, code_of(rows_[set], level)).wanted;
    }
    [[nodiscard]] static bool shows(std::uint32_t code) { return (code & 7) == shown; }
    /// The bits of a level.
    [[nodiscard]] static Field field(plan::LevelId level) {
        return {level.value / levels_in_word, level.value % levels_in_word * level_bits,
                level_mask};
    }

    /// Those of several, sorted by word.
    [[nodiscard]] static FewBits all_bits(const std::vector<plan::LevelId>& levels);

    /// All of a set's row.
    [[nodiscard]] FewBits whole(std::uint32_t set) const;

    /// What is on its way, leaves or waits to be attached, with all above it, by number: where that
    /// is the same the same goes on. 0: nothing.
    [[nodiscard]] std::uint32_t going_on(std::uint32_t set) {
        return set < going_on_.size() ? going_on_[set] : find_going_on(set);
    }
    /// The same for sets that are known to `learn`.
    [[nodiscard]] std::uint32_t known_going_on(std::uint32_t set) const { return going_on_[set]; }
    /// Of all sets, so that several threads can ask.
    void learn() {
        if (size() > going_on_.size()) find_going_on(static_cast<std::uint32_t>(size() - 1));
    }
    [[nodiscard]] const std::vector<plan::LevelId>& what_goes_on(std::uint32_t number) const {
        return goings_on_[number];
    }

private:
    static constexpr std::uint32_t level_bits = 4;
    static constexpr std::uint32_t levels_in_word = 64 / level_bits;
    static constexpr Word level_mask = (Word{1} << level_bits) - 1;
    /// What the lower three bits say; the fourth: it is blocked.
    enum Code : std::uint32_t { absent, ready, wanted, shown, pending, pending_wanted, leaving };
    static constexpr std::uint32_t blocked = 8;

    [[nodiscard]] static std::uint32_t code_of(const LevelThere& of);
    [[nodiscard]] static std::uint32_t code_of(const Word* row, plan::LevelId level) {
        return static_cast<std::uint32_t>(field(level).get(row));
    }
    [[nodiscard]] static LevelThere there(plan::LevelId level, std::uint32_t code);
    std::uint32_t find_going_on(std::uint32_t set);

    const plan::LevelTree* tree_;
    std::size_t words_;
    StateTable rows_;
    std::vector<Word> scratch_;
    std::vector<std::uint32_t> going_on_; ///< by set
    Interned<std::vector<plan::LevelId>> goings_on_;
};

} // namespace hestrel::explore
