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

Facts::Facts(const plan::Plan& plan, std::optional<SavedStore> saved)
    : plan_(&plan), values_(plan.facts.size()), saved_(std::move(saved)) {
    for (const FactId id : plan.facts.ids()) {
        values_[id] = fact_value(plan.facts[id].initial);
        if (saved_ && plan.facts[id].lifetime == plan::Lifetime::saved)
            values_[id] = saved_->facts[id.value];
    }
}

Facts::Assigned Facts::assign(const plan::Assignment& assignment) {
    ask(assignment.fact);
    const plan::Fact& fact = plan_->facts[assignment.fact];
    const FactValue given = fact_value(assignment.value);
    FactValue value = assignment.adds ? values_[assignment.fact] + given : given;
    // Where the plan gives no range, sums end where values do (section 11).
    constexpr FactValue largest = 1'000'000'000;
    if (fact.initial.kind == plan::ValueKind::number) {
        const auto [least, most] = fact.range.value_or(std::pair{-largest, largest});
        value = std::clamp(value, least, most);
    }
    const FactValue wanted = assignment.adds ? values_[assignment.fact] + given : given;
    Assigned done{value != values_[assignment.fact], value != wanted};
    values_[assignment.fact] = value;
    return done;
}

bool Facts::reset(FactId fact) {
    ask(fact);
    const FactValue initial = fact_value(plan_->facts[fact].initial);
    if (values_[fact] == initial) return false;
    values_[fact] = initial;
    return true;
}

void Facts::save(const std::optional<Checkpoint>& checkpoint) {
    SavedStore store;
    for (const FactId id : plan_->facts.ids()) {
        const bool kept = plan_->facts[id].lifetime == plan::Lifetime::saved;
        if (kept) ask(id);
        if (kept && asked_ != nullptr) asked_->saved.push_back(id);
        store.facts.push_back(kept ? values_[id] : fact_value(plan_->facts[id].initial));
    }
    store.checkpoint = checkpoint;
    saved_ = std::move(store);
}

std::optional<std::vector<FactId>> Facts::restore() {
    if (!saved_) return std::nullopt;
    std::vector<FactId> changed;
    for (const FactId id : plan_->facts.ids()) {
        if (plan_->facts[id].lifetime != plan::Lifetime::saved) continue;
        ask(id);
        if (asked_ != nullptr) asked_->saved.push_back(id);
        if (values_[id] == saved_->facts[id.value]) continue;
        values_[id] = saved_->facts[id.value];
        changed.push_back(id);
    }
    return changed;
}

} // namespace hestrel::flow
