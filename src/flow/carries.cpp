#include "flow/carries.hpp"

#include "plan/names.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::flow {

using plan::FactId;

std::string name_of(const plan::Plan& plan, const CarryCause& cause) {
    if (!cause.known()) return "launch again";
    if (!cause.list) return "far from " + plan.levels[cause.near].name;
    return plan::list_name(plan, cause.list);
}

void add(Carries& to, const Carries& more) {
    for (const auto& [carried, times] : more) to[carried] += times;
}

void CarryLog::begin(const Facts& facts) {
    known_ = facts.all();
    restoring_ = {};
    all_.clear();
    touched_.clear();
}

void CarryLog::changed(FactSlot slot, CarryCause by, const Facts& facts, Carrying how) {
    const FactValue value = facts.all()[slot];
    all_.push_back({facts.slots().fact(slot), by, std::exchange(known_[slot], value), value, how});
}

void CarryLog::note(const Event& event, CarryCause by, const Facts& facts) {
    if (event.kind != EventKind::fact_set) restoring_ = {};
    const auto initial = [&](FactSlot slot) {
        return fact_value(plan_->facts[facts.slots().fact(slot)].initial);
    };
    switch (event.kind) {
    case EventKind::fact_set:
    case EventKind::fact_reset: {
        const FactSlot slot = facts.slots().of(FactId{event.detail}, event.player);
        if (!by.known()) { // a route sets it: that is no transition
            known_[slot] = facts.all()[slot];
            return;
        }
        const bool restores = restoring_ && restoring_ == event.run;
        const Carrying set = restores ? Carrying::restored : Carrying::set;
        changed(slot, by, facts, event.kind == EventKind::fact_set ? set : Carrying::reset);
        touched_[event.run].push_back(slot);
        return;
    }
    case EventKind::restored: restoring_ = event.run; return;
    case EventKind::saved:
        for (const FactSlot slot : facts.slots().ids()) {
            if (plan_->facts[facts.slots().fact(slot)].lifetime == plan::Lifetime::saved)
                changed(slot, by, facts, Carrying::saved);
        }
        return;
    case EventKind::switch_ended: {
        // What is as at the beginning has nothing to carry.
        const std::vector<FactSlot> touched = std::exchange(touched_[event.run], {});
        for (const FactSlot slot : facts.slots().ids()) {
            const bool changed_here =
                std::find(touched.begin(), touched.end(), slot) != touched.end();
            if (by.known() && facts.all()[slot] != initial(slot) && !changed_here)
                changed(slot, by, facts, Carrying::kept);
        }
        return;
    }
    default: return;
    }
}

void CarryLog::launched(const Facts& facts) {
    touched_.clear();
    for (const FactSlot slot : facts.slots().ids()) {
        const plan::Fact& fact = plan_->facts[facts.slots().fact(slot)];
        const bool initial = known_[slot] == fact_value(fact.initial);
        const bool saved = fact.lifetime == plan::Lifetime::saved;
        if (initial && facts.all()[slot] == known_[slot]) continue;
        changed(slot, {}, facts, saved ? Carrying::restored : Carrying::reset);
    }
}

} // namespace hestrel::flow
