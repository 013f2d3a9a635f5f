#include "explore/folded_near.hpp"

#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <type_traits>
#include <variant>

namespace hestrel::explore {

using plan::LevelId;

namespace {

/// What a plan's game goes by; what only routes ask about does not count.
class GoesBy {
public:
    explicit GoesBy(const plan::Plan& plan)
        : plan_(plan), levels_(plan.levels.size(), false), hidden_(plan.levels.size(), false) {
        for (const plan::StepList& list : plan.lists) {
            add(plan::levels_of(list));
            for (const plan::Step& step : list.steps)
                std::visit([&](const auto& what) { add_step(what); }, step.what);
        }
        add_things();
        add_rules();
        add_starts();
    }

    void add(LevelId level) {
        if (level) levels_[level] = true;
    }
    void add(const std::vector<LevelId>& levels) {
        for (const LevelId level : levels) add(level);
    }
    [[nodiscard]] bool operator[](LevelId level) const { return levels_[level]; }
    /// A step hides or unloads it, but for switches.
    [[nodiscard]] bool hidden(LevelId level) const { return hidden_[level]; }
    /// A step unloads all levels but some.
    [[nodiscard]] bool keeps_only() const { return keeps_only_; }

private:
    void add(plan::ConditionId condition) {
        if (!condition) return;
        for (const plan::Term& term : plan_.conditions[condition].terms)
            add(plan::levels_of(plan_, term));
    }

    template <class What>
    void add_step(const What& what) {
        if constexpr (requires { what.levels; }) add(what.levels);
        if constexpr (requires { what.level; }) add(what.level);
        if constexpr (std::is_same_v<What, plan::HideStep> ||
                      std::is_same_v<What, plan::UnloadStep>) {
            for (const LevelId level : what.levels) hidden_[level] = true;
        } else if constexpr (std::is_same_v<What, plan::KeepOnlyStep>) {
            keeps_only_ = true;
        } else if constexpr (std::is_same_v<What, plan::WaitStep>) {
            add(plan::all_looked_at(plan_, what.levels, what.any_of));
            add(what.until);
        } else if constexpr (std::is_same_v<What, plan::SwitchStep>) {
            add(what.to);
            add(what.with);
            // By position it can lead to any level that ships.
            if (!what.to) add_editions();
        } else if constexpr (std::is_same_v<What, plan::ReturnStep>) {
            add(what.how.with);
        } else if constexpr (std::is_same_v<What, plan::CaseStep>) {
            for (const plan::Case& each : what.cases) add(each.when);
        }
    }

    void add_things() {
        for (const LevelId id : plan_.levels.ids()) {
            const plan::Level& level = plan_.levels[id];
            if (level.persist || level.variants || level.purpose || level.arrive || level.leave)
                add(id);
            if (!level.near || !level.near->when) continue;
            add(id);
            add(level.near->when);
        }
        for (const plan::Gate& gate : plan_.gates)
            add(plan::all_looked_at(plan_, gate.needs, gate.any_of));
        for (const plan::Trigger& trigger : plan_.triggers) {
            add(trigger.in);
            add(trigger.when);
        }
        for (const plan::Menu& menu : plan_.menus) add(menu.in);
        for (const plan::Item& item : plan_.items) add(item.when);
        for (const plan::Fact& fact : plan_.facts) add(fact.of);
    }

    void add_rules() {
        std::vector<plan::WordId> counted;
        for (const plan::Rule& rule : plan_.rules) {
            add(rule.levels);
            add(rule.condition);
            add(rule.when);
            if (rule.of) counted.push_back(rule.of);
        }
        for (const plan::Purpose& purpose : plan_.purposes)
            counted.insert(counted.end(), purpose.needs.begin(), purpose.needs.end());
        for (const LevelId id : plan_.levels.ids()) {
            const auto& provides = plan_.levels[id].provides;
            if (std::any_of(provides.begin(), provides.end(),
                            [&](plan::WordId word) { return plan::contains(counted, word); }))
                add(id);
        }
    }

    void add_starts() {
        for (const plan::Edition& edition : plan_.editions) add(plan::first_of(edition.levels));
        for (const plan::Route& route : plan_.routes) {
            add(route.start.level);
            add(route.start.loaded);
            if (route.start.checkpoint) add(route.start.checkpoint->level);
        }
    }

    void add_editions() {
        for (const plan::Edition& edition : plan_.editions) add(edition.levels);
    }

    const plan::Plan& plan_;
    plan::Table<LevelId, bool> levels_;
    plan::Table<LevelId, bool> hidden_;
    bool keeps_only_ = false;
};

} // namespace

FoldedNear::FoldedNear(const plan::Plan& plan, const plan::LevelTree& tree,
                       const std::vector<LevelId>& kept)
    : family_(plan.levels.size()), left_out_(plan.levels.size(), false) {
    GoesBy goes_by(plan);
    goes_by.add(kept);
    if (goes_by.keeps_only()) return;
    for (const LevelId id : plan.levels.ids()) {
        if (!plan.levels[id].near || plan.levels[id].with_parent || goes_by[id]) continue;
        // What is below it comes and goes with it. What is above it comes with it, and goes only
        // where all goes: else it would hang on which of those below are there already.
        std::vector<LevelId> family = plan::subtree_of(tree, id);
        const bool all_come = std::all_of(family.begin() + 1, family.end(), [&](LevelId level) {
            const plan::Level& below = plan.levels[level];
            return below.with_parent && !below.near && !goes_by[level];
        });
        const std::vector<LevelId> above = plan::ancestors_of(tree, id);
        const bool steady = std::none_of(above.begin(), above.end(), [&](LevelId level) {
            const plan::Level& parent = plan.levels[level];
            return goes_by.hidden(level) || parent.near || parent.variants;
        });
        if (!all_come || !steady) continue;
        std::sort(family.begin(), family.end());
        for (const LevelId level : family) left_out_[level] = true;
        family_[id] = std::move(family);
        ++count_;
    }
}

std::size_t count_near(const plan::Plan& plan) {
    return static_cast<std::size_t>(
        std::count_if(plan.levels.begin(), plan.levels.end(),
                      [](const plan::Level& level) { return level.near.has_value(); }));
}

} // namespace hestrel::explore
