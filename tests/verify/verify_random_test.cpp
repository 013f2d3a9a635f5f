// A walk's own events are a log of a game that does what the plan says; with one of them removed,
// delayed, renamed or added, just that is found.

#include "exchange/trace.hpp"
#include "plan/level_tree.hpp"
#include "support/dice.hpp"
#include "support/plays.hpp"
#include "support/random_plan.hpp"
#include "tables/walk_tables.hpp"

#include <algorithm>
#include <set>

using namespace hestrel;
using verify::LogEvent;
using walk::EventKind;

namespace {

std::string random_text_of_plan(std::uint32_t seed) {
    const tests::Rich rich = seed % 4 == 1 ? tests::Rich::all : tests::Rich::yes;
    return tests::RandomPlan(seed, seed % 2 == 0 ? tests::Rich::no : rich).text();
}

/// A walk of the first route on the first device, all players on one machine.
std::optional<walk::Record> own_walk(const plan::Plan& plan) {
    if (walk::is_session(plan, plan::RouteId{0})) return std::nullopt;
    walk::Options options;
    options.most_transitions = 2'000;
    walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, options);
    if (record.stuck || !record.boot) return std::nullopt;
    return record;
}

/// Indices of events that are there once for their level and kind: no other can be taken for them.
/// What goes as the game is switched off is let go by no list.
std::vector<std::size_t> lone_events(const plan::Plan& plan, const verify::Log& log,
                                     EventKind kind) {
    const plan::LevelTree tree = plan::level_tree(plan.levels);
    // Left out, where the log does not tell which came near.
    const auto streams = [&](const std::string& name) {
        plan::LevelId level = tests::named(plan.levels, name);
        while (level && !plan.levels[level].near) level = tree[level].parent;
        return static_cast<bool>(level);
    };
    std::vector<std::size_t> lone;
    for (std::size_t i = 0; i < log.events.size(); ++i) {
        const LogEvent& event = log.events[i];
        const auto same = [&](const LogEvent& other) {
            return other.kind == event.kind && other.subject == event.subject;
        };
        const bool after_boot =
            std::any_of(log.events.begin(), log.events.begin() + static_cast<std::ptrdiff_t>(i),
                        [](const LogEvent& other) { return other.kind == EventKind::boot_ended; });
        const bool switched_off =
            std::any_of(log.events.begin(), log.events.end(), [&](const LogEvent& other) {
                return other.kind == EventKind::launched && other.at == event.at;
            });
        if (event.kind == kind && after_boot && !streams(event.subject) && !switched_off &&
            std::count_if(log.events.begin(), log.events.end(), same) == 1)
            lone.push_back(i);
    }
    return lone;
}

std::set<std::string> names_in(const tests::Verified& verified) {
    std::set<std::string> names;
    for (const plan::Finding& each : verified.result.findings) names.insert(each.name);
    return names;
}

} // namespace

TEST_CASE("a walk's own events agree with the plan exactly") {
    std::size_t walks = 0;
    std::size_t pairs = 0;
    std::size_t moments = 0;
    std::size_t others = 0; // lists that meet in one instant can go either way
    for (std::uint32_t seed = 0; seed < tests::seeds(300); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text_of_plan(seed));
        const auto record = own_walk(plan);
        if (!record) continue;
        ++walks;
        // As a table, and as a trace, which has its memory, too.
        for (const std::string& own :
             {tables::events_csv(plan, *record), exchange::trace_json(plan, *record)}) {
            const tests::Verified verified(plan, tests::log_from(own));
            CHECK(verified.lines() == tests::Lines{});
            for (const verify::SessionResult& session : verified.result.sessions) {
                for (const verify::Outcome& outcome : session.outcomes) {
                    ++pairs;
                    CHECK(outcome.what == verify::Outcome::What::as_planned);
                    if (outcome.planned && outcome.measured) CHECK(outcome.off.count == 0);
                }
                for (const verify::MemoryAt& at : session.memory) {
                    ++moments;
                    if (at.measured != at.planned) ++others;
                }
            }
        }
    }
    CHECK(walks > tests::seeds(300) / 3);
    CHECK(pairs > 20 * walks);
    CHECK(moments > 3 * walks);
    CHECK(others * 500 < moments);
}

TEST_CASE("one event is missing or delayed or renamed or added: just that is found") {
    std::array<std::size_t, 4> tried{};
    for (std::uint32_t seed = 0; seed < tests::seeds(200); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text_of_plan(seed));
        const auto record = own_walk(plan);
        if (!record) continue;
        tests::Dice dice(seed);
        const verify::Log own = tests::log_from(tables::events_csv(plan, *record));
        const EventKind kind = dice.one_in(2) ? EventKind::level_shown : EventKind::level_unloaded;
        const bool shown = kind == EventKind::level_shown;
        const std::vector<std::size_t> lone = lone_events(plan, own, kind);
        if (lone.empty()) continue;
        const std::size_t at =
            lone[static_cast<std::size_t>(dice.below(static_cast<int>(lone.size())))];
        const plan::LevelId level = tests::named(plan.levels, own.events[at].subject);
        const auto how = static_cast<std::size_t>(dice.below(4));
        const bool launched =
            std::any_of(own.events.begin(), own.events.end(),
                        [](const LogEvent& each) { return each.kind == EventKind::launched; });
        if (how == 1 && launched) continue; // what is delayed could come into the next session
        CAPTURE(how, at, plan.levels[level].name, shown);
        verify::Log log = own;
        const auto line = log.events.begin() + static_cast<std::ptrdiff_t>(at);
        if (how == 0) {
            log.events.erase(line);
        } else if (how == 1) {
            line->at += plan::seconds(30);
        } else if (how == 2) {
            line->subject = "nowhere-in-the-plan";
        } else {
            log.events.insert(line + 1, *line);
        }
        ++tried[how];
        const tests::Verified verified(plan, log);
        const std::set<std::string> names = names_in(verified);
        if (how == 0) {
            CHECK(names == std::set<std::string>{shown ? "load-missing" : "unload-missing"});
        } else if (how == 1) {
            CHECK(names == std::set<std::string>{"later-than-planned"});
        } else if (how == 2) {
            CHECK(names ==
                  std::set<std::string>{"unknown-name", shown ? "load-missing" : "unload-missing"});
        } else {
            CHECK(names == std::set<std::string>{shown ? "unplanned-load" : "unplanned-unload"});
        }
        for (const plan::Finding& each : verified.result.findings) {
            if (each.name != "unknown-name") CHECK(each.level == level);
        }
        CHECK(verified.result.findings.size() == (how == 2 ? 2U : 1U));
    }
    for (const std::size_t each : tried) CHECK(each >= 5);
}
