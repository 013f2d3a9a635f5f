#include "explore/finding_collector.hpp"
#include "explore/looking_back.hpp"
#include "explore/lost_facts.hpp"
#include "explore/round_trips.hpp"
#include "plan/level_tree.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "plan/texts.hpp"

#include <algorithm>
#include <iterator>
#include <map>
#include <set>

namespace hestrel::explore {

using plan::LevelId;
using plan::ThingKind;

namespace {

/// What players who don't hurry can run into.
class SettledFindings : private FindingCollector {
public:
    explicit SettledFindings(Explorer& explorer) : FindingCollector(explorer) {}

    std::vector<Found> collect(const std::vector<WorstUse>& worst,
                               const std::vector<WorstFrame>& longest) {
        memory(worst, "with everything settled", "during a move, at most", {});
        frames(longest, "with everything settled", "during a move, at most", {});
        broken_rules();
        circles();
        endless_boots();
        if (!explorer_.boots()) return take();
        dead_ends();
        nothing_shown();
        in_moves();
        piles_up();
        lost();
        if (explorer_.complete()) {
            for_good();
            gates();
        }
        return take();
    }

private:
    /// Situations from which the game never begins: those with which exploring began.
    void endless_boots() {
        for (std::uint32_t first = 0;
             first < explorer_.situations() && explorer_.parent(first) == first; ++first) {
            const Word* row = explorer_.row(first);
            if (!explorer_.control_of(row).booting) continue;
            const LevelId start = explorer_.start_level();
            const plan::LevelTree tree = plan::level_tree(plan_.levels);
            std::vector<LevelId> missing;
            for (const LevelId level : plan::boot_levels(plan_.levels, tree, start)) {
                if (!explorer_.is_shown(row, level)) missing.push_back(level);
            }
            add("stuck", level_owner(start),
                "the boot never ends: it waits for " + plan::level_names(plan_, missing) +
                    " to be shown",
                to(first));
            return;
        }
    }

    void dead_ends() {
        const auto& dead = explorer_.dead_ends();
        if (dead.count == 0) return;
        const Trace way = to(dead.first);
        const Word* row = explorer_.row(dead.first);
        const plan::WaypointId at = explorer_.player_of(row, 0).at;
        add("dead-end", last_of(*way),
            "in " + plan::counted(dead.count, "situation") +
                " nothing can be done that leads anywhere else, first " +
                (at ? "at " + plan_.waypoints[at].name : "nowhere") + " with " + shown_in(row) +
                " shown: " + plan::joined(lacking(row, at), "; "),
            way)
            .at = at;
    }
    /// What keeps the first player from doing anything.
    [[nodiscard]] std::vector<std::string> lacking(const Word* row, plan::WaypointId at) const {
        const flow::State& control = explorer_.control_of(row);
        std::vector<std::string> all;
        bool ways = false;
        for (const plan::PathId id : plan_.paths.ids()) {
            const plan::Path& path = plan_.paths[id];
            if (!at || (path.from != at && (path.to != at || path.one_way))) continue;
            ways = true;
            if (!path.gate) continue;
            const plan::Gate& gate = plan_.gates[path.gate];
            const std::vector<std::string> needed =
                plan::lacking(plan_, gate.needs, gate.any_of,
                              [&](LevelId level) { return explorer_.is_shown(row, level); });
            if (!needed.empty())
                all.push_back("gate " + gate.name + " lacks " + plan::joined(needed));
        }
        if (is_frozen(plan_, control, flow::PlayerId{0})) {
            all.emplace_back("players are frozen");
        } else if (!ways) {
            all.emplace_back(at ? "no path leads away" : "players can't walk");
        }
        for (const plan::MenuId menu : menus_open(control)) {
            for (const plan::ItemId item : plan_.menus[menu].items) {
                const plan::ConditionId when = plan_.items[item].when;
                all.push_back(
                    plan::item_name(plan_, item) +
                    (when ? " needs \"" + plan_.conditions[when].text + '"' : " leads back here"));
            }
        }
        if (control.open_menus.empty()) all.emplace_back("no menu is open");
        return all;
    }

    void nothing_shown() {
        for (const Explorer::Bare& each : explorer_.bare()) {
            const PlayerNow& player = explorer_.player_of(explorer_.row(each.first), each.player);
            const std::string where =
                player.at ? "at " + plan_.waypoints[player.at].name : std::string("on the way");
            plan::Finding& added =
                add("nothing-shown-here", level_owner(each.level),
                    where + " a player stands in " + plan_.levels[each.level].name +
                        ", and nothing is shown there",
                    to(each.first));
            added.level = each.level;
            added.at = player.at;
        }
    }

    /// What happens during moves.
    void in_moves() {
        for (const Outcome* outcome : eventful_outcomes())
            refusals(*outcome, explorer_.effects()[outcome->effect]);
        std::set<plan::FactId> unsaved;
        std::map<flow::FactSlot, std::vector<Departure>> left_over;
        for_moves(
            [&](const Effect& effect) {
                return effect.ended || !effect.log.unloaded.empty() || begins_anew(effect);
            },
            [&](const Made& made, const Effect& effect) {
                if (effect.ended) unsaved_changes(made, unsaved);
                if (begins_anew(effect)) note_left_over(made, left_over);
                unloaded_under(made, effect);
            });
        std::set<plan::FactId> told;
        for (const auto& [slot, new_games] : left_over) {
            const plan::FactId fact = explorer_.layout().slots.fact(slot);
            if (told.contains(fact)) continue; // another player's
            const auto read = left_over_fact(explorer_, fact, new_games);
            if (!read) continue;
            told.insert(fact);
            add("fact-left-over", {plan_.facts[fact].place, {ThingKind::fact, fact.value}},
                "back at " + plan_.levels[explorer_.start_level()].name + ", " +
                    plan_.facts[fact].name + " is not what it was at the beginning, and " +
                    plan::list_name(plan_, read->by) + " goes by it after that",
                read->way);
        }
    }
    /// Whether a move goes back to where the game began.
    [[nodiscard]] bool begins_anew(const Effect& effect) const {
        return std::any_of(effect.log.notes.begin(), effect.log.notes.end(),
                           [&](const MoveLog::Event& note) {
                               return note.kind == flow::EventKind::switch_began &&
                                      LevelId{note.detail} == explorer_.start_level();
                           });
    }
    void unsaved_changes(const Made& made, std::set<plan::FactId>& said) {
        const Word* after = explorer_.row(made.leads_to);
        const Layout& layout = explorer_.layout();
        for (const flow::FactSlot slot : layout.saved_facts) {
            if (layout.facts[slot].get(after) == layout.saved[slot].get(after)) continue;
            const plan::FactId fact = layout.slots.fact(slot);
            if (!said.insert(fact).second) continue;
            add("unsaved-change", {plan_.facts[fact].place, {ThingKind::fact, fact.value}},
                plan_.facts[fact].name + " has changed since it was saved, and the session ends",
                through(made));
        }
    }
    void note_left_over(const Made& made, std::map<flow::FactSlot, std::vector<Departure>>& all) {
        const Word* after = explorer_.row(made.leads_to);
        const Layout& layout = explorer_.layout();
        for (const flow::FactSlot fact : layout.slots.ids()) {
            const plan::Fact& about = plan_.facts[layout.slots.fact(fact)];
            if (about.lifetime != plan::Lifetime::session) continue;
            if (layout.facts[fact].get(after) == flow::fact_value(about.initial)) continue;
            all[fact].push_back({made.situation, made.leads_to, made.outcome->taken, fact});
        }
    }
    void lost() {
        for (const ReadFact& each : lost_facts(explorer_)) {
            const plan::Fact& fact = plan_.facts[each.fact];
            add("fact-lost", {fact.place, {ThingKind::fact, each.fact.value}},
                fact.name + " goes back to what it was at the beginning when players leave " +
                    (fact.of ? plan_.levels[fact.of].name : std::string("by a switch")) + ", and " +
                    plan::list_name(plan_, each.by) + " goes by it after that",
                each.way);
        }
    }

    void piles_up() {
        for (const RoundTrip& each : round_trips(explorer_)) {
            const plan::WaypointId at = explorer_.player_of(explorer_.row(each.before), 0).at;
            add("piles-up", level_owner(each.level),
                plan_.levels[each.level].name +
                    " is still loaded when players are back where it was not" +
                    (at ? " (at " + plan_.waypoints[at].name + ")" : std::string()),
                to(each.after))
                .level = each.level;
        }
    }

    // --- what can't be got out of any more

    /// From which situations something can be reached: bits spread backwards until nothing changes.
    void for_good() {
        if (explorer_.situations() == 0) return;
        // Where a launch is always possible, it is no way out but with what was saved.
        const Word* begun = explorer_.row(0);
        const auto way_out = [&](std::uint32_t from, const Outcome& outcome) {
            return !explorer_.launches(outcome) || !same_store(explorer_.row(from), begun);
        };
        enum : std::uint8_t { home = 1, free = 2, clear = 4, end = 8, all = 15 };
        const std::size_t count = explorer_.situations();
        std::vector<std::uint8_t> reaches(count, 0);
        std::uint8_t anywhere = 0;
        std::uint8_t everywhere = all;
        for (std::uint32_t situation = 0; situation < count; ++situation) {
            const Word* row = explorer_.row(situation);
            const flow::State& settled = explorer_.control_of(row);
            std::uint8_t& bits = reaches[situation];
            if (settled.ended || explorer_.is_shown(row, explorer_.start_level())) bits |= home;
            if (settled.ended || !anybody_frozen(settled)) bits |= free;
            if (settled.ended || settled.veils.empty()) bits |= clear;
            if (settled.ended) bits |= end;
            anywhere |= bits;
            everywhere &= bits;
        }
        // What is nowhere can't be reached from anywhere, and what is everywhere needs no way.
        const std::uint8_t spreads = anywhere & ~everywhere;
        spread_back(explorer_, spreads, way_out, reaches);
        const auto stays = [&](std::uint32_t situation) {
            bool moves = false;
            explorer_.for_successors(situation, [&](std::uint32_t next, const Outcome& outcome) {
                moves = moves || (next != situation && way_out(situation, outcome));
            });
            return !moves;
        };
        const auto first_without = [&](std::uint8_t bit, bool leads_on) {
            std::pair<std::size_t, std::uint32_t> found{0, 0};
            for (std::uint32_t situation = 0; situation < count; ++situation) {
                if ((reaches[situation] & bit) != 0 || (leads_on && stays(situation))) continue;
                if (found.first++ == 0) found.second = situation;
            }
            return found;
        };
        const auto say = [&](std::string_view name, std::uint8_t bit, bool leads_on,
                             const std::string& what) {
            const auto [times, first] = first_without(bit, leads_on);
            if (times == 0) return;
            const Trace way = to(first);
            add(name, last_of(*way), "in " + plan::counted(times, "situation") + " " + what, way);
        };
        say("trap", home, true,
            "neither an end nor " + plan_.levels[explorer_.start_level()].name +
                " can be reached any more");
        say("frozen-for-good", free, false, "players are frozen, and nothing thaws them");
        say("veil-for-good", clear, false, "a veil is up that nothing takes down");
        saved_dead_ends([&](std::uint32_t situation) { return (reaches[situation] & end) != 0; });
    }

    [[nodiscard]] bool anybody_frozen(const flow::State& settled) const {
        for (std::size_t player = 0; player < explorer_.players().size(); ++player) {
            if (is_frozen(plan_, settled, flow::PlayerId{player})) return true;
        }
        return false;
    }

    /// Whether two situations have the same saved store.
    [[nodiscard]] bool same_store(const Word* one, const Word* other) const {
        const flow::State& control = explorer_.control_of(one);
        const flow::State& as = explorer_.control_of(other);
        const Layout& layout = explorer_.layout();
        return control.has_saved == as.has_saved &&
               control.saved_checkpoint == as.saved_checkpoint &&
               std::all_of(layout.saved_facts.begin(), layout.saved_facts.end(),
                           [&](flow::FactSlot fact) {
                               return layout.saved[fact].get(one) == layout.saved[fact].get(other);
                           });
    }

    /// Situations that launches lead to, each once.
    [[nodiscard]] std::vector<std::uint32_t> launched() {
        std::set<std::uint32_t> all;
        const bool anywhere = explorer_.options().quit_anywhere;
        for (std::uint32_t from = 0; from < explorer_.situations(); ++from) {
            if (!anywhere && !explorer_.control_of(explorer_.row(from)).ended) continue;
            explorer_.for_successors(from, [&](std::uint32_t to, const Outcome& outcome) {
                if (explorer_.launches(outcome)) all.insert(to);
            });
        }
        return {all.begin(), all.end()};
    }

    /// After a launch with what players saved no end can be reached, and without it one could be.
    /// `ends`: by situation, whether one can be.
    template <class Ends>
    void saved_dead_ends(Ends ends) {
        if (!ends(0)) return;
        std::vector<std::uint32_t> dead;
        for (const std::uint32_t situation : launched()) {
            if (!ends(situation)) dead.push_back(situation);
        }
        if (dead.empty()) return;
        add("saved-dead-end", level_owner(explorer_.start_level()),
            "launched again with what was saved (" + store_text(explorer_.row(dead.front())) +
                "), no end can be reached any more, and without it one can",
            to(dead.front()));
    }
    [[nodiscard]] std::string store_text(const Word* row) const {
        std::vector<std::string> texts;
        for (const flow::FactSlot slot : explorer_.layout().saved_facts) {
            const plan::FactId fact = explorer_.layout().slots.fact(slot);
            texts.push_back(plan_.facts[fact].name + " " +
                            plan::value_text(plan_, fact, explorer_.layout().saved[slot].get(row)));
        }
        const auto& checkpoint = explorer_.control_of(row).saved_checkpoint;
        if (checkpoint) texts.push_back("checkpoint in " + plan_.levels[checkpoint->level].name);
        return plan::joined(texts);
    }

    void gates() {
        const plan::EditionId edition = explorer_.options().edition;
        for (const plan::GateId id : plan_.gates.ids()) {
            const plan::Gate& gate = plan_.gates[id];
            bool opens = false;
            for (std::uint32_t set = 0; set < explorer_.level_sets().size() && !opens; ++set) {
                opens = plan::is_open(plan_, gate, [&](LevelId level) {
                    return explorer_.level_sets().is_shown(set, level);
                });
            }
            if (!opens)
                add("gate-never-opens", {gate.place, {ThingKind::gate, id.value}},
                    gate.name + " is closed in every situation" +
                        (edition ? " of edition " + plan_.editions[edition].name : std::string()) +
                        ": it needs " +
                        plan::joined(plan::lacking(plan_, gate.needs, gate.any_of,
                                                   [](LevelId) { return false; })),
                    {});
        }
    }
};

} // namespace

std::vector<Found> findings(Explorer& explorer, const std::vector<WorstUse>& worst,
                            const std::vector<WorstFrame>& frames) {
    std::vector<Found> found = SettledFindings(explorer).collect(worst, frames);
    // What is never met where exploring begins elsewhere may be met before.
    const bool elsewhere = explorer.options().start || explorer.options().begun;
    if (explorer.complete() && explorer.boots() && !elsewhere) {
        std::vector<Found> never = never_findings(explorer);
        std::move(never.begin(), never.end(), std::back_inserter(found));
        std::stable_sort(found.begin(), found.end(), [](const Found& one, const Found& other) {
            return one.finding.severity < other.finding.severity;
        });
    }
    return found;
}

} // namespace hestrel::explore
