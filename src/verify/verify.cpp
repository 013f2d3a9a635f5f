#include "verify/verify.hpp"

#include "walk/ground.hpp"

#include <algorithm>
#include <deque>
#include <map>
#include <set>
#include <utility>

namespace hestrel::verify {

using plan::Bytes;
using plan::Micros;
using walk::Cue;
using walk::EventKind;

namespace {

/// One session, walked until all that it did by itself is told.
class SessionWalk {
public:
    SessionWalk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
                const Play& play, Session session, walk::ReplayOptions options,
                const Tolerance& tolerance, walk::Ground& ground)
        : plan_(plan), route_(route), device_(device), play_(play), options_(std::move(options)),
          tolerance_(tolerance), ground_(ground) {
        result_.session = std::move(session);
    }

    SessionResult run() {
        // What comes first may explain what comes later: so the first is told by itself a few
        // times, and then all.
        constexpr int most_passes = 4;
        for (int pass = 1;; ++pass) {
            walk();
            std::vector<ByItself> found = done_by_itself();
            if (found.empty() || pass > most_passes) break;
            if (pass < most_passes) {
                const Micros first = found.front().cue.at;
                std::erase_if(found, [&](const ByItself& each) { return each.cue.at > first; });
            }
            for (ByItself& each : found) tell(std::move(each));
        }
        compare_memory();
        find_never_fired();
        find_went_through();
        return std::move(result_);
    }

private:
    void walk() {
        result_.replay =
            walk::replay(plan_, route_, device_, result_.session.script, options_, ground_);
        result_.outcomes = match(plan_, play_, result_.session, result_.replay, tolerance_);
        match_facts();
    }

    /// By time.
    [[nodiscard]] std::vector<ByItself> done_by_itself() const {
        std::vector<ByItself> all;
        std::set<std::pair<std::uint32_t, std::size_t>> visits; // each is told once
        for (const Outcome& outcome : result_.outcomes) {
            if (outcome.what != Outcome::What::unplanned || outcome.subject >= plan_.levels.size())
                continue;
            const bool brought = comes(outcome.kind);
            if (!brought && outcome.kind != EventKind::level_unloaded) continue;
            if (is_known(outcome) || (!brought && had_gone(outcome))) continue;
            if (brought && !visits.emplace(outcome.subject, outcome.visit).second) continue;
            Cue cue;
            cue.at = *outcome.measured;
            cue.what = brought ? Cue::What::brought : Cue::What::let_go;
            cue.subject = outcome.subject;
            all.push_back({cue, outcome.line});
        }
        all.insert(all.end(), facts_by_itself_.begin(), facts_by_itself_.end());
        std::stable_sort(all.begin(), all.end(), [](const ByItself& one, const ByItself& other) {
            return one.cue.at < other.cue.at;
        });
        return all;
    }
    /// By the log it was not there any more: nothing can be let go.
    [[nodiscard]] bool had_gone(const Outcome& outcome) const {
        const Said* before = nullptr;
        for (const Said& said : result_.session.said) {
            if (said.line == outcome.line) break;
            if (said.kind != EventKind::fact_set && said.subject == outcome.subject) before = &said;
        }
        return before == nullptr || !comes(before->kind);
    }
    /// It was told, and the plan still does not follow.
    [[nodiscard]] bool is_known(const Outcome& outcome) const {
        return std::any_of(result_.by_itself.begin(), result_.by_itself.end(),
                           [&](const ByItself& each) {
                               return each.cue.subject == outcome.subject &&
                                      each.cue.what != Cue::What::fact_set &&
                                      each.cue.at <= *outcome.measured && outcome.adopted;
                           });
    }
    /// Puts it into the script, behind what is told before it.
    void tell(ByItself each) {
        Session& session = result_.session;
        const auto after =
            std::upper_bound(session.script.cues.begin(), session.script.cues.end(), each.cue,
                             [](const Cue& one, const Cue& other) { return one.at < other.at; });
        // In the same instant by line.
        auto at = static_cast<std::size_t>(after - session.script.cues.begin());
        while (at > 0 && session.script.cues[at - 1].at == each.cue.at &&
               session.cue_lines[at - 1] > each.line)
            --at;
        session.cue_lines.insert(session.cue_lines.begin() + static_cast<std::ptrdiff_t>(at),
                                 each.line);
        session.script.cues.insert(session.script.cues.begin() + static_cast<std::ptrdiff_t>(at),
                                   each.cue);
        result_.by_itself.push_back(std::move(each));
    }

    // --- facts

    /// A value of a fact, whoever's it is.
    struct Set {
        Micros at;
        std::uint32_t fact = 0;
        std::uint32_t player = 0;
        std::int64_t value = 0;
    };
    [[nodiscard]] std::vector<Set> planned_sets() const {
        std::vector<Set> sets;
        const Micros boot = result_.replay.boot_end;
        for (const walk::Event& event : result_.replay.record.events) {
            if (event.kind != EventKind::fact_set) continue;
            const bool word =
                plan_.facts[plan::FactId{event.subject}].initial.kind == plan::ValueKind::word;
            sets.push_back({event.at - boot, event.subject, event.player.value,
                            word ? std::int64_t{event.detail}
                                 : std::int64_t{static_cast<std::int32_t>(event.detail)}});
        }
        return sets;
    }
    /// Of each fact those of the plan are met in their order: what the log sets otherwise before
    /// the next of them was set by the game alone, and one that it passes over by the plan alone.
    void match_facts() {
        result_.facts.clear();
        facts_by_itself_.clear();
        if (!play_.kinds.contains(EventKind::fact_set)) return;
        const std::vector<Set> planned = planned_sets();
        using WhoseFact = std::pair<std::uint32_t, std::uint32_t>; // and its player
        std::map<WhoseFact, std::deque<std::size_t>> to_come;
        for (std::size_t i = 0; i < planned.size(); ++i)
            to_come[{planned[i].fact, planned[i].player}].push_back(i);
        std::vector<bool> met(planned.size());
        for (const Said& said : result_.session.said) {
            if (said.kind != EventKind::fact_set) continue;
            const auto value = static_cast<std::int64_t>(plan::as_compared(said.value));
            std::deque<std::size_t>& next = to_come[{said.subject, said.player.value}];
            while (!next.empty() && planned[next.front()].value != value &&
                   planned[next.front()].at < said.at)
                next.pop_front();
            // Lists begin when the log says; what they wait for may come late, but hardly early.
            constexpr Micros most_early = plan::seconds(5);
            constexpr Micros most_late = plan::seconds(60);
            if (!next.empty() && planned[next.front()].value == value &&
                planned[next.front()].at <= said.at + most_early &&
                said.at <= planned[next.front()].at + most_late) {
                met[next.front()] = true;
                next.pop_front();
                continue;
            }
            if (is_told(said)) continue;
            Cue cue;
            cue.at = said.at;
            cue.what = Cue::What::fact_set;
            cue.subject = said.subject;
            cue.player = said.player;
            cue.value = said.value;
            facts_by_itself_.push_back({cue, said.line});
        }
        for (std::size_t i = 0; i < planned.size(); ++i) {
            if (met[i] || planned[i].at > result_.session.end || is_told(planned[i])) continue;
            result_.facts.push_back(
                {planned[i].at, plan::FactId{planned[i].fact}, planned[i].value});
        }
    }
    [[nodiscard]] bool is_told(const Said& said) const {
        return std::find(result_.session.cue_lines.begin(), result_.session.cue_lines.end(),
                         said.line) != result_.session.cue_lines.end();
    }
    [[nodiscard]] bool is_told(const Set& set) const {
        return std::any_of(result_.session.script.cues.begin(), result_.session.script.cues.end(),
                           [&](const Cue& cue) {
                               return cue.what == Cue::What::fact_set && cue.at == set.at &&
                                      cue.subject == set.fact;
                           });
    }

    // --- memory

    /// Beside what the plan has within the tolerance of that moment; 0 off where it is among it.
    void compare_memory() {
        const std::vector<loading::MemoryRow>& rows = result_.replay.record.memory;
        const Micros boot = result_.replay.boot_end;
        for (const auto& [at, measured] : result_.session.memory) {
            const Micros from = at + boot - tolerance_.time;
            const Micros to = at + boot + tolerance_.time;
            auto row = std::upper_bound(
                rows.begin(), rows.end(), from,
                [](Micros time, const loading::MemoryRow& each) { return time < each.at; });
            if (row != rows.begin()) --row;
            if (row == rows.end()) continue;
            Bytes least = row->total;
            Bytes most = row->total;
            for (; row != rows.end() && row->at <= to; ++row) {
                least = std::min(least, row->total);
                most = std::max(most, row->total);
            }
            result_.memory.push_back({at, std::clamp(measured, least, most), measured});
        }
    }

    /// Triggers that the plan lets fire by themselves, and of which the log says nothing from then
    /// on.
    void find_never_fired() {
        const Micros boot = result_.replay.boot_end;
        for (const walk::CameTrue& due : result_.replay.due) {
            const Micros at = due.at - boot;
            if (at + tolerance_.time > result_.session.end) continue;
            const auto& cues = result_.session.script.cues;
            const bool fired = std::any_of(cues.begin(), cues.end(), [&](const Cue& each) {
                return each.what == Cue::What::fired && each.subject == due.trigger.value &&
                       each.at + tolerance_.time >= at;
            });
            const bool said = std::any_of(
                result_.never_fired.begin(), result_.never_fired.end(),
                [&](const walk::CameTrue& each) { return each.trigger == due.trigger; });
            if (!fired && !said) result_.never_fired.push_back({due.trigger, at});
        }
    }

    void find_went_through() {
        const Micros boot = result_.replay.boot_end;
        for (walk::WentThrough each : result_.replay.went_through) {
            each.from -= boot;
            each.to -= boot;
            const auto& cues = result_.session.script.cues;
            const bool fired = std::any_of(cues.begin(), cues.end(), [&](const Cue& cue) {
                return cue.what == Cue::What::fired && cue.subject == each.trigger.value &&
                       cue.at + tolerance_.time >= each.from && cue.at <= each.to + tolerance_.time;
            });
            const bool said =
                std::any_of(result_.went_through.begin(), result_.went_through.end(),
                            [&](const auto& other) { return other.trigger == each.trigger; });
            if (!fired && !said) result_.went_through.push_back(each);
        }
    }

    const plan::Plan& plan_;
    plan::RouteId route_;
    plan::DeviceId device_;
    const Play& play_;
    walk::ReplayOptions options_;
    const Tolerance& tolerance_;
    walk::Ground& ground_;
    std::vector<ByItself> facts_by_itself_;
    SessionResult result_;
};

} // namespace

PlayResult verify(const plan::Plan& plan, ScriptedPlan::Routes routes, plan::DeviceId device,
                  const Log& log, Play play, std::uint32_t file, const Options& options,
                  walk::Ground& ground) {
    PlayResult result;
    result.name = log.name;
    std::vector<Session> sessions = std::move(play.sessions);
    result.play = std::move(play);
    std::optional<flow::KeptStore> saved = options.saved;
    result.near_left_out = leaves_near_out(plan, result.play);
    std::optional<Micros> origin; // of the walk's clock, on the game's
    for (Session& session : sessions) {
        const plan::RouteId route = result.sessions.empty() ? routes.first : routes.again;
        const Micros begins = session.boot_start && origin
                                  ? std::max(*session.boot_start - *origin, Micros{})
                                  : Micros{};
        result.sessions.push_back(SessionWalk(plan, route, device, result.play, std::move(session),
                                              {saved, begins, options.tolerance.time},
                                              options.tolerance, ground)
                                      .run());
        const SessionResult& done = result.sessions.back();
        if (!origin) origin = done.session.boot_end - done.replay.boot_end;
        const auto& kept = done.replay.record.saved;
        if (kept) saved = kept;
    }
    result.findings = findings(plan, device, log, result, file, options);
    return result;
}

} // namespace hestrel::verify
