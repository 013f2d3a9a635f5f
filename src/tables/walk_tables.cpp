#include "tables/walk_tables.hpp"

#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "source/json.hpp"
#include "source/plan_reader.hpp"
#include "tables/csv.hpp"
#include "tables/findings.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <array>
#include <boost/range/adaptor/transformed.hpp>
#include <fmt/format.h>

namespace hestrel::tables {

using plan::Micros;
using source::Json;

namespace {

Json seconds_json(const std::optional<Micros>& time) {
    return time ? Json(plan::in_seconds(*time)) : Json(nullptr);
}

Json outcome_json(const plan::Plan& plan, const walk::LevelOutcome& outcome) {
    return {{"level", plan.levels[outcome.level].name},
            {"ready_s", seconds_json(outcome.ready)},
            {"shown_s", seconds_json(outcome.shown)},
            {"needed_s", seconds_json(outcome.needed)},
            {"slack_s", seconds_json(outcome.slack)},
            {"lead_m", outcome.lead ? Json(*outcome.lead) : Json(nullptr)}};
}

/// When it reached the machine of a session, and how long that waited for others.
void add_machine(const plan::Plan& plan, const walk::Record& record,
                 const walk::Transition& transition, Json& json) {
    json["reached_s"] = seconds_json(transition.reached);
    const walk::WaitedFor* waited = walk::waited_in(record, transition.number);
    json["waited_s"] = seconds_json(waited != nullptr ? waited->waited : plan::Micros{});
    json["waited_for"] =
        waited != nullptr ? Json(plan.routes[record.route].machines[waited->whom].name) : Json();
}

Json transitions_json(const plan::Plan& plan, const walk::Record& record) {
    Json all = Json::array();
    auto outcome = record.outcomes.begin();
    for (std::size_t i = 0; i < record.transitions.size(); ++i) {
        const walk::Transition& transition = record.transitions[i];
        if (transition.elsewhere) continue;
        const walk::TransitionOutcome& whole = record.transition_outcomes[i];
        Json levels = Json::array();
        for (; outcome != record.outcomes.end() && outcome->transition == transition.number;
             ++outcome)
            levels.push_back(outcome_json(plan, *outcome));
        Json facts = Json::array();
        for (const plan::FactId fact : transition.facts_reset)
            facts.push_back(plan.facts[fact].name);
        all.push_back({{"transition", transition.number},
                       {"cause", cause_text(plan, transition)},
                       {"fired_s", seconds_json(transition.fired)},
                       {"ended_s", seconds_json(transition.ended)},
                       {"abandoned", transition.abandoned},
                       {"settled_s", seconds_json(whole.settled)},
                       {"stall_s", seconds_json(whole.stall)},
                       {"peak_mib", plan::in_mebibytes(whole.peak)},
                       {"overlap_mib", plan::in_mebibytes(whole.overlap)},
                       {"facts_reset", std::move(facts)},
                       {"levels", std::move(levels)}});
        if (record.machine) add_machine(plan, record, transition, all.back());
    }
    return all;
}

Json gaps_json(const plan::Plan& plan, const walk::Record& record) {
    Json all = Json::array();
    for (const walk::Gap& gap : record.gaps) {
        all.push_back({{"player", plan.routes[record.route].players[gap.player].name},
                       {"level", plan.levels[gap.level].name},
                       {"stood", gap.stood},
                       {"from_s", seconds_json(gap.from)},
                       {"to_s", seconds_json(gap.to)}});
    }
    return all;
}

Columns<loading::LoadRecord> load_columns(const plan::Plan& plan) {
    using Load = loading::LoadRecord;
    Columns<Load> columns{
        {"transition", [](const Load& load) { return load.transition; }},
        {"piece", [&](const Load& load) { return piece_name(plan, load.piece); }},
        {"kind", [&](const Load& load) { return piece_kind(plan, load.piece); }},
        {"priority", [](const Load& load) { return plan::priority_name(load.priority); }},
        {"asked_s", [](const Load& load) { return load.asked; }}};
    for (const loading::PieceTime& each : loading::piece_times)
        columns.push_back({each.column, [each](const Load& load) { return load.*each.time; }});
    return columns;
}

Columns<loading::MemoryRow> memory_columns(const plan::Plan& plan) {
    using Row = loading::MemoryRow;
    Columns<Row> columns{{"time_s", [](const Row& row) { return row.at; }},
                         {"total_mib", [](const Row& row) { return row.total; }},
                         {"staging_mib", [](const Row& row) { return row.staging; }},
                         {"veils_mib", [](const Row& row) { return row.veils; }}};
    for (const plan::PoolId pool : plan.pools.ids())
        columns.push_back(
            {plan.pools[pool] + "_mib", [pool](const Row& row) { return row.pools[pool.value]; }});
    return columns;
}

/// What every frame takes, a row when it changes.
Columns<loading::FrameRow> frame_columns() {
    using Row = loading::FrameRow;
    return {{"time_s", [](const Row& row) { return row.at; }},
            {"frame_ms", [](const Row& row) {
                 return fmt::format("{:.3f}", plan::in_seconds(row.work) * 1e3);
             }}};
}
/// Rows that differ in nothing but a standstill are one.
std::vector<loading::FrameRow> frames_that_differ(const walk::Record& record) {
    std::vector<loading::FrameRow> rows;
    for (const loading::FrameRow& row : record.frames) {
        if (rows.empty() || rows.back().work != row.work) rows.push_back(row);
    }
    return rows;
}

/// Worked out once an event, for three of its columns.
struct ToldEvent {
    plan::Micros at;
    EventWords words;
};
Columns<ToldEvent> event_columns() {
    return {{"time_s", [](const ToldEvent& told) { return told.at; }},
            {"event", [](const ToldEvent& told) { return told.words.event; }},
            {"subject", [](const ToldEvent& told) { return told.words.subject; }},
            {"detail", [](const ToldEvent& told) { return told.words.detail; }},
            {"player", [](const ToldEvent& told) { return told.words.player; }}};
}
/// One after another, as they are asked for.
auto told_events(const plan::Plan& plan, const walk::Record& record) {
    return record.events | boost::adaptors::transformed([&](const walk::Event& event) {
               return ToldEvent{event.at, event_words(plan, record, event)};
           });
}

Columns<walk::Record> summary_columns(const plan::Plan& plan, bool sessions) {
    using walk::Record;
    Columns<Record> columns{
        {"route", [&](const Record& record) { return plan.routes[record.route].name; }},
        {"device", [&](const Record& record) { return plan.devices[record.device].name; }},
        {"verdict", [](const Record& record) { return verdict_name(record.verdict); }},
        {"boot_s", [](const Record& record) { return record.boot; }},
        {"end_s", [](const Record& record) { return record.end; }},
        {"moving_s", [](const Record& record) { return record.shares.moving; }},
        {"pausing_s", [](const Record& record) { return record.shares.pausing; }},
        {"veiled_s", [](const Record& record) { return record.shares.veiled; }},
        {"stalled_s", [](const Record& record) { return record.shares.stalled; }},
        {"gaps", [](const Record& record) { return record.gaps.size(); }},
        {"gaps_s", [](const Record& record) { return walk::gap_time(record); }},
        {"worst_slack_s", [](const Record& record) { return walk::worst_slack(record); }},
        {"hitches", [](const Record& record) { return walk::hitches_in(record); }},
        {"worst_hitch_s", [](const Record& record) { return walk::worst_hitch(record); }},
        {"peak_mib", [](const Record& record) { return record.peak; }},
        {"peak_at_s", [](const Record& record) { return record.peak_at; }},
        {"budget_mib",
         [&](const Record& record) { return plan.devices[record.device].memory.total; }},
        {"longest_frame_s", [](const Record& record) { return record.longest_frame; }}};
    if (sessions) {
        columns.insert(columns.begin() + 2,
                       {"machine", [&](const Record& record) {
                            const plan::Machine* machine = walk::machine_of(plan, record);
                            return machine != nullptr ? machine->name : std::string();
                        }});
        columns.insert(columns.begin() + 3, {"devices", [&](const Record& record) {
                                                 return walk::devices_text(plan, record.devices);
                                             }});
    }
    return columns;
}

Json holdings_json(const plan::Plan& plan, const std::vector<loading::Holding>& holdings) {
    Json all = Json::array();
    for (const loading::Holding& holding : holdings) {
        all.push_back({{"held_by", holder_name(plan, holding)},
                       {"from_s", seconds_json(holding.from)},
                       {"to_s", seconds_json(holding.to)},
                       {"size_mib", plan::in_mebibytes(holding.size)}});
    }
    return all;
}

Json overruns_json(const plan::Plan& plan, const walk::Record& record) {
    Json all = Json::array();
    for (const loading::Overrun& overrun : record.overruns) {
        Json resident = Json::array();
        for (const loading::Holding& holding : record.holdings) {
            const bool held = holding.from <= overrun.worst_at && overrun.worst_at < holding.to;
            if (held && holding.size.count > 0) resident.push_back(holder_name(plan, holding));
        }
        all.push_back({{"budget", budget_name(plan, overrun)},
                       {"budget_mib", plan::in_mebibytes(overrun.budget)},
                       {"from_s", seconds_json(overrun.from)},
                       {"to_s", seconds_json(overrun.to)},
                       {"worst_at_s", seconds_json(overrun.worst_at)},
                       {"worst_over_mib", plan::in_mebibytes(overrun.worst_over)},
                       {"resident", std::move(resident)}});
    }
    return all;
}

Json summary_of(const plan::Plan& plan, const walk::Record& record) {
    Json summary = json_of_row(summary_columns(plan, static_cast<bool>(record.machine)), record);
    summary["stuck"] = record.stuck ? Json(stuck_text(plan, record)) : Json(nullptr);
    return summary;
}

} // namespace

std::string events_csv(const plan::Plan& plan, const walk::Record& record) {
    return csv_of(event_columns(), told_events(plan, record));
}

std::string loads_csv(const plan::Plan& plan, const walk::Record& record) {
    return csv_of(load_columns(plan), record.loads);
}

std::string transitions_csv(const plan::Plan& plan, const walk::Record& record) {
    Csv csv{"transition", "cause",  "level",   "fired_s",  "ready_s",     "shown_s",    "needed_s",
            "slack_s",    "lead_m", "stall_s", "peak_mib", "overlap_mib", "facts_reset"};
    auto outcome = record.outcomes.begin();
    for (std::size_t i = 0; i < record.transitions.size(); ++i) {
        const walk::Transition& transition = record.transitions[i];
        if (transition.elsewhere) continue;
        const walk::TransitionOutcome& whole = record.transition_outcomes[i];
        const auto row = [&](const walk::LevelOutcome& level) {
            csv.add(std::int64_t{transition.number}).add(cause_text(plan, transition));
            csv.add(level.level ? std::string_view(plan.levels[level.level].name) : "");
            csv.add(transition.fired).add(level.ready).add(level.shown).add(level.needed);
            csv.add(level.slack).add(level.lead ? fmt::format("{:.3f}", *level.lead) : "");
            csv.add(whole.stall).add(whole.peak).add(whole.overlap);
            csv.add(plan::joined(plan::names_in(plan.facts, transition.facts_reset), " "));
            csv.end_row();
        };
        const auto first = outcome;
        for (; outcome != record.outcomes.end() && outcome->transition == transition.number;
             ++outcome)
            row(*outcome);
        if (outcome == first) row({}); // it asked for nothing that was not there
    }
    return csv.take();
}

namespace {

/// When all that a transition asked a machine for was so; unset: it asked for nothing, or not all
/// ever was.
std::optional<plan::Micros> all_of_it(const walk::Record& record, std::uint32_t transition,
                                      std::optional<plan::Micros> walk::LevelOutcome::*there) {
    std::optional<plan::Micros> last;
    for (const walk::LevelOutcome& outcome : record.outcomes) {
        if (outcome.transition != transition) continue;
        if (!(outcome.*there)) return std::nullopt;
        last = std::max(last.value_or(plan::Micros{}), *(outcome.*there));
    }
    return last;
}

} // namespace

std::string machines_csv(const plan::Plan& plan, std::span<const walk::Record> session) {
    Csv csv({"transition", "cause", "machine", "reached_s", "ready_s", "shown_s", "waited_s",
             "waited_for"});
    const plan::Route& route = plan.routes[session.front().route];
    std::size_t transitions = 0;
    for (const walk::Record& record : session)
        transitions = std::max(transitions, record.transitions.size());
    for (std::size_t i = 0; i < transitions; ++i) {
        for (const walk::Record& record : session) {
            if (i >= record.transitions.size()) continue;
            const walk::Transition& transition = record.transitions[i];
            if (transition.elsewhere || !transition.reached) continue;
            const std::uint32_t number = transition.number;
            const walk::WaitedFor* waited = walk::waited_in(record, number);
            csv.add(std::int64_t{number}).add(cause_text(plan, transition));
            csv.add(route.machines[record.machine].name).add(transition.reached);
            csv.add(all_of_it(record, number, &walk::LevelOutcome::ready));
            csv.add(all_of_it(record, number, &walk::LevelOutcome::shown));
            csv.add(waited != nullptr ? waited->waited : plan::Micros{});
            csv.add(waited != nullptr ? std::string_view(route.machines[waited->whom].name) : "");
            csv.end_row();
        }
    }
    return csv.take();
}

std::string memory_csv(const plan::Plan& plan, const walk::Record& record) {
    return csv_of(memory_columns(plan), record.memory);
}

/// When each player was at which step of its route.
Json steps_json(const plan::Plan& plan, const walk::Record& record) {
    Json list = Json::array();
    for (const walk::RouteStepTime& time : record.steps) {
        const plan::RoutePlayer& player = plan.routes[record.route].players[time.player];
        list.push_back({{"player", player.name},
                        {"step", route_step_text(plan, player.steps[time.step])},
                        {"from_s", seconds_json(time.from)},
                        {"to_s", seconds_json(time.to)}});
    }
    return list;
}

/// What the route expected, and what came of it.
Json expectations_json(const plan::Plan& plan, const walk::Record& record) {
    static constexpr std::array<std::string_view, 5> outcomes{"held", "failed", "cut-short",
                                                              "never-reached", "told"};
    Json list = Json::array();
    for (const walk::Expectation& each : record.expectations) {
        const plan::RoutePlayer& player = plan.routes[record.route].players[each.player];
        const auto& expect = std::get<plan::ExpectStep>(player.steps[each.step].what);
        Json json{{"player", player.name},
                  {"expect", expectation_text(plan, expect)},
                  {"outcome", outcomes.at(static_cast<std::size_t>(each.outcome))},
                  {"from_s", seconds_json(each.since)},
                  {"at_s", seconds_json(each.at)}};
        if (!expect.condition) json["holds"] = kept_text(plan, each);
        if (each.place) json["place"] = plan.waypoints[each.place].name;
        if (!each.values.empty())
            json["values"] =
                plan::values_text(plan, plan.conditions[expect.condition], each.values);
        list.push_back(std::move(json));
    }
    return list;
}

/// The straight ways that players walked.
Json tracks_json(const plan::Plan& plan, const walk::Record& record) {
    Json list = Json::array();
    for (const walk::Track& track : record.tracks) {
        const plan::WorldId world = plan.waypoints[plan.paths[track.path].from].world;
        list.push_back({{"player", plan.routes[record.route].players[track.player].name},
                        {"world", plan.worlds[world]},
                        {"from_s", seconds_json(track.from)},
                        {"to_s", seconds_json(track.to)},
                        {"from", track.start},
                        {"to", track.end}});
    }
    return list;
}

std::string walk_json(const plan::Plan& plan, const walk::Record& record) {
    Json json = summary_of(plan, record);
    json["plan"] = plan.name;
    json["at_peak"] = holdings_json(plan, record.at_peak);
    json["overruns"] = overruns_json(plan, record);
    json["findings"] = Json::array();
    for (const plan::Finding& finding : record.findings)
        json["findings"].push_back(finding_json(plan, finding));
    json["transitions"] = transitions_json(plan, record);
    json["gaps"] = gaps_json(plan, record);
    json["loads"] = json_of(load_columns(plan), record.loads);
    json["hitch_list"] = Json::array();
    for (const loading::Hitch& hitch : record.hitches) {
        Json each{{"at_s", seconds_json(hitch.at)}, {"length_s", seconds_json(hitch.length)}};
        if (hitch.frames > 1) {
            each["frames"] = hitch.frames;
            each["every_s"] = seconds_json(hitch.every);
        }
        json["hitch_list"].push_back(std::move(each));
    }
    if (plan::has_frame_costs(plan)) {
        json["frames"] = json_of(frame_columns(), frames_that_differ(record));
        json["slow_frames"] = Json::array();
        for (const walk::SlowFrames& slow : record.slow_frames) {
            Json costs = Json::object();
            for (const auto& [level, cost] : slow.levels)
                costs[plan.levels[level].name] = seconds_json(cost);
            json["slow_frames"].push_back({{"from_s", seconds_json(slow.from)},
                                           {"to_s", seconds_json(slow.to)},
                                           {"work_s", seconds_json(slow.work)},
                                           {"frame_s", seconds_json(slow.frame)},
                                           {"levels", std::move(costs)}});
        }
    }
    static constexpr std::array<std::string_view, 4> doings{"moving", "pausing", "veiled",
                                                            "stalled"};
    json["spells"] = Json::array();
    for (const walk::Spell& spell : record.spells) {
        json["spells"].push_back({{"player", plan.routes[record.route].players[spell.player].name},
                                  {"doing", doings.at(static_cast<std::size_t>(spell.doing))},
                                  {"from_s", seconds_json(spell.from)},
                                  {"to_s", seconds_json(spell.to)}});
    }
    json["steps"] = steps_json(plan, record);
    if (!record.expectations.empty()) json["expectations"] = expectations_json(plan, record);
    json["tracks"] = tracks_json(plan, record);
    json["memory"] = json_of(memory_columns(plan), record.memory);
    json["holdings"] = holdings_json(plan, record.holdings);
    json["events"] = json_of(event_columns(), told_events(plan, record));
    return source::file_text(json);
}

std::string frames_csv(const walk::Record& record) {
    return csv_of(frame_columns(), frames_that_differ(record));
}

std::string verdict_name(walk::Verdict verdict) {
    return std::string(plan::name_of(verdict));
}

std::string summary_csv(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    const bool sessions = std::any_of(records.begin(), records.end(), [](const auto& record) {
        return static_cast<bool>(record.machine);
    });
    return csv_of(summary_columns(plan, sessions), records);
}

std::string summary_json(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    Json walks = Json::array();
    for (const walk::Record& record : records) walks.push_back(summary_of(plan, record));
    return source::file_text(Json{{"plan", plan.name}, {"walks", std::move(walks)}});
}

} // namespace hestrel::tables
