#include "explore/races.hpp"

#include "explore/keys.hpp"

#include <algorithm>
#include <set>

namespace hestrel::explore {

using plan::LevelId;

namespace {

constexpr std::uint32_t nowhere = UINT32_MAX;

std::string value_text(const plan::Plan& plan, const plan::Fact& fact, flow::FactValue value) {
    switch (fact.initial.kind) {
    case plan::ValueKind::flag: return value != 0 ? "true" : "false";
    case plan::ValueKind::number: return std::to_string(value);
    case plan::ValueKind::word: break;
    }
    return plan.words[plan::WordId{static_cast<std::uint32_t>(value)}];
}

/// How what goes on in a situation ends where players do nothing: in one way, or in several.
struct Ends {
    std::uint32_t one = nowhere;
    std::uint32_t other = nowhere; ///< set: in another way as well
    bool known = false;            ///< false: it can't be told
};

/// What follows from each situation by itself, worked out from its end.
class Outlook {
public:
    explicit Outlook(Explorer& explorer) : explorer_(explorer), ends_(explorer.situations()) {}

    /// Whether two ends differ in more than whether something has come that nobody asks about.
    [[nodiscard]] bool differ(std::uint32_t one, std::uint32_t other) const {
        return one != other && (!explorer_.reduction().any_silent() || told(one) != told(other));
    }

    /// Of a situation; deep ways are followed without recursion.
    const Ends& of(std::uint32_t situation) {
        if (seen(situation)) return ends_[situation];
        std::vector<Open> open;
        enter(open, situation);
        while (!open.empty()) {
            Open& now = open.back();
            if (now.next == now.leads_to.size()) {
                close(now);
                open.pop_back();
            } else if (const std::uint32_t next = now.leads_to[now.next++]; !seen(next)) {
                enter(open, next);
            }
        }
        return ends_[situation];
    }

private:
    struct Open {
        std::uint32_t situation = 0;
        std::vector<std::uint32_t> leads_to;
        std::size_t next = 0;
        bool told = true;
    };

    /// A situation as if all had come, and were shown, that does so silently.
    [[nodiscard]] Key told(std::uint32_t situation) const {
        const Reduction& reduction = explorer_.reduction();
        std::vector<Word> row(explorer_.row(situation),
                              explorer_.row(situation) + explorer_.layout().words);
        std::vector<LevelThere> levels = explorer_.levels_of(row.data());
        for (LevelThere& each : levels) {
            if (!reduction.tells_coming(each.level)) each.pending = false;
            if (!reduction.tells_showing(each.level)) each.shown = each.wanted;
        }
        explorer_.layout().levels.set(row.data(), 0);
        KeyWriter writer;
        writer(levels);
        for (const Word word : row) writer(word);
        return writer.take();
    }
    [[nodiscard]] bool seen(std::uint32_t situation) {
        if (seen_.empty()) seen_.resize(ends_.size(), false);
        return seen_[situation];
    }
    void enter(std::vector<Open>& open, std::uint32_t situation) {
        seen_[situation] = true;
        Open entered{situation, {}, 0, situation < explorer_.visited()};
        if (entered.told) {
            explorer_.for_successors(situation, [&](std::uint32_t next, const Outcome& outcome) {
                const MoveTaken& taken = explorer_.taken(outcome.taken);
                const Move& move = explorer_.moves()[taken.move];
                if (!by_itself(situation, move)) return;
                if (taken.branches.empty()) {
                    entered.leads_to.push_back(next);
                } else {
                    entered.told = false;
                }
            });
        }
        open.push_back(std::move(entered));
    }
    [[nodiscard]] bool by_itself(std::uint32_t situation, const Move& move) const {
        switch (move.kind) {
        case Move::Kind::arrive:
        case Move::Kind::attach:
        case Move::Kind::attach_block:
        case Move::Kind::sweep: return true;
        case Move::Kind::wake: {
            const auto& runs = explorer_.control_of(explorer_.row(situation)).runs;
            return move.run >= runs.size() || !runs[move.run].gives_up;
        }
        default: return false;
        }
    }
    void close(const Open& done) {
        Ends& ends = ends_[done.situation];
        if (!done.told) return;
        ends.known = true;
        if (done.leads_to.empty()) {
            ends.one = done.situation;
            return;
        }
        const auto add = [&](std::uint32_t end) {
            if (end == nowhere) return;
            if (ends.one == nowhere) {
                ends.one = end;
            } else if (ends.other == nowhere && differ(end, ends.one)) {
                ends.other = end;
            }
        };
        for (const std::uint32_t next : done.leads_to) {
            // One that is not closed yet leads round in a circle.
            if (!ends_[next].known) {
                ends = {};
                return;
            }
            if (ends.other != nowhere) continue;
            add(ends_[next].one);
            add(ends_[next].other);
        }
    }

    Explorer& explorer_;
    std::vector<Ends> ends_;
    std::vector<bool> seen_;
};

} // namespace

std::vector<Race> races(Explorer& explorer) {
    std::vector<Race> races;
    std::set<std::vector<plan::ListId>> said;
    Outlook outlook(explorer);
    for (std::uint32_t situation = 0; situation < explorer.visited(); ++situation) {
        const auto& runs = explorer.control_of(explorer.row(situation)).runs;
        if (runs.size() < 2) continue;
        const Ends ends = outlook.of(situation);
        if (!ends.known || ends.other == nowhere) continue;
        Race race{{}, situation, ends.one, ends.other};
        for (const flow::RunState& run : runs) race.lists.push_back(run.list);
        std::vector<plan::ListId> key = race.lists;
        std::sort(key.begin(), key.end());
        if (said.insert(std::move(key)).second) races.push_back(std::move(race));
    }
    return races;
}

std::string difference_text(const Explorer& explorer, std::uint32_t one, std::uint32_t other) {
    constexpr std::size_t most_said = 3;
    const plan::Plan& plan = explorer.plan();
    const Word* row = explorer.row(one);
    const Word* as = explorer.row(other);
    std::vector<std::string> parts;
    const flow::FactSlots& slots = explorer.layout().slots;
    for (const flow::FactSlot slot : slots.ids()) {
        const plan::FactId fact = slots.fact(slot);
        const auto& field = explorer.layout().facts[slot];
        if (field.get(row) == field.get(as)) continue;
        const auto value = [&](const Word* of) {
            return value_text(plan, plan.facts[fact], field.get(of));
        };
        parts.push_back(plan.facts[fact].name + " is " + value(row) + " or " + value(as));
    }
    const auto& levels = explorer.levels_of(row);
    const auto& differently = explorer.levels_of(as);
    for (const LevelId level : plan.levels.ids()) {
        const std::string& name = plan.levels[level].name;
        if (is_there(levels, level) != is_there(differently, level)) {
            parts.push_back(name + " is loaded or not");
        } else if (is_shown(levels, level) != is_shown(differently, level)) {
            parts.push_back(name + " is shown or not");
        }
    }
    const flow::State& control = explorer.control_of(row);
    const flow::State& other_control = explorer.control_of(as);
    const auto up = veils_up(control);
    const auto other_up = veils_up(other_control);
    for (const plan::VeilId veil : plan.veils.ids()) {
        const bool is_up = std::find(up.begin(), up.end(), veil) != up.end();
        if (is_up != (std::find(other_up.begin(), other_up.end(), veil) != other_up.end()))
            parts.push_back("veil " + plan.veils[veil].name + " is up or not");
    }
    for (const plan::MenuId menu : plan.menus.ids()) {
        const auto open = [&](const flow::State& in) { return menus_open(in).contains(menu); };
        if (open(control) != open(other_control))
            parts.push_back("menu " + plan.menus[menu].name + " is open or not");
    }
    for (std::size_t player = 0; player < explorer.players().size(); ++player) {
        const plan::WaypointId at = explorer.player_of(row, player).at;
        const plan::WaypointId elsewhere = explorer.player_of(as, player).at;
        if (at == elsewhere || !at || !elsewhere) continue;
        parts.push_back("a player is at " + plan.waypoints[at].name + " or at " +
                        plan.waypoints[elsewhere].name);
    }
    if (parts.empty()) return "something else is left behind";
    std::string text;
    for (std::size_t i = 0; i < parts.size() && i < most_said; ++i)
        text += (i == 0 ? "" : ", ") + parts[i];
    if (parts.size() > most_said)
        text += " and " + std::to_string(parts.size() - most_said) + " more";
    return text;
}

} // namespace hestrel::explore
