// Rules about what steps do to levels, veils and players.

#include "check/report.hpp"

#include <algorithm>

namespace hestrel::check {

using plan::LevelId;
using plan::ThingKind;

namespace {

template <class What>
bool any_step(const plan::Plan& plan) {
    return std::any_of(plan.lists.begin(), plan.lists.end(), [](const plan::StepList& list) {
        return std::any_of(list.steps.begin(), list.steps.end(), [](const plan::Step& step) {
            return std::holds_alternative<What>(step.what);
        });
    });
}

/// Whether a step is sure to unload `level`.
bool unloads(const Study& study, const plan::Step& step, LevelId level) {
    const auto& persists = study.plan.levels;
    if (const auto* unload = std::get_if<plan::UnloadStep>(&step.what)) {
        return std::any_of(unload->levels.begin(), unload->levels.end(), [&](LevelId named) {
            return contains(plan::subtree_of(study.tree, named), level);
        });
    }
    if (persists[level].persist) return false;
    const auto brings = [&](const std::vector<LevelId>& levels) {
        return std::any_of(levels.begin(), levels.end(), [&](LevelId named) {
            return contains(plan::asked_with(study.tree, named), level);
        });
    };
    if (const auto* keep = std::get_if<plan::KeepOnlyStep>(&step.what))
        return !brings(keep->levels);
    const plan::SwitchStep* switches = switch_of(step);
    if (switches == nullptr || !switches->to) return false;
    if (switches->to == level) return !switches->reuse;
    return !brings(levels_called(step));
}

} // namespace

void gate_without_load(const Study& study, Report& report) {
    for (const plan::GateId id : study.plan.gates.ids()) {
        std::vector<LevelId> never;
        for (const LevelId level : study.plan.gates[id].needs) {
            if (!study.uses[level].asked) never.push_back(level);
        }
        if (never.empty()) continue;
        report.add(study.plan.gates[id].place, {ThingKind::gate, id.value},
                   "this gate never opens: nothing ever asks for " + names_of(study.plan, never));
    }
}

void steps_after_own_unload(const Study& study, Report& report) {
    for_steps(
        study.plan, [&](const plan::StepList& list, std::size_t index, const plan::Step& step) {
            if (!list.level || index + 1 == list.steps.size() || !unloads(study, step, list.level))
                return;
            report.add(list.steps[index + 1].place, owner_of(list),
                       "this and what follows is never done: the step before unloads " +
                           study.plan.levels[list.level].name + ", to which the list belongs");
        });
}

void leave_waits(const Study& study, Report& report) {
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        if (list.owner != plan::OwnerKind::leave) return;
        const bool waits = std::holds_alternative<plan::WaitStep>(step.what) ||
                           switch_of(step) != nullptr ||
                           std::holds_alternative<plan::ReturnStep>(step.what) ||
                           std::holds_alternative<plan::UnveilStep>(step.what);
        if (waits)
            report.add(step.place, owner_of(list), "leave steps can't wait, and this one may");
    });
}

void return_without_mark(const Study& study, Report& report) {
    if (any_step<plan::MarkStep>(study.plan)) return;
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        if (!std::holds_alternative<plan::ReturnStep>(step.what)) return;
        report.add(step.place, owner_of(list),
                   "there is no checkpoint to return to: nothing ever marks one");
    });
}

void loaded_never_shown(const Study& study, Report& report) {
    for (const LevelId id : study.plan.levels.ids()) {
        if (!study.uses[id].loaded || study.uses[id].shown) continue;
        report.add(study.plan.levels[id].place, {ThingKind::level, id.value},
                   study.plan.levels[id].name + " is loaded, but nothing ever shows it");
    }
}

void never_unloaded(const Study& study, Report& report) {
    for (const LevelId id : study.plan.levels.ids()) {
        const study::Use& use = study.uses[id];
        const plan::Level& level = study.plan.levels[id];
        if (level.persist || !use.asked || use.unloaded || study.shown_without_steps[id]) continue;
        report.add(level.place, {ThingKind::level, id.value},
                   level.name + " is loaded, but nothing ever unloads it");
    }
}

void persisting_unloaded(const Study& study, Report& report) {
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        const auto* unload = std::get_if<plan::UnloadStep>(&step.what);
        if (unload == nullptr) return;
        for (const LevelId level : unload->levels) {
            for (const LevelId each : plan::subtree_of(study.tree, level)) {
                if (!study.plan.levels[each].persist) continue;
                report.add(step.place, owner_of(list),
                           "this unloads " + study.plan.levels[each].name +
                               ", which is meant to persist");
            }
        }
    });
}

void switch_without_veil(const Study& study, Report& report) {
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t index,
                              const plan::Step& step) {
        const plan::SwitchStep* switches = switch_of(step);
        if (switches == nullptr || switches->veil) return;
        const bool veiled_before =
            std::any_of(list.steps.begin(), list.steps.begin() + static_cast<std::ptrdiff_t>(index),
                        [](const plan::Step& earlier) {
                            return std::holds_alternative<plan::VeilStep>(earlier.what);
                        });
        if (veiled_before) return;
        report.add(step.place, owner_of(list),
                   "no veil hides this switch, so players see the levels go and come");
    });
}

void veil_left_up(const Study& study, Report& report) {
    std::vector<bool> raised(study.plan.veils.size());
    std::vector<bool> taken(study.plan.veils.size());
    for_steps(study.plan, [&](const plan::StepList&, std::size_t, const plan::Step& step) {
        if (const auto* veil = std::get_if<plan::VeilStep>(&step.what))
            raised[veil->veil.value] = true;
        if (const auto* unveil = std::get_if<plan::UnveilStep>(&step.what))
            taken[unveil->veil.value] = true;
        const plan::SwitchStep* switches = switch_of(step);
        if (switches != nullptr && switches->veil) taken[switches->veil.value] = true;
    });
    for (const plan::VeilId id : study.plan.veils.ids()) {
        if (!raised[id.value] || taken[id.value]) continue;
        report.add(study.plan.veils[id].place, {ThingKind::veil, id.value},
                   study.plan.veils[id].name + " is raised, but nothing takes it down");
    }
}

void freeze_without_thaw(const Study& study, Report& report) {
    if (any_step<plan::ThawStep>(study.plan)) return;
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        if (!std::holds_alternative<plan::FreezeStep>(step.what)) return;
        report.add(step.place, owner_of(list),
                   "players are frozen here, but nothing ever thaws them");
    });
}

// --- items -------------------------------------------------------------------

namespace {

bool same_lists(const plan::Plan& plan, plan::ListId one, plan::ListId other);

bool same_step(const plan::Plan& plan, const plan::Step& one, const plan::Step& other) {
    if (one.what.index() != other.what.index()) return false;
    if (const auto* set = std::get_if<plan::SetStep>(&one.what)) {
        const auto& others = std::get<plan::SetStep>(other.what).facts;
        return std::equal(set->facts.begin(), set->facts.end(), others.begin(), others.end(),
                          [](const plan::Assignment& a, const plan::Assignment& b) {
                              return a.fact == b.fact && a.value == b.value && a.adds == b.adds;
                          });
    }
    if (const auto* choose = std::get_if<plan::ChooseStep>(&one.what)) {
        const auto& others = std::get<plan::ChooseStep>(other.what).branches;
        return std::equal(choose->branches.begin(), choose->branches.end(), others.begin(),
                          others.end(), [&](const plan::Branch& a, const plan::Branch& b) {
                              return a.name == b.name && same_lists(plan, a.steps, b.steps);
                          });
    }
    return std::visit(
        [&](const auto& what) {
            using What = std::decay_t<decltype(what)>;
            if constexpr (std::is_same_v<What, plan::SetStep> ||
                          std::is_same_v<What, plan::ChooseStep>) {
                return false; // looked at above
            } else {
                return what == std::get<What>(other.what);
            }
        },
        one.what);
}

bool same_lists(const plan::Plan& plan, plan::ListId one, plan::ListId other) {
    const auto& steps = plan.lists[one].steps;
    const auto& others = plan.lists[other].steps;
    return std::equal(
        steps.begin(), steps.end(), others.begin(), others.end(),
        [&](const plan::Step& a, const plan::Step& b) { return same_step(plan, a, b); });
}

} // namespace

void items_alike(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    const auto condition = [&](plan::ItemId item) {
        const plan::ConditionId when = plan.items[item].when;
        return when ? plan.conditions[when].text : std::string();
    };
    for (const plan::Menu& menu : plan.menus) {
        for (std::size_t later = 1; later < menu.items.size(); ++later) {
            const plan::ItemId item = menu.items[later];
            if (plan.lists[plan.items[item].steps].steps.empty()) continue;
            const auto twin = std::find_if(
                menu.items.begin(), menu.items.begin() + static_cast<std::ptrdiff_t>(later),
                [&](plan::ItemId other) {
                    return condition(item) == condition(other) &&
                           same_lists(plan, plan.items[item].steps, plan.items[other].steps);
                });
            if (twin == menu.items.begin() + static_cast<std::ptrdiff_t>(later)) continue;
            report.add(plan.items[item].place, {ThingKind::item, item.value},
                       plan.items[item].name + " does exactly what " + plan.items[*twin].name +
                           " does");
        }
    }
}

} // namespace hestrel::check
