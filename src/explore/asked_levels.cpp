#include "explore/asked_levels.hpp"

#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <type_traits>
#include <variant>

namespace hestrel::explore {

using plan::LevelId;

AskedLevels::AskedLevels(const plan::Plan& plan, const plan::LevelTree& tree,
                         plan::EditionId edition, const std::vector<LevelId>& also)
    : plan_(plan), tree_(tree), edition_(edition),
      possible_(possible_in(plan, tree, edition, also)), at_all_(plan.levels.size(), false),
      loaded_(plan.levels.size(), false), shown_(plan.levels.size(), false),
      hidden_(plan.levels.size(), false) {
    for (const plan::ListId id : plan.lists.ids()) {
        if (!possible_.lists[id]) continue;
        const plan::StepList& list = plan.lists[id];
        add(plan::levels_of(list), false, true);
        for (const plan::Step& step : list.steps)
            std::visit([&](const auto& what) { add_step(what); }, step.what);
    }
    add_conditions();
    add_things();
    add_rules();
    add_starts();
    add(also, true, true);
    add_above();
}

void AskedLevels::add(LevelId level, bool loaded, bool shown) {
    if (!level) return;
    at_all_[level] = true;
    loaded_[level] = loaded_[level] || loaded;
    shown_[level] = shown_[level] || shown;
}

void AskedLevels::add(const std::vector<LevelId>& levels, bool loaded, bool shown) {
    for (const LevelId level : levels) add(level, loaded, shown);
}

/// What a switch brings: it goes on at once where that is there already. What a return to a
/// checkpoint may bring counts while it does so, alone: it is not known before.
void AskedLevels::add_families(const std::vector<LevelId>& levels) {
    for (const LevelId level : levels) add(plan::asked_with(tree_, level), true, true);
}

void AskedLevels::add_conditions() {
    const auto by_game = plan::asked_by_game(plan_, possible_.lists);
    for (const plan::ConditionId id : plan_.conditions.ids()) {
        if (!by_game[id]) continue;
        for (const plan::Term& term : plan_.conditions[id].terms) {
            const bool shown = term.operation == plan::Operation::shown;
            add(plan::levels_of(plan_, term), !shown, shown);
        }
    }
}

template <class What>
void AskedLevels::add_step(const What& what) {
    // That a level is asked for, hidden or unloaded goes by nothing.
    if constexpr (requires { what.levels; }) add(what.levels, false, false);
    if constexpr (requires { what.level; }) add(what.level, true, true);
    if constexpr (std::is_same_v<What, plan::HideStep> || std::is_same_v<What, plan::UnloadStep>) {
        for (const LevelId level : what.levels) hidden_[level] = true;
    } else if constexpr (std::is_same_v<What, plan::KeepOnlyStep>) {
        keeps_only_ = true;
    } else if constexpr (std::is_same_v<What, plan::WaitStep>) {
        const bool shown = what.awaited == plan::Awaited::shown;
        add(plan::all_looked_at(plan_, what.levels, what.any_of), !shown, shown);
    } else if constexpr (std::is_same_v<What, plan::SwitchStep>) {
        add_families(plan::switched_to(plan_, edition_, what));
        add_families(what.with);
    } else if constexpr (std::is_same_v<What, plan::ReturnStep>) {
        add(what.how.with, false, false);
    }
}

void AskedLevels::add_things() {
    for (const LevelId id : plan_.levels.ids()) {
        const plan::Level& level = plan_.levels[id];
        if (level.variants || level.arrive || level.leave) add(id, true, true);
        if (level.persist) add(id, false, false);
        if (level.purpose) add(id, false, true);
        if (level.near && level.near->when) add(id, false, false);
        shown_[id] = shown_[id] || plan::has_frame_cost(level);
    }
    for (const plan::Gate& gate : plan_.gates)
        add(plan::all_looked_at(plan_, gate.needs, gate.any_of), false, true);
    for (const plan::Trigger& trigger : plan_.triggers) add(trigger.in, false, true);
    for (const plan::Menu& menu : plan_.menus) add(menu.in, false, true);
    for (const plan::Fact& fact : plan_.facts) add(fact.of, true, true);
}

void AskedLevels::add_rules() {
    std::vector<plan::WordId> counted;
    for (const plan::Rule& rule : plan_.rules) {
        add(rule.levels, false, true);
        if (rule.of) counted.push_back(rule.of);
    }
    for (const plan::Purpose& purpose : plan_.purposes)
        counted.insert(counted.end(), purpose.needs.begin(), purpose.needs.end());
    for (const LevelId id : plan_.levels.ids()) {
        const auto& provides = plan_.levels[id].provides;
        if (std::any_of(provides.begin(), provides.end(),
                        [&](plan::WordId word) { return plan::contains(counted, word); }))
            add(id, false, true);
    }
}

void AskedLevels::add_starts() {
    for (const plan::EditionId each : plan::editions_of(plan_, edition_))
        add(plan::first_of(plan_.editions[each].levels), true, true);
    for (const plan::Route& route : plan_.routes) {
        if (edition_ && route.edition != edition_) continue;
        add(route.start.level, true, true);
        add(route.start.loaded, false, false);
        if (route.start.checkpoint) add(route.start.checkpoint->level, true, true);
    }
}

/// A level is loaded, and shown, no sooner than what is above it.
void AskedLevels::add_above() {
    for (const LevelId id : plan_.levels.ids()) {
        for (const LevelId above : plan::ancestors_of(tree_, id)) {
            loaded_[above] = loaded_[above] || loaded_[id];
            shown_[above] = shown_[above] || shown_[id];
        }
    }
}

} // namespace hestrel::explore
