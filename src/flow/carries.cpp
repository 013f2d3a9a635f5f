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
    for (const FactId fact : plan_->facts.ids()) known_[fact] = facts.all()[fact];
    restoring_ = {};
    all_.clear();
    touched_.clear();
}

void CarryLog::changed(FactId fact, CarryCause by, const Facts& facts, Carrying how) {
    const FactValue value = facts.all()[fact];
    all_.push_back({fact, by, std::exchange(known_[fact], value), value, how});
}

void CarryLog::note(const Event& event, CarryCause by, const Facts& facts) {
    if (event.kind != EventKind::fact_set) restoring_ = {};
    const FactId fact{event.detail};
    switch (event.kind) {
    case EventKind::fact_set:
    case EventKind::fact_reset: {
        if (!by.known()) { // a route sets it: that is no transition
            known_[fact] = facts.all()[fact];
            return;
        }
        const bool restores = restoring_ && restoring_ == event.run;
        const Carrying set = restores ? Carrying::restored : Carrying::set;
        changed(fact, by, facts, event.kind == EventKind::fact_set ? set : Carrying::reset);
        touched_[event.run].push_back(fact);
        return;
    }
    case EventKind::restored: restoring_ = event.run; return;
    case EventKind::saved:
        for (const FactId each : plan_->facts.ids()) {
            if (plan_->facts[each].lifetime == plan::Lifetime::saved)
                changed(each, by, facts, Carrying::saved);
        }
        return;
    case EventKind::switch_ended: {
        // What is as at the beginning has nothing to carry.
        const std::vector<FactId> touched = std::exchange(touched_[event.run], {});
        for (const FactId each : plan_->facts.ids()) {
            const bool initial = facts.all()[each] == fact_value(plan_->facts[each].initial);
            const bool known = std::find(touched.begin(), touched.end(), each) != touched.end();
            if (by.known() && !initial && !known) changed(each, by, facts, Carrying::kept);
        }
        return;
    }
    default: return;
    }
}

void CarryLog::launched(const Facts& facts) {
    touched_.clear();
    for (const FactId fact : plan_->facts.ids()) {
        const bool initial = known_[fact] == fact_value(plan_->facts[fact].initial);
        const bool saved = plan_->facts[fact].lifetime == plan::Lifetime::saved;
        const FactValue now = facts.all()[fact];
        if (initial && now == known_[fact]) continue;
        changed(fact, {}, facts, saved ? Carrying::restored : Carrying::reset);
    }
}

} // namespace hestrel::flow
