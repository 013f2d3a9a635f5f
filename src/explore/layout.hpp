#pragma once
// How a situation is packed into a few words, so that telling two apart compares numbers only: what
// is many-sided (which levels are there, open menus, veils, where a player is) is interned and
// stands there by number, a fact or a spent trigger as its own few bits.

#include "explore/bits.hpp"
#include "flow/facts.hpp"
#include "plan/plan.hpp"
#include "plan/storage.hpp"

#include <cstdint>
#include <vector>

namespace hestrel::explore {

/// A fact's values as numbers from 0.
class FactField {
public:
    FactField() = default;
    explicit FactField(const plan::Fact& fact);
    [[nodiscard]] std::uint32_t bits() const { return bits_; }
    [[nodiscard]] flow::FactValue get(const Word* row) const;
    void set(Word* row, flow::FactValue value) const;
    Field field;

private:
    std::uint32_t bits_ = 1;
    flow::FactValue least_ = 0;
    std::vector<flow::FactValue> words_; ///< of a word fact: what each number stands for
};

/// Where everything stands in a row.
struct Layout {
    Layout(const plan::Plan& plan, std::size_t player_count);

    std::size_t words = 0;      ///< of a row
    Word moves = 0;             ///< of the first word, by which moves are looked up
    Field levels;               ///< which levels are there
    Field control;              ///< what steps have left (flow::State)
    Field on_the_way;           ///< somebody is in the middle of a path
    std::vector<Field> players; ///< where each is (Stands)
    std::vector<Field> kinds;   ///< the upper bits of those
    flow::FactSlots slots;
    plan::Table<flow::FactSlot, FactField> facts;
    plan::Table<flow::FactSlot, FactField> saved; ///< in the saved store; only of lifetime saved
    plan::Table<plan::TriggerId, Field> spent;    ///< only of those with `once`
    std::vector<flow::FactSlot> saved_facts;      ///< of lifetime saved
    std::vector<plan::TriggerId> once_triggers;

private:
    Field take(std::uint32_t bits);
    std::vector<std::uint32_t> left_; ///< by word: bits not taken yet
};

/// A number that was just made. Throws plan::NoRoom where a row has no room for it.
inline std::uint32_t fitting(std::uint32_t number, const Field& field) {
    if (number > field.low) throw plan::NoRoom();
    return number;
}

} // namespace hestrel::explore
