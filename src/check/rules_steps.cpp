// Rules about what steps do to levels, veils and players.

#include "check/report.hpp"
#include "plan/names.hpp"

#include <algorithm>
#include <string>
#include <unordered_map>

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
        for (const plan::GroupId group : study.plan.gates[id].any_of) {
            const bool any = plan::any_of_group(
                study.plan, group, [&](LevelId level) { return study.uses[level].asked; });
            if (!any) append_new(never, study.plan.groups[group].levels);
        }
        if (never.empty()) continue;
        report.add(study.plan.gates[id].place, {ThingKind::gate, id.value},
                   "this gate never opens: nothing ever asks for " + names_of(study.plan, never));
    }
}

void steps_after_own_unload(const Study& study, Report& report) {
    for_steps(
        study.plan, [&](const plan::StepList& list, std::size_t index, const plan::Step& step) {
            const std::vector<LevelId> in = plan::levels_of(list);
            const bool own = !in.empty() && std::all_of(in.begin(), in.end(), [&](LevelId level) {
                return unloads(study, step, level);
            });
            if (index + 1 == list.steps.size() || !own) return;
            report.add(list.steps[index + 1].place, owner_of(list),
                       "this and what follows is never done: the step before unloads " +
                           study.plan.levels[list.level].name + ", to which the list belongs");
        });
}

void leave_waits(const Study& study, Report& report) {
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        if (list.owner != plan::OwnerKind::leave) return;
        const auto* place = std::get_if<plan::PlaceStep>(&step.what);
        const bool waits = std::holds_alternative<plan::WaitStep>(step.what) ||
                           (place != nullptr && place->veil) || switch_of(step) != nullptr ||
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

namespace {

/// The first so many values that a fact can have and that are not among those told.
std::vector<std::string> values_lacking(const plan::Plan& plan, const plan::CaseStep& cases,
                                        std::size_t most) {
    const plan::Fact& fact = plan.facts[cases.by];
    std::vector<std::string> lacking;
    const auto look_for = [&](const plan::Value& value, const std::string& text) {
        if (lacking.size() < most && !contains(cases.told, value)) lacking.push_back(text);
    };
    switch (fact.initial.kind) {
    case plan::ValueKind::flag:
        look_for({plan::ValueKind::flag, 0, {}}, "false");
        look_for({plan::ValueKind::flag, 1, {}}, "true");
        break;
    case plan::ValueKind::word:
        for (const plan::WordId word : fact.values)
            look_for({plan::ValueKind::word, 0, word}, plan.words[word]);
        break;
    case plan::ValueKind::number:
        if (!fact.range) break; // whether it can have others is not told
        for (auto number = fact.range->first; number <= fact.range->second && lacking.size() < most;
             ++number)
            look_for({plan::ValueKind::number, static_cast<double>(number), {}},
                     std::to_string(number));
    }
    return lacking;
}

} // namespace

void value_without_level(const Study& study, Report& report) {
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        const auto* cases = std::get_if<plan::CaseStep>(&step.what);
        if (cases == nullptr || !cases->by || cases->all_told) return;
        constexpr std::size_t most = 5;
        std::vector<std::string> lacking = values_lacking(study.plan, *cases, most + 1);
        if (lacking.empty()) return;
        if (lacking.size() > most) lacking.back() = "another value";
        report.add(step.place, owner_of(list),
                   "no level is named where " + study.plan.facts[cases->by].name + " is " +
                       plan::joined(lacking, " or "));
    });
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
    for_steps(study.plan,
              [&](const plan::StepList& list, std::size_t index, const plan::Step& step) {
                  const plan::SwitchStep* switches = switch_of(step);
                  if (switches == nullptr || switches->veil) return;
                  const bool veiled_before =
                      any_before(study.plan, list, index, [](const plan::Step& earlier) {
                          return std::holds_alternative<plan::VeilStep>(earlier.what);
                      });
                  if (veiled_before) return;
                  report.add(step.place, owner_of(list),
                             "no veil hides this switch, so players see the levels go and come");
              });
}

void veil_left_up(const Study& study, Report& report) {
    std::vector<const plan::Step*> raised(study.plan.veils.size());
    std::vector<bool> taken(study.plan.veils.size());
    for_steps(study.plan, [&](const plan::StepList&, std::size_t, const plan::Step& step) {
        const auto* veil = std::get_if<plan::VeilStep>(&step.what);
        if (veil != nullptr && raised[veil->veil.value] == nullptr)
            raised[veil->veil.value] = &step;
        if (const auto* unveil = std::get_if<plan::UnveilStep>(&step.what))
            taken[unveil->veil.value] = true;
        const plan::SwitchStep* switches = switch_of(step);
        if (switches != nullptr && switches->veil) taken[switches->veil.value] = true;
    });
    for (const plan::VeilId id : study.plan.veils.ids()) {
        if (raised[id.value] == nullptr || taken[id.value]) continue;
        report.add(raised[id.value]->place, {ThingKind::veil, id.value},
                   "this raises " + study.plan.veils[id].name + ", and nothing takes it down");
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

void switch_to_own_level(const Study& study, Report& report) {
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        const plan::SwitchStep* switches = switch_of(step);
        const bool by_player =
            list.owner == plan::OwnerKind::trigger || list.owner == plan::OwnerKind::item;
        if (switches == nullptr || !by_player || switches->reuse || !list.level ||
            switches->to != list.level)
            return;
        report.add(step.place, owner_of(list),
                   "this switches to " + study.plan.levels[list.level].name +
                       ", the level that it belongs to: it leaves and comes back as new");
    });
}

void set_never_saved(const Study& study, Report& report) {
    if (any_step<plan::SaveStep>(study.plan)) return;
    for_steps(study.plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        const auto* set = std::get_if<plan::SetStep>(&step.what);
        if (set == nullptr) return;
        for (const plan::Assignment& each : set->facts) {
            const plan::Fact& fact = study.plan.facts[each.fact];
            if (fact.lifetime != plan::Lifetime::saved) continue;
            report.add(each.place, owner_of(list),
                       "this sets " + fact.name + ", which is to be saved, and no step ever saves");
        }
    });
}

// --- menus -------------------------------------------------------------------

namespace {

/// By item: whether it closes its menu, or leads its player elsewhere.
plan::Table<plan::ItemId, bool> leading_out(const plan::Plan& plan) {
    plan::Table<plan::ItemId, bool> out(plan.items.size());
    for (const plan::ItemId id : plan.items.ids()) out[id] = !plan.items[id].stays;
    for_steps(plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        if (list.owner != plan::OwnerKind::item) return;
        const plan::ItemId item{list.index};
        const auto* close = std::get_if<plan::CloseStep>(&step.what);
        if ((close != nullptr && close->menu == plan.items[item].menu) ||
            switch_of(step) != nullptr || std::holds_alternative<plan::ReturnStep>(step.what) ||
            std::holds_alternative<plan::PlaceStep>(step.what) ||
            std::holds_alternative<plan::OpenStep>(step.what) ||
            std::holds_alternative<plan::EndStep>(step.what))
            out[item] = true;
    });
    return out;
}

} // namespace

void menu_without_way_out(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    std::vector<bool> closed(plan.menus.size()); // by a step, or by itself
    for_steps(plan, [&](const plan::StepList&, std::size_t, const plan::Step& step) {
        if (const auto* close = std::get_if<plan::CloseStep>(&step.what))
            closed[close->menu.value] = true;
    });
    const auto leads_out = leading_out(plan);
    const auto has_way_out = [&](plan::MenuId id) {
        const plan::Menu& menu = plan.menus[id];
        return closed[id.value] || menu.after ||
               std::any_of(menu.items.begin(), menu.items.end(),
                           [&](plan::ItemId item) { return leads_out[item]; });
    };
    for (const plan::MenuId id : plan.menus.ids()) {
        const plan::Menu& menu = plan.menus[id];
        const auto without_entry = std::find_if(menu.in.begin(), menu.in.end(), [&](LevelId level) {
            return plan.levels[level].entries.empty();
        });
        const bool nowhere = without_entry != menu.in.end();
        if ((!menu.pauses && !nowhere) || has_way_out(id)) continue;
        // Players who are nowhere can press what else is open there, or be led away.
        bool another = std::any_of(plan.triggers.begin(), plan.triggers.end(),
                                   [&](const plan::Trigger& trigger) {
                                       return (trigger.in.empty() || trigger.in == menu.in) &&
                                              study.effects[trigger.steps].moves_on;
                                   });
        for (const plan::MenuId other : plan.menus.ids())
            another =
                another || (other != id && plan.menus[other].in == menu.in && has_way_out(other));
        if (another && !menu.pauses) continue;
        report.add(menu.place, {ThingKind::menu, id.value},
                   (menu.pauses
                        ? "this stops movement, and"
                        : "players are nowhere in " + plan.levels[*without_entry].name + ", and") +
                       std::string(" no item of this menu closes it or leads anywhere else"));
    }
}

void opens_itself(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    // What a menu's `after` opens at once: within less than this nobody can press anything.
    constexpr plan::Micros at_once = plan::milliseconds(1);
    const auto opens = [&](plan::MenuId id) {
        std::vector<std::pair<plan::MenuId, plan::Micros>> opened;
        const auto& after = plan.menus[id].after;
        if (!after) return opened;
        plan::Micros passed = after->delay;
        for (const plan::Step& step : plan.lists[after->steps].steps) {
            if (const auto* wait = std::get_if<plan::WaitStep>(&step.what)) {
                if (!wait->time) break;
                passed += *wait->time;
            } else if (const auto* open = std::get_if<plan::OpenStep>(&step.what)) {
                opened.emplace_back(open->menu, passed);
            } else if (switch_of(step) != nullptr) {
                break;
            }
        }
        return opened;
    };
    for (const plan::MenuId id : plan.menus.ids()) {
        std::vector<std::pair<plan::MenuId, plan::Micros>> reached = opens(id);
        std::set<plan::MenuId> seen;
        for (const auto& each : reached) seen.insert(each.first);
        bool circle = false;
        for (std::size_t i = 0; i < reached.size() && !circle; ++i) {
            const auto [menu, passed] = reached[i];
            if (passed >= at_once) continue;
            circle = menu == id;
            for (const auto& [next, more] : opens(menu)) {
                if (seen.insert(next).second) reached.emplace_back(next, passed + more);
            }
        }
        if (!circle) continue;
        report.add(plan.menus[id].after->place, {ThingKind::menu, id.value},
                   "what this does by itself opens " + plan.menus[id].name +
                       " again at once, over and over");
    }
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
    if (const auto* cases = std::get_if<plan::CaseStep>(&one.what)) {
        const auto& others = std::get<plan::CaseStep>(other.what).cases;
        const auto text = [&](plan::ConditionId condition) {
            return condition ? plan.conditions[condition].text : std::string();
        };
        return std::equal(cases->cases.begin(), cases->cases.end(), others.begin(), others.end(),
                          [&](const plan::Case& a, const plan::Case& b) {
                              return text(a.when) == text(b.when) &&
                                     same_lists(plan, a.steps, b.steps);
                          });
    }
    return std::visit(
        [&](const auto& what) {
            using What = std::decay_t<decltype(what)>;
            if constexpr (std::is_same_v<What, plan::SetStep> ||
                          std::is_same_v<What, plan::CaseStep> ||
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

/// What items have in common that do the same: under which condition, kinds of steps, and what the
/// steps are about.
std::string likeness(const plan::Plan& plan, const plan::Item& item) {
    std::string text = item.when ? plan.conditions[item.when].text : std::string();
    const auto add = [&](std::size_t number) { text += '\n' + std::to_string(number); };
    for (const plan::Step& step : plan.lists[item.steps].steps) {
        add(step.what.index());
        for (const LevelId level : study::levels_called(step)) add(level.value);
        if (const auto* set = std::get_if<plan::SetStep>(&step.what)) {
            for (const plan::Assignment& each : set->facts) add(each.fact.value);
        }
    }
    return text;
}

} // namespace

void items_alike(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const plan::Menu& menu : plan.menus) {
        std::unordered_map<std::string, std::vector<plan::ItemId>> earlier; // by likeness
        for (const plan::ItemId item : menu.items) {
            if (plan.lists[plan.items[item].steps].steps.empty()) continue;
            std::vector<plan::ItemId>& like = earlier[likeness(plan, plan.items[item])];
            const auto twin = std::find_if(like.begin(), like.end(), [&](plan::ItemId other) {
                return same_lists(plan, plan.items[item].steps, plan.items[other].steps);
            });
            if (twin == like.end()) {
                like.push_back(item); // who does the same as a later one does the same as this
                continue;
            }
            report.add(plan.items[item].place, {ThingKind::item, item.value},
                       plan.items[item].name + " does exactly what " + plan.items[*twin].name +
                           " does");
        }
    }
}

} // namespace hestrel::check
