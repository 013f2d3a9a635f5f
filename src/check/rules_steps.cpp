// Rules about what steps do to levels, veils and players.

#include "check/context.hpp"

#include <algorithm>

namespace hestrel::check {

using plan::LevelId;
using plan::ThingKind;

namespace {

/// Calls `each(list, index, step)` for every step of the plan.
template <class Each>
void for_steps(const plan::Plan& plan, Each each) {
    for (const plan::StepList& list : plan.lists) {
        for (std::size_t i = 0; i < list.steps.size(); ++i) each(list, i, list.steps[i]);
    }
}

template <class What>
bool any_step(const plan::Plan& plan) {
    return std::any_of(plan.lists.begin(), plan.lists.end(), [](const plan::StepList& list) {
        return std::any_of(list.steps.begin(), list.steps.end(), [](const plan::Step& step) {
            return std::holds_alternative<What>(step.what);
        });
    });
}

bool contains(const std::vector<LevelId>& levels, LevelId level) {
    return std::find(levels.begin(), levels.end(), level) != levels.end();
}

/// Whether a step is sure to unload `level`.
bool unloads(const Context& context, const plan::Step& step, LevelId level) {
    const auto& persists = context.plan.levels;
    if (const auto* unload = std::get_if<plan::UnloadStep>(&step.what)) {
        return std::any_of(unload->levels.begin(), unload->levels.end(), [&](LevelId named) {
            return contains(plan::subtree_of(context.tree, named), level);
        });
    }
    if (persists[level].persist) return false;
    const auto brings = [&](const std::vector<LevelId>& levels) {
        return std::any_of(levels.begin(), levels.end(), [&](LevelId named) {
            return contains(plan::asked_with(context.tree, named), level);
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

void gate_without_load(const Context& context, Report& report) {
    for (const plan::GateId id : context.plan.gates.ids()) {
        std::vector<LevelId> never;
        for (const LevelId level : context.plan.gates[id].needs) {
            if (!context.uses[level].asked) never.push_back(level);
        }
        if (never.empty()) continue;
        report.add(context.plan.gates[id].place, {ThingKind::gate, id.value},
                   "this gate never opens: nothing ever asks for " + names_of(context.plan, never));
    }
}

void steps_after_own_unload(const Context& context, Report& report) {
    for_steps(context.plan, [&](const plan::StepList& list, std::size_t index,
                                const plan::Step& step) {
        if (!list.level || index + 1 == list.steps.size() || !unloads(context, step, list.level))
            return;
        report.add(list.steps[index + 1].place, owner_of(list),
                   "this and what follows is never done: the step before unloads " +
                       context.plan.levels[list.level].name + ", to which the list belongs");
    });
}

void leave_waits(const Context& context, Report& report) {
    for_steps(context.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        if (list.owner != plan::OwnerKind::leave) return;
        const bool waits = std::holds_alternative<plan::WaitStep>(step.what) ||
                           switch_of(step) != nullptr ||
                           std::holds_alternative<plan::ReturnStep>(step.what) ||
                           std::holds_alternative<plan::UnveilStep>(step.what);
        if (waits)
            report.add(step.place, owner_of(list), "leave steps can't wait, and this one may");
    });
}

void return_without_mark(const Context& context, Report& report) {
    if (any_step<plan::MarkStep>(context.plan)) return;
    for_steps(context.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        if (!std::holds_alternative<plan::ReturnStep>(step.what)) return;
        report.add(step.place, owner_of(list),
                   "there is no checkpoint to return to: nothing ever marks one");
    });
}

void loaded_never_shown(const Context& context, Report& report) {
    for (const LevelId id : context.plan.levels.ids()) {
        if (!context.uses[id].loaded || context.uses[id].shown) continue;
        report.add(context.plan.levels[id].place, {ThingKind::level, id.value},
                   context.plan.levels[id].name + " is loaded, but nothing ever shows it");
    }
}

void never_unloaded(const Context& context, Report& report) {
    for (const LevelId id : context.plan.levels.ids()) {
        const Use& use = context.uses[id];
        const plan::Level& level = context.plan.levels[id];
        if (level.persist || !use.asked || use.unloaded || context.shown_without_steps[id])
            continue;
        report.add(level.place, {ThingKind::level, id.value},
                   level.name + " is loaded, but nothing ever unloads it");
    }
}

void persisting_unloaded(const Context& context, Report& report) {
    for_steps(context.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        const auto* unload = std::get_if<plan::UnloadStep>(&step.what);
        if (unload == nullptr) return;
        for (const LevelId level : unload->levels) {
            for (const LevelId each : plan::subtree_of(context.tree, level)) {
                if (!context.plan.levels[each].persist) continue;
                report.add(step.place, owner_of(list),
                           "this unloads " + context.plan.levels[each].name +
                               ", which is meant to persist");
            }
        }
    });
}

void switch_without_veil(const Context& context, Report& report) {
    for_steps(context.plan, [&](const plan::StepList& list, std::size_t index,
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

void veil_left_up(const Context& context, Report& report) {
    std::vector<bool> raised(context.plan.veils.size());
    std::vector<bool> taken(context.plan.veils.size());
    for_steps(context.plan, [&](const plan::StepList&, std::size_t, const plan::Step& step) {
        if (const auto* veil = std::get_if<plan::VeilStep>(&step.what))
            raised[veil->veil.value] = true;
        if (const auto* unveil = std::get_if<plan::UnveilStep>(&step.what))
            taken[unveil->veil.value] = true;
        const plan::SwitchStep* switches = switch_of(step);
        if (switches != nullptr && switches->veil) taken[switches->veil.value] = true;
    });
    for (const plan::VeilId id : context.plan.veils.ids()) {
        if (!raised[id.value] || taken[id.value]) continue;
        report.add(context.plan.veils[id].place, {ThingKind::veil, id.value},
                   context.plan.veils[id].name + " is raised, but nothing takes it down");
    }
}

void freeze_without_thaw(const Context& context, Report& report) {
    if (any_step<plan::ThawStep>(context.plan)) return;
    for_steps(context.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        if (!std::holds_alternative<plan::FreezeStep>(step.what)) return;
        report.add(step.place, owner_of(list),
                   "players are frozen here, but nothing ever thaws them");
    });
}

} // namespace hestrel::check
