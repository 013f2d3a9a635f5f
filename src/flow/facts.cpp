#include "flow/facts.hpp"

#include <algorithm>

namespace hestrel::flow {

using plan::FactId;

FactValue fact_value(const plan::Value& value) {
    return value.kind == plan::ValueKind::word ? FactValue{value.word.value}
                                               : static_cast<FactValue>(value.number);
}

plan::Assignment assignment_of(const plan::Plan& plan, FactId fact, FactValue value) {
    plan::Assignment set;
    set.fact = fact;
    set.value.kind = plan.facts[fact].initial.kind;
    if (set.value.kind == plan::ValueKind::word) {
        set.value.word = plan::WordId{static_cast<std::size_t>(value)};
    } else {
        set.value.number = static_cast<double>(value);
    }
    return set;
}

FactSlots::FactSlots(const plan::Plan& plan, std::size_t players) {
    for (const FactId id : plan.facts.ids()) {
        first_.push_back(facts_.size());
        const std::size_t count = plan.facts[id].of_each ? players : 1;
        for (std::size_t i = 0; i < count; ++i) facts_.push(id);
    }
    first_.push_back(facts_.size());
}

PlayerId FactSlots::player(FactSlot slot) const {
    const FactId fact = facts_[slot];
    const bool of_each = first_[fact.value + 1] - first_[fact.value] > 1;
    return of_each ? PlayerId{slot.value - first_[fact.value]} : PlayerId{};
}

KeptStore kept_store(const plan::Plan& plan, const SavedStore& store,
                     const std::vector<std::string>& players) {
    KeptStore kept;
    kept.checkpoint = store.checkpoint;
    const FactSlots slots(plan, players.size());
    for (const FactId id : plan.facts.ids()) {
        const bool of_each = plan.facts[id].of_each;
        kept.facts.push_back(of_each ? fact_value(plan.facts[id].initial)
                                     : store.facts[slots.of(id, {})]);
        if (!of_each || plan.facts[id].lifetime != plan::Lifetime::saved) continue;
        for (std::size_t player = 0; player < players.size(); ++player)
            kept.of_players[{id, players[player]}] = store.facts[slots.of(id, PlayerId{player})];
    }
    return kept;
}

SavedStore saved_store(const plan::Plan& plan, const KeptStore& kept,
                       const std::vector<std::string>& players) {
    SavedStore store;
    store.checkpoint = kept.checkpoint;
    const FactSlots slots(plan, players.size());
    for (const FactSlot slot : slots.ids()) {
        const FactId fact = slots.fact(slot);
        const std::size_t player =
            plan.facts[fact].of_each ? slot.value - slots.of(fact, {}).value : players.size();
        const auto own = player < players.size() ? kept.of_players.find({fact, players[player]})
                                                 : kept.of_players.end();
        store.facts.push(own == kept.of_players.end() ? kept.facts[fact.value] : own->second);
    }
    return store;
}

Facts::Facts(const plan::Plan& plan, std::size_t players, std::optional<SavedStore> saved)
    : plan_(&plan), slots_(plan, players), values_(slots_.size()), saved_(std::move(saved)) {
    for (const FactSlot slot : slots_.ids()) {
        values_[slot] = fact_value(fact(slot).initial);
        if (saved_ && fact(slot).lifetime == plan::Lifetime::saved)
            values_[slot] = saved_->facts[slot];
    }
}

std::vector<FactValue> Facts::all_for(PlayerId player) const {
    std::vector<FactValue> values;
    for (const FactId id : plan_->facts.ids()) values.push_back(values_[slots_.of(id, player)]);
    return values;
}

Facts::Assigned Facts::assign(const plan::Assignment& assignment, FactSlot slot) {
    ask(slot);
    const plan::Fact& of = fact(slot);
    const FactValue given = fact_value(assignment.value);
    const FactValue wanted = assignment.adds ? values_[slot] + given : given;
    FactValue value = wanted;
    // Where the plan gives no range, sums end where values do (section 12).
    constexpr FactValue largest = 1'000'000'000;
    if (of.initial.kind == plan::ValueKind::number) {
        const auto [least, most] = of.range.value_or(std::pair{-largest, largest});
        value = std::clamp(value, least, most);
    }
    Assigned done{value != values_[slot], value != wanted};
    values_[slot] = value;
    return done;
}

bool Facts::reset(FactSlot slot) {
    ask(slot);
    const FactValue initial = fact_value(fact(slot).initial);
    return std::exchange(values_[slot], initial) != initial;
}

void Facts::save(const std::optional<Checkpoint>& checkpoint) {
    SavedStore store;
    for (const FactSlot slot : slots_.ids()) {
        const bool kept = fact(slot).lifetime == plan::Lifetime::saved;
        if (kept) ask(slot);
        if (kept && asked_ != nullptr) asked_->saved.push_back(slot);
        store.facts.push(kept ? values_[slot] : fact_value(fact(slot).initial));
    }
    store.checkpoint = checkpoint;
    saved_ = std::move(store);
}

std::optional<std::vector<FactSlot>> Facts::restore() {
    if (!saved_) return std::nullopt;
    std::vector<FactSlot> changed;
    for (const FactSlot slot : slots_.ids()) {
        if (fact(slot).lifetime != plan::Lifetime::saved) continue;
        ask(slot);
        if (asked_ != nullptr) asked_->saved.push_back(slot);
        if (values_[slot] == saved_->facts[slot]) continue;
        values_[slot] = saved_->facts[slot];
        changed.push_back(slot);
    }
    return changed;
}

} // namespace hestrel::flow
