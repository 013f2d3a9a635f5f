#include "explore/memo.hpp"

#include <algorithm>

namespace hestrel::explore {

namespace {

/// So few entries are found sooner by looking at each.
constexpr std::size_t few_cases = 4;
constexpr std::size_t first_case_slots = 8;

bool ask_the_same(const ReadSet& one, const ReadSet& other) {
    const auto same_bits = [](const Bits& left, const Bits& right) {
        return left.word == right.word && left.mask == right.mask;
    };
    const auto same_zones = [](const ReadSet::Inside& left, const ReadSet::Inside& right) {
        return left.player == right.player && left.zone_set == right.zone_set;
    };
    return std::equal(one.bits.begin(), one.bits.end(), other.bits.begin(), other.bits.end(),
                      same_bits) &&
           std::equal(one.inside.begin(), one.inside.end(), other.inside.begin(),
                      other.inside.end(), same_zones);
}

} // namespace

void ReadSet::ask_for(const Field& field, const Word* row) {
    auto at = bits.begin();
    while (at != bits.end() && at->word < field.word) ++at;
    if (at == bits.end() || at->word != field.word) at = bits.insert(at, {field.word, 0, 0});
    at->mask |= field.mask();
    at->value = row[field.word] & at->mask;
}

std::uint32_t ReadValues::hash(const ReadSet& known) {
    Word hash = 0;
    for (const Bits& bits : known.bits) hash = hash_mix(hash, bits.value);
    for (const ReadSet::Inside& inside : known.inside) hash = hash_mix(hash, inside.part);
    return static_cast<std::uint32_t>(hash);
}

const MemoEntry* Memo::Question::find(const ReadValues& read_values, const Word* row) const {
    const std::uint32_t hash = read_values.hash(first->asked, row);
    const std::size_t mask = slots.size() - 1;
    for (std::size_t at = hash & mask; slots[at].of != nullptr; at = (at + 1) & mask) {
        if (slots[at].hash == hash && read_values.same(slots[at].of->asked, row))
            return slots[at].of;
    }
    return nullptr;
}

void Memo::Question::add(const MemoEntry* added) {
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
    put(slots, {added, ReadValues::hash(added->asked)});
    ++used;
    if (first == nullptr) first = added;
}

const MemoEntry* Memo::find_among_many(const ReadValues& read_values, const Word* row) const {
    for (const Question& question : questions_) {
        if (const MemoEntry* found = question.find(read_values, row)) return found;
    }
    return nullptr;
}

void Memo::add(const MemoEntry* added) {
    const ReadSet& asked = added->asked;
    entries_.push_back({asked.bits.empty() ? Bits{} : asked.bits.front(), added,
                        asked.bits.size() > 1 || !asked.inside.empty()});
    if (!questions_.empty()) {
        ask_as_well(added);
    } else if (entries_.size() > few_cases) {
        for (const Known& each : entries_) ask_as_well(each.of);
    }
}

void Memo::ask_as_well(const MemoEntry* added) {
    const auto alike =
        std::find_if(questions_.begin(), questions_.end(), [&](const Question& question) {
            return ask_the_same(question.first->asked, added->asked);
        });
    (alike == questions_.end() ? questions_.emplace_back() : *alike).add(added);
}

} // namespace hestrel::explore
