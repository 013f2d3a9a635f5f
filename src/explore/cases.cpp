#include "explore/cases.hpp"

#include <algorithm>

namespace hestrel::explore {

namespace {

/// So few cases are found sooner by looking at each.
constexpr std::size_t few_cases = 4;
constexpr std::size_t first_case_slots = 8;

bool ask_the_same(const Asked& one, const Asked& other) {
    const auto same_bits = [](const Bits& left, const Bits& right) {
        return left.word == right.word && left.mask == right.mask;
    };
    const auto same_zones = [](const Asked::Inside& left, const Asked::Inside& right) {
        return left.player == right.player && left.zone_set == right.zone_set;
    };
    return std::equal(one.bits.begin(), one.bits.end(), other.bits.begin(), other.bits.end(),
                      same_bits) &&
           std::equal(one.inside.begin(), one.inside.end(), other.inside.begin(),
                      other.inside.end(), same_zones);
}

} // namespace

void Asked::ask_for(const Field& field, const Word* row) {
    auto at = bits.begin();
    while (at != bits.end() && at->word < field.word) ++at;
    if (at == bits.end() || at->word != field.word) at = bits.insert(at, {field.word, 0, 0});
    at->mask |= field.mask();
    at->value = row[field.word] & at->mask;
}

std::uint32_t Answers::hash(const Asked& known) {
    Word hash = 0;
    for (const Bits& bits : known.bits) hash = stirred(hash, bits.value);
    for (const Asked::Inside& inside : known.inside) hash = stirred(hash, inside.part);
    return static_cast<std::uint32_t>(hash);
}

const Case* Cases::Question::find(const Answers& answers, const Word* row) const {
    const std::uint32_t hash = answers.hash(first->asked, row);
    const std::size_t mask = slots.size() - 1;
    for (std::size_t at = hash & mask; slots[at].of != nullptr; at = (at + 1) & mask) {
        if (slots[at].hash == hash && answers.same(slots[at].of->asked, row)) return slots[at].of;
    }
    return nullptr;
}

void Cases::Question::add(const Case* added) {
    const auto put = [](std::vector<Slot>& into, const Slot& slot) {
        const std::size_t mask = into.size() - 1;
        std::size_t at = slot.hash & mask;
        while (into[at].of != nullptr) at = (at + 1) & mask;
        into[at] = slot;
    };
    if (2 * (used + 1) > slots.size()) {
        std::vector<Slot> larger(std::max(first_case_slots, 2 * slots.size()));
        for (const Slot& slot : slots) {
            if (slot.of != nullptr) put(larger, slot);
        }
        slots = std::move(larger);
    }
    put(slots, {added, Answers::hash(added->asked)});
    ++used;
    if (first == nullptr) first = added;
}

const Case* Cases::find_among_many(const Answers& answers, const Word* row) const {
    for (const Question& question : questions_) {
        if (const Case* found = question.find(answers, row)) return found;
    }
    return nullptr;
}

void Cases::add(const Case* added) {
    const Asked& asked = added->asked;
    cases_.push_back({asked.bits.empty() ? Bits{} : asked.bits.front(), added,
                      asked.bits.size() > 1 || !asked.inside.empty()});
    if (!questions_.empty()) {
        ask_as_well(added);
    } else if (cases_.size() > few_cases) {
        for (const Known& each : cases_) ask_as_well(each.of);
    }
}

void Cases::ask_as_well(const Case* added) {
    const auto alike =
        std::find_if(questions_.begin(), questions_.end(), [&](const Question& question) {
            return ask_the_same(question.first->asked, added->asked);
        });
    (alike == questions_.end() ? questions_.emplace_back() : *alike).add(added);
}

} // namespace hestrel::explore
