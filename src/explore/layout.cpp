#include "explore/layout.hpp"

#include "explore/stands.hpp"

#include <algorithm>
#include <bit>

namespace hestrel::explore {

namespace {

constexpr std::uint32_t word_bits = 64;
// Of what is interned. More sets of levels and more states of lists would have no room in memory.
constexpr std::uint32_t level_set_bits = 28;
constexpr std::uint32_t control_bits = 23;
constexpr std::uint32_t stand_bits = 32;

std::uint32_t bits_for(std::uint64_t values) {
    return values <= 1 ? 1 : static_cast<std::uint32_t>(std::bit_width(values - 1));
}

} // namespace

FactField::FactField(const plan::Fact& fact) {
    constexpr flow::FactValue largest = 1'000'000'000; // where sums end (section 12)
    switch (fact.initial.kind) {
    case plan::ValueKind::word: {
        words_.push_back(flow::fact_value(fact.initial));
        for (const plan::WordId word : fact.values) {
            const flow::FactValue value{word.value};
            if (std::find(words_.begin(), words_.end(), value) == words_.end())
                words_.push_back(value);
        }
        bits_ = bits_for(words_.size());
        break;
    }
    case plan::ValueKind::number: {
        const auto [least, most] = fact.range.value_or(std::pair{-largest, largest});
        const flow::FactValue initial = flow::fact_value(fact.initial);
        least_ = std::min(least, initial);
        bits_ = bits_for(static_cast<std::uint64_t>(std::max(most, initial) - least_) + 1);
        break;
    }
    default: break; // true or false
    }
}

flow::FactValue FactField::get(const Word* row) const {
    const Word number = field.get(row);
    return words_.empty() ? least_ + static_cast<flow::FactValue>(number) : words_[number];
}

void FactField::set(Word* row, flow::FactValue value) const {
    if (words_.empty()) {
        field.set(row, static_cast<Word>(value - least_));
    } else {
        const auto found = std::find(words_.begin(), words_.end(), value);
        field.set(row, static_cast<Word>(found - words_.begin()));
    }
}

Layout::Layout(const plan::Plan& plan, std::size_t player_count)
    : slots(plan, player_count), facts(slots.size()), saved(slots.size()),
      spent(plan.triggers.size()) {
    levels = take(level_set_bits);
    control = take(control_bits);
    on_the_way = take(1);
    moves = levels.mask() | control.mask() | on_the_way.mask();
    for (std::size_t player = 0; player < player_count; ++player)
        players.push_back(take(stand_bits));
    for (const Field& player : players) {
        kinds.push_back(
            {player.word, player.shift + Stands::place_bits, (Word{1} << Stands::kind_bits) - 1});
    }
    for (const flow::FactSlot slot : slots.ids()) {
        const plan::Fact& fact = plan.facts[slots.fact(slot)];
        facts[slot] = FactField(fact);
        facts[slot].field = take(facts[slot].bits());
        if (fact.lifetime != plan::Lifetime::saved) continue;
        saved_facts.push_back(slot);
        saved[slot] = FactField(fact);
        saved[slot].field = take(saved[slot].bits());
    }
    for (const plan::TriggerId trigger : plan.triggers.ids()) {
        if (!plan.triggers[trigger].once) continue;
        once_triggers.push_back(trigger);
        spent[trigger] = take(1);
    }
    words = left_.size();
}

/// The first word that has so many bits left.
Field Layout::take(std::uint32_t bits) {
    std::size_t word = 0;
    while (word < left_.size() && left_[word] < bits) ++word;
    if (word == left_.size()) left_.push_back(word_bits);
    Field field{static_cast<std::uint32_t>(word), word_bits - left_[word],
                bits == word_bits ? ~Word{0} : (Word{1} << bits) - 1};
    left_[word] -= bits;
    return field;
}

} // namespace hestrel::explore
