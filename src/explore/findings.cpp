#include "explore/findings.hpp"

#include "explore/lost_facts.hpp"
#include "plan/owner.hpp"
#include "plan/texts.hpp"

#include <algorithm>
#include <set>

namespace hestrel::explore {

using plan::LevelId;
using plan::Owner;
using plan::Severity;
using plan::Thing;
using plan::ThingKind;

namespace {

/// The levels whose area a player is inside of.
std::vector<LevelId> stood_in(const flow::Zones& zones, const PlayerNow& player) {
    std::vector<LevelId> levels;
    for (const flow::ZoneId id : player.standing.inside) {
        if (zones[id].kind == flow::Zone::Kind::area) levels.push_back(zones[id].level());
    }
    return levels;
}

class Collector {
public:
    Collector(Explorer& explorer, const std::vector<Worst>& worst)
        : explorer_(explorer), worst_(worst), plan_(explorer.plan()), zones_(plan_) {}

    std::vector<Found> collect() {
        memory();
        broken_rules();
        circles();
        dead_ends();
        nothing_shown();
        in_moves();
        round_trips();
        lost();
        if (explorer_.complete()) {
            for_good();
            gates();
            never_shown();
            never_fired();
            never_pressed();
            never_held();
            never_chosen();
        }
        std::stable_sort(found_.begin(), found_.end(), [](const Found& one, const Found& other) {
            return one.finding.severity < other.finding.severity;
        });
        return std::move(found_);
    }

private:
    using Way = std::optional<std::vector<std::uint32_t>>;

    void add(std::string_view name, const Owner& owner, const std::string& message, Way way) {
        if (plan::is_allowed(plan_, name, owner.thing)) return;
        const auto all = rules();
        const auto known = std::find_if(
            all.begin(), all.end(), [&](const plan::RuleText& rule) { return rule.name == name; });
        const Severity severity = known == all.end() ? Severity::error : known->severity;
        found_.push_back(
            {{severity, std::string(name), owner.place, message, owner.thing}, std::move(way)});
    }

    [[nodiscard]] Way to(std::uint32_t situation) const { return explorer_.way_to(situation); }
    [[nodiscard]] Way through(const Outcome& outcome) const {
        auto way = explorer_.way_to(outcome.first);
        way.push_back(outcome.taken);
        return way;
    }
    /// What the last list of a way belongs to; the start where there is none.
    [[nodiscard]] Owner last_of(const std::vector<std::uint32_t>& way) const {
        if (way.size() > 1) {
            const Move& move = explorer_.moves()[explorer_.taken(way.back()).move];
            if (move.kind == Move::Kind::press)
                return {plan_.items[move.item].place, {ThingKind::item, move.item.value}};
            if (move.kind == Move::Kind::after)
                return {plan_.menus[move.menu].place, {ThingKind::menu, move.menu.value}};
        }
        return level_owner(explorer_.start_level());
    }
    [[nodiscard]] Owner owner_in(const MoveLog& log, const Outcome& outcome) const {
        if (!log.lists.empty()) return plan::owner_of(plan_, log.lists.front());
        return last_of(*through(outcome));
    }
    [[nodiscard]] Owner level_owner(LevelId level) const {
        return {plan_.levels[level].place, {ThingKind::level, level.value}};
    }

    /// The worst of each device and budget; budgets that one way breaks are one finding.
    void memory() {
        struct Over {
            const Worst* worst;
            std::string text;
        };
        std::vector<Over> over;
        std::set<std::tuple<std::size_t, std::uint32_t, bool>> said;
        for (const Worst& worst : worst_) {
            if (worst.used <= worst.budget) continue;
            if (!said.emplace(worst.device, worst.pool.value, worst.during).second) continue;
            const std::string what = worst.pool ? plan_.pools[worst.pool] : std::string("memory");
            const std::string text = plan::memory_text(worst.used - worst.budget) + " over its " +
                                     plan::memory_text(worst.budget);
            const auto same = std::find_if(over.begin(), over.end(), [&](const Over& each) {
                return each.worst->device == worst.device && each.worst->during == worst.during &&
                       each.worst->way == worst.way;
            });
            if (same == over.end()) {
                over.push_back({&worst, what + " can be " + text});
            } else {
                same->text += ", " + what + " " + text;
            }
        }
        for (const Over& each : over) {
            const plan::Device& device =
                plan_.devices[explorer_.options().devices[each.worst->device]];
            add("over-budget", owner_of_last_list(*each.worst),
                "on " + device.name + " " + each.text +
                    (each.worst->during ? " during a move, at most" : " with everything settled"),
                each.worst->way);
        }
    }
    /// What a way's last move set off first, as far as it is known; else the move itself.
    [[nodiscard]] Owner owner_of_last_list(const Worst& worst) const {
        Owner owner = last_of(worst.way);
        for (const Effect& effect : explorer_.effects()) {
            if (effect.taken != worst.way.back() || effect.log.lists.empty()) continue;
            owner = plan::owner_of(plan_, effect.log.lists.front());
            break;
        }
        return owner;
    }

    void broken_rules() {
        for (const Broken& broken : explorer_.broken()) {
            const plan::Rule& rule = plan_.rules[broken.rule];
            const auto& levels = explorer_.levels_of(explorer_.row(broken.first));
            std::string shown;
            for (const LevelThere& there : levels) {
                if (there.shown)
                    shown += (shown.empty() ? "" : ", ") + plan_.levels[there.level].name;
            }
            add("rule-broken", {rule.place, {ThingKind::rule, broken.rule.value}},
                "this rule is broken while " + (shown.empty() ? std::string("nothing") : shown) +
                    " is shown",
                to(broken.first));
        }
    }

    void circles() {
        std::set<Thing> said;
        for (const Effect& effect : explorer_.effects()) {
            if (!effect.log.endless || effect.log.lists.empty()) continue;
            const Owner owner = plan::owner_of(plan_, effect.log.lists.back());
            if (said.insert(owner.thing).second)
                add("never-settles", owner, "this is set off over and over, without end", {});
        }
    }

    void dead_ends() {
        const auto& dead = explorer_.dead_ends();
        if (dead.count == 0) return;
        const Way way = to(dead.first);
        add("dead-end", last_of(*way),
            "in " + std::to_string(dead.count) +
                " situations nothing can be done that leads anywhere else",
            way);
    }

    void nothing_shown() {
        std::set<LevelId> said;
        for (const Explorer::Place& place : explorer_.places()) {
            const PlayerNow& player = explorer_.stand(place.stand);
            const auto& levels = explorer_.level_set(place.levels);
            const std::vector<LevelId> in = stood_in(zones_, player);
            if (in.empty() || !explorer_.control(place.control).veils.empty()) continue;
            if (std::any_of(in.begin(), in.end(),
                            [&](LevelId level) { return is_shown(levels, level); }))
                continue;
            if (!said.insert(in.front()).second) continue;
            const std::string where =
                player.at ? "at " + plan_.waypoints[player.at].name : std::string("on the way");
            add("nothing-shown-here", level_owner(in.front()),
                where + " a player stands in " + plan_.levels[in.front()].name +
                    ", and nothing is shown there",
                to(place.first));
        }
    }

    /// What happens during moves.
    void in_moves() {
        std::set<std::pair<flow::NoteKind, Thing>> noted;
        std::set<std::uint32_t> unsaved;
        std::set<std::uint32_t> left_over;
        std::set<LevelId> under;
        for (const Outcome* met : eventful_outcomes()) {
            const Outcome& outcome = *met;
            const Effect& effect = explorer_.effects()[outcome.effect];
            for (const MoveLog::Noted& note : effect.log.notes) {
                const bool beyond = note.kind == flow::NoteKind::beyond_edition;
                const bool rival = note.kind == flow::NoteKind::switch_refused;
                if ((!beyond && !rival) || !note.list) continue;
                const Owner owner = plan::owner_of(plan_, note.list);
                if (!noted.emplace(note.kind, owner.thing).second) continue;
                add(beyond ? "beyond-edition" : "rival-switches", owner,
                    beyond ? std::string("here a step leads to no level of the edition")
                           : "the switch to " + plan_.levels[LevelId{note.detail}].name +
                                 " is refused: another is under way",
                    through(outcome));
            }
            const std::vector<Word> after = row_after(outcome);
            if (effect.ended) unsaved_changes(outcome, after, unsaved);
            left_over_facts(outcome, effect, after, left_over);
            unloaded_under(outcome, effect, after, under);
        }
    }
    /// Those in which something is noted, unloaded or ended, in the order in which they were met.
    [[nodiscard]] std::vector<const Outcome*> eventful_outcomes() const {
        std::vector<const Outcome*> outcomes;
        explorer_.for_outcomes([&](const Outcome& outcome) {
            const Effect& effect = explorer_.effects()[outcome.effect];
            if (effect.ended || !effect.log.unloaded.empty() || !effect.log.notes.empty())
                outcomes.push_back(&outcome);
        });
        std::stable_sort(
            outcomes.begin(), outcomes.end(),
            [](const Outcome* one, const Outcome* other) { return one->first < other->first; });
        return outcomes;
    }
    [[nodiscard]] std::vector<Word> row_after(const Outcome& outcome) const {
        const Word* row = explorer_.row(outcome.first);
        std::vector<Word> after(row, row + explorer_.layout().words);
        outcome.apply(after.data());
        return after;
    }
    void unsaved_changes(const Outcome& outcome, const std::vector<Word>& after,
                         std::set<std::uint32_t>& said) {
        const Layout& layout = explorer_.layout();
        for (const plan::FactId fact : layout.saved_facts) {
            if (layout.facts[fact].get(after.data()) == layout.saved[fact].get(after.data()))
                continue;
            if (!said.insert(fact.value).second) continue;
            add("unsaved-change", {plan_.facts[fact].place, {ThingKind::fact, fact.value}},
                plan_.facts[fact].name + " has changed since it was saved, and the session ends",
                through(outcome));
        }
    }
    void left_over_facts(const Outcome& outcome, const Effect& effect,
                         const std::vector<Word>& after, std::set<std::uint32_t>& said) {
        const bool anew = std::any_of(effect.log.notes.begin(), effect.log.notes.end(),
                                      [&](const MoveLog::Noted& note) {
                                          return note.kind == flow::NoteKind::switch_began &&
                                                 LevelId{note.detail} == explorer_.start_level();
                                      });
        if (!anew) return;
        const Layout& layout = explorer_.layout();
        for (const plan::FactId fact : plan_.facts.ids()) {
            const plan::Fact& about = plan_.facts[fact];
            if (about.lifetime != plan::Lifetime::session) continue;
            if (layout.facts[fact].get(after.data()) == flow::fact_value(about.initial)) continue;
            if (!said.insert(fact.value).second) continue;
            add("fact-left-over", {about.place, {ThingKind::fact, fact.value}},
                "back at " + plan_.levels[explorer_.start_level()].name + ", " + about.name +
                    " is not what it was at the beginning",
                through(outcome));
        }
    }
    void unloaded_under(const Outcome& outcome, const Effect& effect,
                        const std::vector<Word>& after, std::set<LevelId>& said) {
        if (effect.log.unloaded.empty() || !explorer_.control_of(after.data()).veils.empty())
            return;
        for (std::size_t player = 0; player < explorer_.players().size(); ++player) {
            for (const LevelId level :
                 stood_in(zones_, explorer_.player_of(after.data(), player))) {
                const auto& unloaded = effect.log.unloaded;
                const bool gone =
                    std::find(unloaded.begin(), unloaded.end(), level) != unloaded.end() &&
                    !is_there(explorer_.levels_of(after.data()), level);
                if (!gone || !said.insert(level).second) continue;
                add("unload-under-player", owner_in(effect.log, outcome),
                    plan_.levels[level].name + " is unloaded while a player stands in it",
                    through(outcome));
            }
        }
    }

    void lost() {
        for (const LostFact& each : lost_facts(explorer_)) {
            const plan::Fact& fact = plan_.facts[each.fact];
            add("fact-lost", {fact.place, {ThingKind::fact, each.fact.value}},
                fact.name + " goes back to what it was at the beginning when players leave " +
                    (fact.of ? plan_.levels[fact.of].name : std::string("by a switch")) + ", and " +
                    plan::list_name(plan_, each.by) + " goes by it after that",
                each.way);
        }
    }

    /// Back at the same place with more loaded: looked for on the shortest way to each place with
    /// each set of levels.
    void round_trips() {
        std::set<std::pair<std::uint32_t, plan::WaypointId>> seen;
        std::set<LevelId> said;
        for (const Explorer::Place& place : explorer_.places()) {
            if (!seen.emplace(place.levels, explorer_.stand(place.stand).at).second) continue;
            const auto& more = explorer_.level_set(place.levels);
            for (std::uint32_t before = place.first; before != explorer_.parent(before);) {
                before = explorer_.parent(before);
                if (!same_place(before, place.first)) continue;
                const auto& less = explorer_.levels_of(explorer_.row(before));
                if (less.size() >= more.size() || !within(less, more)) continue;
                for (const LevelThere& there : more) {
                    const plan::Level& level = plan_.levels[there.level];
                    // What persists, or goes by distance, is meant to stay.
                    if (is_there(less, there.level) || level.persist || level.near) continue;
                    if (!said.insert(there.level).second) continue;
                    add("piles-up", level_owner(there.level),
                        plan_.levels[there.level].name +
                            " is still loaded when players are back where it was not" +
                            where_text(before),
                        to(place.first));
                }
            }
        }
    }
    [[nodiscard]] std::string where_text(std::uint32_t situation) const {
        const PlayerNow& player = explorer_.player_of(explorer_.row(situation), 0);
        return player.at ? " (at " + plan_.waypoints[player.at].name + ")" : std::string();
    }
    [[nodiscard]] bool same_place(std::uint32_t one, std::uint32_t other) const {
        const Word* row = explorer_.row(one);
        const Word* same = explorer_.row(other);
        const flow::Settled& control = explorer_.control_of(row);
        const flow::Settled& as = explorer_.control_of(same);
        if (control.position != as.position || control.open_menus != as.open_menus) return false;
        for (std::size_t player = 0; player < explorer_.players().size(); ++player) {
            const plan::WaypointId at = explorer_.player_of(row, player).at;
            if (!at || at != explorer_.player_of(same, player).at) return false;
        }
        return true;
    }
    [[nodiscard]] static bool within(const std::vector<LevelThere>& less,
                                     const std::vector<LevelThere>& more) {
        return std::all_of(less.begin(), less.end(),
                           [&](const LevelThere& there) { return is_there(more, there.level); });
    }

    // --- what can't be got out of any more

    /// From which situations something can be reached: bits spread backwards until nothing changes.
    void for_good() {
        enum : std::uint8_t { home = 1, free = 2, clear = 4 };
        const std::size_t count = explorer_.situations();
        std::vector<std::uint8_t> reaches(count, 0);
        std::vector<bool> stays(count, true); // no move leads anywhere else
        for (std::uint32_t situation = 0; situation < count; ++situation) {
            const Word* row = explorer_.row(situation);
            const flow::Settled& settled = explorer_.control_of(row);
            std::uint8_t& bits = reaches[situation];
            if (settled.ended || is_shown(explorer_.levels_of(row), explorer_.start_level()))
                bits |= home;
            if (settled.ended || !is_frozen(plan_, settled)) bits |= free;
            if (settled.ended || settled.veils.empty()) bits |= clear;
        }
        for (bool changed = true; changed;) {
            changed = false;
            for (std::size_t i = count; i-- > 0;) {
                std::uint8_t& bits = reaches[i];
                const std::uint8_t before = bits;
                const auto look = [&](std::uint32_t next) {
                    bits |= reaches[next];
                    if (next != i) stays[i] = false;
                };
                const auto situation = static_cast<std::uint32_t>(i);
                if (explorer_.remembers_edges()) {
                    for (const std::uint32_t next : explorer_.leads_to(situation)) look(next);
                } else {
                    explorer_.for_successors(
                        situation, [&](std::uint32_t next, const Outcome&) { look(next); });
                }
                changed = changed || bits != before;
            }
        }
        const auto first_without = [&](std::uint8_t bit, bool leads_on) {
            std::pair<std::size_t, std::uint32_t> found{0, 0};
            for (std::uint32_t situation = 0; situation < count; ++situation) {
                if ((reaches[situation] & bit) != 0 || (leads_on && stays[situation])) continue;
                if (found.first++ == 0) found.second = situation;
            }
            return found;
        };
        const auto say = [&](std::string_view name, std::uint8_t bit, bool leads_on,
                             const std::string& what) {
            const auto [times, first] = first_without(bit, leads_on);
            if (times == 0) return;
            const Way way = to(first);
            add(name, last_of(*way), "in " + std::to_string(times) + " situations " + what, way);
        };
        say("trap", home, true,
            "neither an end nor " + plan_.levels[explorer_.start_level()].name +
                " can be reached any more");
        say("frozen-for-good", free, false, "players are frozen, and nothing thaws them");
        say("veil-for-good", clear, false, "a veil is up that nothing takes down");
    }

    // --- what never happens

    void gates() {
        for (const plan::GateId id : plan_.gates.ids()) {
            const plan::Gate& gate = plan_.gates[id];
            bool opens = false;
            for (std::uint32_t set = 0; set < explorer_.level_sets() && !opens; ++set) {
                opens = is_open(gate, explorer_.level_set(set));
            }
            if (!opens)
                add("gate-never-opens", {gate.place, {ThingKind::gate, id.value}},
                    gate.name + " is closed in every situation", {});
        }
    }

    void never_shown() {
        std::set<LevelId> shown;
        const auto note = [&](const MoveLog& log) {
            shown.insert(log.shown.begin(), log.shown.end());
        };
        note(explorer_.boot_log());
        for (const Effect& effect : explorer_.effects()) note(effect.log);
        const plan::EditionId edition = explorer_.options().edition;
        if (!edition) return;
        for (const LevelId level : plan_.editions[edition].levels) {
            if (!shown.contains(level))
                add("level-never-shown", level_owner(level),
                    "edition " + plan_.editions[edition].name + " ships " +
                        plan_.levels[level].name + ", and nobody ever sees it",
                    {});
        }
    }

    [[nodiscard]] const std::set<plan::ListId>& lists_run() {
        if (!lists_run_.empty()) return lists_run_;
        const auto note = [&](const MoveLog& log) {
            lists_run_.insert(log.lists.begin(), log.lists.end());
        };
        note(explorer_.boot_log());
        for (const Effect& effect : explorer_.effects()) note(effect.log);
        return lists_run_;
    }

    /// Whether what belongs to a level can be met in this edition at all.
    [[nodiscard]] bool ships(LevelId level) const {
        const plan::EditionId edition = explorer_.options().edition;
        if (!edition || !level) return true;
        const plan::LevelTree tree = plan::level_tree(plan_.levels);
        for (const LevelId listed : plan_.editions[edition].levels) {
            const auto family = plan::subtree_of(tree, listed);
            if (std::find(family.begin(), family.end(), level) != family.end()) return true;
        }
        return false;
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
            if (lists_run().contains(trigger.steps) || !ships(trigger.in)) continue;
            const Owner owner{trigger.place, {ThingKind::trigger, id.value}};
            if (never_true(trigger.when))
                waits_in_vain(owner, trigger.name, trigger.when);
            else
                add("trigger-never-fires", owner, trigger.name + " never fires", {});
        }
    }

    /// Waits of lists that ran, and when rules apply.
    void never_held() {
        for (const plan::ListId id : plan_.lists.ids()) {
            if (!lists_run().contains(id)) continue;
            for (const plan::Step& step : plan_.lists[id].steps) {
                const auto* wait = std::get_if<plan::WaitStep>(&step.what);
                if (wait == nullptr || !never_true(wait->until)) continue;
                waits_in_vain({step.place, plan::owner_of(plan_, id).thing},
                              plan::list_name(plan_, id), wait->until);
            }
        }
        for (const plan::RuleId id : plan_.rules.ids()) {
            const plan::Rule& rule = plan_.rules[id];
            if (!never_true(rule.when)) continue;
            add("condition-never-true", {rule.place, {ThingKind::rule, id.value}},
                "the rule holds only when \"" + plan_.conditions[rule.when].text +
                    "\", which is never so",
                {});
        }
    }

    void never_pressed() {
        for (const plan::ItemId id : plan_.items.ids()) {
            const plan::Item& item = plan_.items[id];
            const plan::Menu& menu = plan_.menus[item.menu];
            if (lists_run().contains(item.steps) || !ships(menu.in)) continue;
            const Owner owner{item.place, {ThingKind::item, id.value}};
            if (never_true(item.when))
                waits_in_vain(owner, plan::item_name(plan_, id), item.when);
            else
                add("item-never-pressed", owner,
                    menu.name + "." + item.name + " can never be pressed", {});
        }
    }

    void never_chosen() {
        std::set<std::pair<const plan::ChooseStep*, std::size_t>> taken;
        const auto note = [&](const MoveLog& log) {
            for (const MoveLog::Taken& each : log.taken) taken.emplace(each.choose, each.branch);
        };
        note(explorer_.boot_log());
        for (const Effect& effect : explorer_.effects()) note(effect.log);
        for (const plan::ListId id : plan_.lists.ids()) {
            if (!lists_run().contains(id)) continue;
            for (const plan::Step& step : plan_.lists[id].steps) {
                const auto* choose = std::get_if<plan::ChooseStep>(&step.what);
                if (choose == nullptr) continue;
                for (std::size_t branch = 0; branch < choose->branches.size(); ++branch) {
                    if (taken.contains({choose, branch})) continue;
                    Owner owner = plan::owner_of(plan_, id);
                    owner.place = step.place;
                    add("choice-never-taken", owner,
                        "branch " + plan_.words[choose->branches[branch].name] + " is never taken",
                        {});
                }
            }
        }
    }

    Explorer& explorer_;
    const std::vector<Worst>& worst_;
    const plan::Plan& plan_;
    const flow::Zones zones_;
    std::vector<Found> found_;
    std::set<plan::ListId> lists_run_;
};

} // namespace

std::vector<Found> findings(Explorer& explorer, const std::vector<Worst>& worst) {
    return Collector(explorer, worst).collect();
}

} // namespace hestrel::explore
