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
    const auto same_users = [](const ReadSet::Held& left, const ReadSet::Held& right) {
        return left.users == right.users;
    };
    const auto same_zones = [](const ReadSet::Inside& left, const ReadSet::Inside& right) {
        return left.player == right.player && left.zone_set == right.zone_set;
    };
    return std::equal(one.bits.begin(), one.bits.end(), other.bits.begin(), other.bits.end(),
                      same_bits) &&
           std::equal(one.levels.begin(), one.levels.end(), other.levels.begin(),
                      other.levels.end(), same_bits) &&
           std::equal(one.held.begin(), one.held.end(), other.held.begin(), other.held.end(),
                      same_users) &&
           std::equal(one.inside.begin(), one.inside.end(), other.inside.begin(),
                      other.inside.end(), same_zones);
}

} // namespace

std::uint32_t ReadValues::users(const FewBits& levels) {
    Key key;
    for (const Bits& bits : levels) {
        key.push_back(bits.word);
        key.push_back(static_cast<std::uint32_t>(bits.mask));
        key.push_back(static_cast<std::uint32_t>(bits.mask >> 32));
    }
    return users_.number(std::move(key), levels);
}

std::uint32_t ReadValues::hash(const ReadSet& known) {
    Word hash = 0;
    for (const Bits& bits : known.bits) hash = hash_mix(hash, bits.value);
    for (const Bits& bits : known.levels) hash = hash_mix(hash, bits.value);
    for (const ReadSet::Held& each : known.held) hash = hash_mix(hash, each.held ? 1 : 0);
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
                        asked.bits.size() > 1 || asked.asks_more()});
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
    auto question = alike;
    if (alike == questions_.end()) question = questions_.emplace(questions_.end());
    question->add(added);
    for (; question != questions_.begin() && question[-1].used < question->used; --question)
        std::swap(question[-1], *question);
}

std::uint64_t Memo::answers(const ReadValues& read_values, const Word* row) const {
    std::uint64_t hash = 0;
    for (const Question& question : questions_)
        hash = hash_mix(hash, read_values.hash(question.first->asked, row));
    if (questions_.empty()) {
        for (const Known& each : entries_)
            hash = hash_mix(hash, read_values.hash(each.of->asked, row));
    }
    return hash;
}

} // namespace hestrel::explore
