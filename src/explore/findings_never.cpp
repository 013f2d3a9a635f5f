// What never happens, whatever players do: said only where every situation was looked at.

#include "explore/finding_collector.hpp"
#include "plan/level_tree.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <set>

namespace hestrel::explore {

using plan::LevelId;
using plan::ThingKind;

namespace {

class NeverFindings : private FindingCollector {
public:
    explicit NeverFindings(Explorer& explorer)
        : FindingCollector(explorer), ships_(plan::shipped_in(plan_, plan::level_tree(plan_.levels),
                                                              explorer.options().edition)) {
        take_note(explorer_.boot_log());
        for (const Effect& effect : explorer_.effects()) take_note(effect.log);
        for (const Context& context : explorer_.contexts()) {
            const auto open = menus_open(explorer_.control(context.control));
            opened_.insert(open.begin(), open.end());
        }
    }

    std::vector<Found> collect() {
        never_shown();
        never_fired();
        never_pressed();
        never_held();
        never_chosen();
        return take();
    }

private:
    void take_note(const MoveLog& log) {
        shown_.insert(log.shown.begin(), log.shown.end());
        for (const MoveLog::Taken& each : log.taken) taken_.emplace(each.choose, each.branch);
        for (const plan::ListId list : log.lists) {
            if (!lists_run_.insert(list).second || anything_saves_) continue;
            anything_saves_ = plan::any_step_of(plan_, list, [](const plan::Step& step) {
                return std::holds_alternative<plan::SaveStep>(step.what);
            });
        }
    }

    void never_shown() {
        const plan::EditionId edition = explorer_.options().edition;
        if (!edition) return;
        for (const LevelId level : plan_.editions[edition].levels) {
            if (!shown_.contains(level) && !explorer_.near_sets().came_near(level))
                add("level-never-shown", level_owner(level),
                    "edition " + plan_.editions[edition].name + " ships " +
                        plan_.levels[level].name + ", and nobody ever sees it",
                    {})
                    .level = level;
        }
    }

    /// Whether what belongs to a level can be met in this edition at all.
    [[nodiscard]] bool ships(LevelId level) const { return !level || ships_[level]; }

    [[nodiscard]] bool any_ships(const std::vector<LevelId>& in) const {
        return in.empty() ||
               std::any_of(in.begin(), in.end(), [&](LevelId level) { return ships(level); });
    }

    [[nodiscard]] bool never_true(plan::ConditionId condition) const {
        return condition && !explorer_.came_true()[condition.value];
    }

    void waits_in_vain(const Owner& owner, const std::string& who, plan::ConditionId condition) {
        add("condition-never-true", owner,
            who + " waits for \"" + plan_.conditions[condition].text +
                "\", which never holds there",
            {});
    }

    void never_fired() {
        for (const plan::TriggerId id : plan_.triggers.ids()) {
            const plan::Trigger& trigger = plan_.triggers[id];
            if (lists_run_.contains(trigger.steps) || !any_ships(trigger.in)) continue;
            const Owner owner{trigger.place, {ThingKind::trigger, id.value}};
            if (launch_could_change(trigger.when)) continue;
            if (never_true(trigger.when))
                waits_in_vain(owner, trigger.name, trigger.when);
            else
                add("trigger-never-fires", owner, trigger.name + " never fires", {});
        }
    }

    /// Whether a list ran, or as a case was met.
    [[nodiscard]] bool ran(plan::ListId id) const {
        if (lists_run_.contains(id)) return true;
        const plan::StepList& list = plan_.lists[id];
        if (!list.parent || !ran(list.parent)) return false;
        const auto* cases =
            std::get_if<plan::CaseStep>(&plan_.lists[list.parent].steps[list.parent_step].what);
        return cases != nullptr &&
               std::any_of(cases->cases.begin(), cases->cases.end(), [&](const plan::Case& each) {
                   return each.steps == id && !never_true(each.when);
               });
    }

    /// Waits of lists that ran, steps left out always, when levels come near and rules apply.
    void never_held() {
        for (const plan::ListId id : plan_.lists.ids()) {
            if (!ran(id)) continue;
            for (const plan::Step& step : plan_.lists[id].steps) {
                never_done(step, {step.place, plan::owner_of(plan_, id).thing});
                const auto* wait = std::get_if<plan::WaitStep>(&step.what);
                if (wait == nullptr || !never_true(wait->until) || launch_could_change(wait->until))
                    continue;
                waits_in_vain({step.place, plan::owner_of(plan_, id).thing},
                              plan::list_name(plan_, id), wait->until);
            }
        }
        for (const LevelId id : plan_.levels.ids()) {
            const auto& near = plan_.levels[id].near;
            if (!near || !ships(id) || !never_true(near->when) || launch_could_change(near->when))
                continue;
            add("condition-never-true", level_owner(id),
                plan_.levels[id].name + " comes near only while \"" +
                    plan_.conditions[near->when].text + "\", which is never so",
                {});
        }
        for (const plan::RuleId id : plan_.rules.ids()) {
            const plan::Rule& rule = plan_.rules[id];
            if (!never_true(rule.when) || launch_could_change(rule.when)) continue;
            add("condition-never-true", {rule.place, {ThingKind::rule, id.value}},
                "the rule holds only when \"" + plan_.conditions[rule.when].text +
                    "\", which is never so",
                {});
        }
    }

    void never_done(const plan::Step& step, const Owner& owner) {
        const auto* cases = std::get_if<plan::CaseStep>(&step.what);
        if (cases == nullptr || cases->by) return;
        const plan::ConditionId when = cases->cases.front().when;
        if (!never_true(when) || launch_could_change(when)) return;
        add("condition-never-true", owner,
            "this step is only done when \"" + plan_.conditions[when].text +
                "\", which never holds there",
            {});
    }

    /// Whether a launch that was not looked at could change it: it goes by what is saved, and
    /// something is saved in sessions that need not have ended.
    [[nodiscard]] bool launch_could_change(plan::ConditionId condition) const {
        if (explorer_.options().quit_anywhere || !condition) return false;
        const auto& terms = plan_.conditions[condition].terms;
        const bool reads_saved =
            std::any_of(terms.begin(), terms.end(), [&](const plan::Term& term) {
                return term.operation == plan::Operation::fact &&
                       plan_.facts[term.fact].lifetime == plan::Lifetime::saved;
            });
        return reads_saved && anything_saves_;
    }

    void never_pressed() {
        for (const plan::ItemId id : plan_.items.ids()) {
            const plan::Item& item = plan_.items[id];
            const plan::Menu& menu = plan_.menus[item.menu];
            if (lists_run_.contains(item.steps) || !any_ships(menu.in)) continue;
            const bool after_launch = !explorer_.options().quit_anywhere &&
                                      !opened_.contains(item.menu) && anything_saves_;
            if (launch_could_change(item.when) || after_launch) continue;
            const Owner owner{item.place, {ThingKind::item, id.value}};
            if (never_true(item.when))
                waits_in_vain(owner, plan::item_name(plan_, id), item.when);
            else
                add("item-never-pressed", owner,
                    menu.name + "." + item.name + " can never be pressed", {});
        }
    }

    void never_chosen() {
        for (const plan::ListId id : plan_.lists.ids()) {
            if (!ran(id)) continue;
            for (const plan::Step& step : plan_.lists[id].steps) {
                const auto* choose = std::get_if<plan::ChooseStep>(&step.what);
                if (choose == nullptr) continue;
                for (std::size_t branch = 0; branch < choose->branches.size(); ++branch) {
                    if (taken_.contains({choose, branch})) continue;
                    Owner owner = plan::owner_of(plan_, id);
                    owner.place = step.place;
                    add("choice-never-taken", owner,
                        "branch " + plan_.words[choose->branches[branch].name] + " is never taken",
                        {});
                }
            }
        }
    }

    plan::Table<LevelId, bool> ships_;
    std::set<LevelId> shown_;
    std::set<plan::ListId> lists_run_;
    std::set<std::pair<const plan::ChooseStep*, std::size_t>> taken_; ///< branches
    std::set<plan::MenuId> opened_;                                   ///< open in some situation
    bool anything_saves_ = false;                                     ///< in a list that ran
};

} // namespace

std::vector<Found> never_findings(Explorer& explorer) {
    return NeverFindings(explorer).collect();
}

} // namespace hestrel::explore
