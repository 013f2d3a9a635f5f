#include "flow/watches.hpp"

#include "plan/questions.hpp"

namespace hestrel::flow {

Watches::Watches(const plan::Plan& plan)
    : on_fact(plan.facts.size()), on_level(plan.levels.size()), on_menu(plan.menus.size()) {
    for (const plan::TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        const bool lasts =
            trigger.fires == plan::Fires::while_inside || trigger.fires == plan::Fires::when_true;
        if (!lasts) continue;
        by_state.push_back(id);
        if (trigger.in.empty()) always_live.push_back(id);
        if (!trigger.when) continue;
        for (const plan::Term& term : plan.conditions[trigger.when].terms) {
            switch (term.operation) {
            case plan::Operation::fact: on_fact[term.fact].push_back(id); break;
            case plan::Operation::shown:
            case plan::Operation::ready:
            case plan::Operation::delivered:
                for (const plan::LevelId level : plan::levels_of(plan, term))
                    on_level[level].push_back(id);
                break;
            case plan::Operation::veiled: on_veils.push_back(id); break;
            case plan::Operation::speed:
            case plan::Operation::at:
            case plan::Operation::inside: on_movement.push_back(id); break;
            case plan::Operation::open: on_menu[term.menu].push_back(id); break;
            case plan::Operation::frozen: on_freezes.push_back(id); break;
            default: break;
            }
        }
    }
}

} // namespace hestrel::flow
