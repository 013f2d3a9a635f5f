#include "plan/firers.hpp"

#include <algorithm>
#include <type_traits>

namespace hestrel::plan {

bool asks_about_one(const Plan& plan, ConditionId condition, bool apart) {
    if (!condition) return false;
    const Condition& of = plan.conditions[condition];
    return of.asks({Operation::at, Operation::inside}) ||
           (apart && of.asks({Operation::open, Operation::frozen})) ||
           std::any_of(of.terms.begin(), of.terms.end(),
                       [](const Term& term) { return term.of_each; });
}

bool tells_players_apart(const Plan& plan) {
    return std::any_of(plan.lists.begin(), plan.lists.end(), [](const StepList& list) {
        return std::any_of(list.steps.begin(), list.steps.end(), [](const Step& step) {
            return std::visit(
                [](const auto& what) {
                    using What = std::decay_t<decltype(what)>;
                    if constexpr (std::is_same_v<What, PlaceStep>)
                        return static_cast<bool>(what.veil);
                    else if constexpr (std::is_same_v<What, ReturnStep>)
                        return static_cast<bool>(what.how.veil);
                    else if constexpr (std::is_same_v<What, OpenStep> ||
                                       std::is_same_v<What, CloseStep> ||
                                       std::is_same_v<What, FreezeStep> ||
                                       std::is_same_v<What, ThawStep>)
                        return what.who == Who::firer;
                    else
                        return false;
                },
                step.what);
        });
    });
}

bool goes_by_firer(const Plan& plan, ListId id, bool all_stand) {
    const StepList& list = plan.lists[id];
    const auto of_each = [&](FactId fact) { return plan.facts[fact].of_each; };
    return std::any_of(list.steps.begin(), list.steps.end(), [&](const Step& step) {
        const auto who = std::visit(
            [](const auto& what) -> Who {
                if constexpr (requires { what.who; }) return what.who;
                return Who::all;
            },
            step.what);
        if (who == Who::firer) return true;
        if (const auto* set = std::get_if<SetStep>(&step.what))
            return std::any_of(set->facts.begin(), set->facts.end(),
                               [&](const Assignment& each) { return of_each(each.fact); });
        if (const auto* reset = std::get_if<ResetStep>(&step.what))
            return std::any_of(reset->facts.begin(), reset->facts.end(), of_each);
        if (const auto* wait = std::get_if<WaitStep>(&step.what))
            return wait->until && (!all_stand || asks_about_one(plan, wait->until, true));
        return std::holds_alternative<ChooseStep>(step.what) ||
               std::holds_alternative<CaseStep>(step.what) ||
               std::holds_alternative<ReturnStep>(step.what);
    });
}

} // namespace hestrel::plan
