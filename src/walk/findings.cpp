#include "walk/findings.hpp"

#include "plan/finding_kinds.hpp"
#include "plan/names.hpp"
#include "plan/owner.hpp"
#include "plan/questions.hpp"
#include "plan/texts.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <map>
#include <set>
#include <string>
#include <string_view>

namespace hestrel::walk {

using plan::LevelId;
using plan::Micros;
using plan::Thing;
using plan::ThingKind;

namespace {

using plan::short_memory;
using plan::short_time;

/// Collects the findings of one record.
class Collector {
public:
    Collector(const plan::Plan& plan, const Record& record)
        : plan_(plan), record_(record), route_(plan.routes[record.route]),
          where_(" (" + route_.name + " on " + device_text(plan, record) + ")") {
        for (std::size_t i = 0; i < record.transitions.size(); ++i) {
            for (const Transition::Called& call : record.transitions[i].called)
                callers_[call.level.value].push_back(i);
            if (i % block == 0) last_settled_.emplace_back();
            last_settled_.back() =
                std::max(last_settled_.back(), record.transition_outcomes[i].settled);
        }
    }

    std::vector<plan::Finding> collect() {
        session();
        gaps();
        placements();
        budgets();
        slacks();
        stalls();
        hitches();
        slow_frames();
        lists();
        rules();
        beyond_edition();
        ended_goes();
        expectations();
        thrashing();
        undelivered();
        if (record_.stuck) stuck();
        std::stable_sort(found_.begin(), found_.end(),
                         [](const Found& one, const Found& other) { return one.at < other.at; });
        std::vector<plan::Finding> findings;
        for (Found& each : found_) {
            if (!allowed(each.finding)) findings.push_back(std::move(each.finding));
        }
        return findings;
    }

private:
    struct Found {
        Micros at;
        plan::Finding finding;
    };

    /// Adds one, as bad as its kind, and returns it for what else it carries.
    plan::Finding& add(Micros at, std::string_view name, const plan::Owner& owner,
                       const std::string& message) {
        plan::Finding finding{plan::kind_of(name).severity, std::string(name), owner.place,
                              "at " + short_time(at) + " " + message + where_, owner.thing};
        finding.route = record_.route;
        finding.device = record_.device;
        finding.machine = record_.machine;
        finding.from = at;
        return found_.emplace_back(Found{at, std::move(finding)}).finding;
    }

    [[nodiscard]] bool allowed(const plan::Finding& finding) const {
        return plan::is_allowed(plan_, finding.name, *finding.about);
    }

    /// What a level's loading belongs to: what asked for it last before a moment, else the level.
    using Owner = plan::Owner;
    [[nodiscard]] Owner owner_of(LevelId level, Micros at) const {
        const Owner itself{plan_.levels[level].place, {ThingKind::level, level.value}};
        const auto found = callers_.find(level.value);
        if (found == callers_.end()) return itself;
        const auto after = std::upper_bound(found->second.begin(), found->second.end(), at,
                                            [&](Micros time, std::size_t index) {
                                                return time < record_.transitions[index].fired;
                                            });
        return after == found->second.begin() ? itself
                                              : owner_of(record_.transitions[*std::prev(after)]);
    }
    [[nodiscard]] Owner owner_of(const Transition& transition) const {
        if (!transition.list)
            return {plan_.levels[transition.near].place, {ThingKind::level, transition.near.value}};
        return plan::owner_of(plan_, transition.list);
    }
    [[nodiscard]] Owner route_owner() const {
        return {route_.place, {ThingKind::route, record_.route.value}};
    }
    [[nodiscard]] std::string player_name(std::uint32_t player) const {
        return route_.players.size() == 1 ? "the player" : route_.players[player].name;
    }

    void gaps() {
        const Micros most = plan_.limits.gap.value_or(Micros{});
        for (const Gap& gap : record_.gaps) {
            const Micros length = gap.to - gap.from;
            if (length <= most) continue;
            const bool unveiled = happened(EventKind::veil_down, gap.from);
            const Owner owner = owner_of(gap.level, gap.from);
            const std::string& level = plan::place_name(plan_, gap.level);
            const std::string seconds = short_time(length);
            plan::Finding* added = nullptr;
            if (unveiled) {
                added = &add(gap.from, "unveiled-too-early", owner,
                             "a veil comes down " + seconds + " before " + level + " is shown");
            } else if (gap.stood) {
                added = &add(gap.from, "stood-in-gap", owner,
                             player_name(gap.player) + " stands for " + seconds + " in " + level +
                                 ", which is not shown");
            } else {
                added = &add(gap.from, "seen-gap", owner,
                             player_name(gap.player) + " could see for " + seconds + " that " +
                                 level + " is not shown");
            }
            added->level = gap.level;
            added->to = gap.to;
        }
    }

    /// Whether something of that kind happened at a moment.
    [[nodiscard]] bool happened(EventKind kind, Micros at) const {
        const auto first =
            std::lower_bound(record_.events.begin(), record_.events.end(), at,
                             [](const Event& event, Micros time) { return event.at < time; });
        for (auto event = first; event != record_.events.end() && event->at == at; ++event) {
            if (event->kind == kind) return true;
        }
        return false;
    }

    void placements() {
        for (const Event& event : record_.events) {
            if (event.kind != EventKind::placed) continue;
            const auto first =
                std::lower_bound(record_.gaps.begin(), record_.gaps.end(), event.at,
                                 [](const Gap& gap, Micros time) { return gap.from < time; });
            for (auto gap = first; gap != record_.gaps.end() && gap->from == event.at; ++gap) {
                if (gap->player != event.subject || !gap->stood) continue;
                const Owner owner = owner_of(gap->level, gap->from);
                add(event.at, "placed-before-shown", owner,
                    player_name(event.subject) + " is placed in " +
                        plan::place_name(plan_, gap->level) + " before it is shown")
                    .level = gap->level;
            }
        }
    }

    void budgets() {
        const plan::Device& device = plan_.devices[record_.device];
        for (const loading::Overrun& overrun : record_.overruns) {
            const std::string of = overrun.pool ? plan_.pools[overrun.pool] : "memory";
            const Owner owner = owner_at(overrun.worst_at);
            add(overrun.from, "over-budget", owner,
                of + " is " + short_memory(overrun.worst_over) + " over its " +
                    short_memory(overrun.budget) + " for " + short_time(overrun.to - overrun.from))
                .to = overrun.to;
        }
        if (!plan_.limits.headroom || record_.peak > device.memory.total) return;
        const double free = 1 - static_cast<double>(record_.peak.count) /
                                    static_cast<double>(device.memory.total.count);
        if (free >= *plan_.limits.headroom) return;
        const Owner owner = owner_at(record_.peak_at);
        add(record_.peak_at, "low-headroom", owner,
            "only " + short_memory(device.memory.total - record_.peak) + " of " +
                short_memory(device.memory.total) + " are free");
    }

    /// The transition under way at a moment, the newest; else the route.
    [[nodiscard]] Owner owner_at(Micros at) const {
        const auto after = std::upper_bound(
            record_.transitions.begin(), record_.transitions.end(), at,
            [](Micros time, const Transition& transition) { return time < transition.fired; });
        auto i = static_cast<std::size_t>(after - record_.transitions.begin());
        while (i > 0) {
            --i;
            const bool here = !record_.transitions[i].elsewhere;
            if (here && record_.transition_outcomes[i].settled >= at)
                return owner_of(record_.transitions[i]);
            // Whole blocks of what had settled by then are passed over.
            while (i > 0 && i % block == 0 && last_settled_[i / block - 1] < at) i -= block;
        }
        return route_owner();
    }

    void slacks() {
        if (!plan_.limits.slack) return;
        for (const LevelOutcome& outcome : record_.outcomes) {
            if (!outcome.slack || outcome.held || outcome.slack->count < 0 ||
                *outcome.slack >= *plan_.limits.slack)
                continue;
            const Transition& transition = record_.transitions[outcome.transition - 1];
            const Owner owner = owner_of(transition);
            add(*outcome.shown, "low-slack", owner,
                plan_.levels[outcome.level].name + " is shown only " + short_time(*outcome.slack) +
                    " before it is needed")
                .level = outcome.level;
        }
    }

    void stalls() {
        if (!plan_.limits.stall) return;
        for (const Spell& spell : record_.spells) {
            const Micros length = spell.to - spell.from;
            if (spell.doing != Doing::stalled || length <= *plan_.limits.stall) continue;
            const Owner owner = owner_at(spell.from);
            add(spell.from, "long-stall", owner,
                player_name(spell.player) + " is held up for " + short_time(length) +
                    ", and nothing hides it")
                .to = spell.to;
        }
    }

    void hitches() {
        if (!plan_.limits.hitch) return;
        for (const loading::Hitch& hitch : record_.hitches) {
            if (hitch.length <= *plan_.limits.hitch) continue;
            const Owner owner = owner_at(hitch.at);
            add(hitch.at, "long-hitch", owner,
                hitch.frames == 1
                    ? "a frame takes " + short_time(hitch.length) + " too long"
                    : std::to_string(hitch.frames) + " frames one after another take " +
                          short_time(hitch.length) + " too long each")
                .to = hitch.last();
        }
    }

    void slow_frames() {
        for (const SlowFrames& slow : record_.slow_frames) {
            const LevelId level = slow.levels.front().first;
            plan::Finding& added =
                add(slow.from, "slow-frames",
                    {plan_.levels[level].place, {ThingKind::level, level.value}},
                    "for " + short_time(slow.to - slow.from) + " frames last up to " +
                        plan::frame_text(plan_, record_.device, slow.work, slow.levels));
            added.to = slow.to;
            added.level = level;
        }
    }

    void lists() {
        for (const Event& event : record_.events) {
            const auto of_run = [&] { return owner_of(record_.transitions[event.detail - 1]); };
            switch (event.kind) {
            case EventKind::gave_up_waiting:
                add(event.at, "wait-too-long", of_run(), "a wait gives up");
                break;
            case EventKind::list_abandoned:
                add(event.at, "steps-abandoned", of_run(),
                    "the rest of these steps is left undone: " +
                        plan_.levels[LevelId{event.subject}].name + " is leaving")
                    .level = LevelId{event.subject};
                break;
            case EventKind::switch_refused:
                add(event.at, "switch-refused", of_run(),
                    "the switch to " + plan_.levels[LevelId{event.subject}].name +
                        " is refused: another is under way")
                    .level = LevelId{event.subject};
                break;
            case EventKind::variant_refused: {
                const LevelId level{event.subject};
                const bool near = event.detail == LevelId::no_value;
                const plan::Named& named = plan_.levels[level];
                add(event.at, "variant-refused",
                    near ? Owner{named.place, {ThingKind::level, level.value}} : of_run(),
                    (near ? "coming near " : "asking for ") + named.name +
                        " is refused: a switch to another variant of " +
                        plan::place_name(plan_, level) + " is under way")
                    .level = level;
                break;
            }
            case EventKind::out_of_range: {
                const plan::Fact& fact = plan_.facts[plan::FactId{event.subject}];
                add(event.at, "out-of-range", {fact.place, {ThingKind::fact, event.subject}},
                    fact.name + " is kept at its bound");
                break;
            }
            default: break;
            }
        }
    }

    void rules() {
        for (const RuleBreach& each : record_.breaches) {
            const plan::Rule& rule = plan_.rules[each.what.rule];
            const Micros length = each.to - each.from;
            if (rule.longer_than && length <= *rule.longer_than) continue;
            plan::Finding& added =
                add(each.from, "rule-broken", plan::owner_of(plan_, each.what.rule),
                    "for " + short_time(length) + " " + plan::breach_text(plan_, each.what));
            if (rule.kind == plan::Rule::Kind::contents) {
                added.level = rule.levels.front();
            } else {
                added.rule = each.what.rule;
            }
            added.to = each.to;
        }
    }

    /// Once for each step.
    void beyond_edition() {
        std::set<plan::Place> said;
        for (const BeyondEdition& each : record_.beyond_edition) {
            if (!said.insert(each.step).second) continue;
            const plan::ListId list = record_.transitions[each.transition - 1].list;
            const plan::Owner owner = owner_of(record_.transitions[each.transition - 1]);
            add(each.at, "beyond-edition", {each.step, owner.thing},
                plan::beyond_text(plan_, route_.edition, each.last) + " (" +
                    plan::list_name(plan_, list) + ")")
                .level = each.last;
        }
    }

    void ended_goes() {
        for (const EndedGo& each : record_.ended_goes) {
            const plan::RouteStep& step = route_.players[each.player].steps[each.step];
            const std::string& goal = plan_.waypoints[std::get<plan::GoStep>(step.what).to].name;
            const plan::ListId list = record_.transitions[each.transition - 1].list;
            add(each.at, "go-ended-early", {step.place, route_owner().thing},
                player_name(each.player) + "'s go to " + goal +
                    " ends: " + plan::list_name(plan_, list) + " places it, and " + goal +
                    " can still be reached from there");
        }
    }

    void expectations() {
        using Outcome = Expectation::Outcome;
        for (const Expectation& each : record_.expectations) {
            if (each.outcome == Outcome::held || each.outcome == Outcome::kept) continue;
            const plan::RouteStep& step = route_.players[each.player].steps[each.step];
            const auto& expect = std::get<plan::ExpectStep>(step.what);
            const plan::Condition& condition = plan_.conditions[expect.condition];
            std::string text = '"' + condition.text + "\" is expected";
            if (each.outcome == Outcome::never_reached) {
                text += ", but the route never comes to that";
            } else {
                text += " and does not hold";
            }
            if (each.outcome == Outcome::cut_short) {
                text += ", when the wait for it was cut short after " +
                        short_time(each.at - each.since);
            } else if (expect.within && each.outcome == Outcome::failed) {
                text += " within " + short_time(*expect.within);
            }
            if (!each.values.empty())
                text += ": " + plan::values_text(plan_, condition, each.values);
            if (each.outcome != Outcome::never_reached)
                text += "; " + player_name(each.player) + " is " + place_text(each);
            plan::Finding& added =
                add(each.at, "expectation-failed", {step.place, route_owner().thing}, text);
            added.at = each.place;
        }
    }
    [[nodiscard]] std::string place_text(const Expectation& each) const {
        if (each.place) return "at " + plan_.waypoints[each.place].name;
        if (!each.path) return "nowhere";
        return "on the " + plan::thing_name(plan_, {ThingKind::path,
                                                    static_cast<std::uint32_t>(each.path.value)});
    }

    void thrashing() {
        std::map<std::uint32_t, Micros> released;
        for (const Event& event : record_.events) {
            if (event.kind == EventKind::piece_released) released[event.subject] = event.at;
            if (event.kind == EventKind::launched) released.clear();
            if (event.kind != EventKind::piece_reading) continue;
            const auto found = released.find(event.subject);
            if (found == released.end() || event.at - found->second > soon_read_again) continue;
            const bool is_level = event.subject < plan_.levels.size();
            const auto kit = static_cast<std::uint32_t>(event.subject - plan_.levels.size());
            const plan::Named& piece =
                is_level ? static_cast<const plan::Named&>(plan_.levels[LevelId{event.subject}])
                         : plan_.kits[plan::KitId{kit}];
            add(event.at, "load-thrash",
                {piece.place,
                 is_level ? Thing{ThingKind::level, event.subject} : Thing{ThingKind::kit, kit}},
                piece.name + " is read again " + short_time(event.at - found->second) +
                    " after it was released");
        }
    }

    void undelivered() {
        std::vector<Micros> arrived;
        for (const Event& event : record_.events) {
            if (event.kind == EventKind::parcel_arrived) arrived.push_back(event.at);
        }
        if (arrived.empty()) return;
        // A read that began only when a parcel arrived had waited for it.
        for (const loading::LoadRecord& load : record_.loads) {
            const std::optional<Micros> begun = load.begun();
            const bool waited =
                !begun || (load.asked < *begun &&
                           std::find(arrived.begin(), arrived.end(), *begun) != arrived.end());
            if (!waited || load.piece.value >= plan_.levels.size()) continue;
            const LevelId level{load.piece.value};
            const std::string when = begun ? ", " + short_time(*begun - load.asked) + " later"
                                           : std::string(" or never");
            add(load.asked, "not-delivered",
                {plan_.levels[level].place, {ThingKind::level, level.value}},
                plan_.levels[level].name + " is asked for before it is delivered" + when)
                .level = level;
        }
    }

    /// What comes of several machines (section 11).
    void session() {
        const auto machine = [&](plan::MachineId id) -> const std::string& {
            return route_.machines[id].name;
        };
        for (const UnknownThere& each : record_.unknown) {
            const std::string place = plan::place_name(plan_, each.level);
            add(each.at, "unknown-there",
                {plan_.levels[each.level].place, {ThingKind::level, each.level.value}},
                player_name(each.player) + " stands in " + place + ", and " +
                    machine(record_.machine) + " was never told to load it")
                .level = each.level;
        }
        for (const WaitedFor& each : record_.waited) {
            const bool too_long = plan_.limits.others && each.waited > *plan_.limits.others;
            if (!too_long || is_headless(plan_, record_)) continue; // nobody waits there
            const Owner owner = owner_of(record_.transitions[each.transition - 1]);
            const Micros from = each.at - each.longest;
            add(from, "waits-for-slowest", owner,
                machine(record_.machine) + " waits " + short_time(each.waited) +
                    " for other machines, longest for " + machine(each.whom))
                .to = each.at;
        }
        if (record_.joined) return;
        add(record_.end, "joined-too-late", {machine_place(), route_owner().thing},
            "the route has ended, and " + machine(record_.machine) + " has not joined yet");
    }
    [[nodiscard]] plan::Place machine_place() const {
        return route_.machines[record_.machine].place;
    }

    void stuck() {
        const Owner owner = route_owner();
        add(record_.stuck->since, "stuck", owner, "the walk gets stuck");
    }

    const plan::Plan& plan_;
    const Record& record_;
    const plan::Route& route_;
    std::string where_;
    static constexpr std::size_t block = 256;
    std::vector<Micros> last_settled_; ///< by block of transitions: when the last of it settled
    std::map<std::uint32_t, std::vector<std::size_t>> callers_; ///< transitions, by level
    std::vector<Found> found_;
};

} // namespace

std::vector<plan::Finding> findings(const plan::Plan& plan, const Record& record) {
    return Collector(plan, record).collect();
}

Verdict verdict_of(const std::vector<plan::Finding>& findings) {
    Verdict worst = Verdict::fine;
    for (const plan::Finding& finding : findings)
        worst = std::max(worst, plan::kind_of(finding.name).verdict);
    return worst;
}

} // namespace hestrel::walk
