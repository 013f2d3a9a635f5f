#include "command/walk_text.hpp"

#include "command/terminal.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "source/plan_reader.hpp"
#include "tables/role_tables.hpp"
#include "tables/walk_tables.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/roles.hpp"
#include "walk/summary.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <optional>

namespace hestrel::command {

namespace {

using Align = TextTable::Align;

constexpr std::size_t most_transitions = 10; ///< of the transitions table
constexpr std::size_t most_problems = 12;    ///< of problems

/// As short as a table of ten columns needs it: "12.1 s".
std::string cell_time(plan::Micros time) {
    if (time < plan::seconds(10)) return tables::short_time(time);
    return fmt::format("{:.1f} s", plan::in_seconds(time));
}

std::string hitches_text(const walk::Record& record) {
    if (record.hitches.empty()) return "none";
    return fmt::format("{}: {}", tables::grouped(walk::hitches_in(record)),
                       tables::short_time(walk::worst_hitch(record)));
}

std::string peak_of_budget(const walk::Record& record, const plan::Device& device) {
    return tables::short_mebibytes(record.peak) + "/" +
           tables::short_mebibytes(device.memory.total);
}

std::string slack_text(const std::optional<plan::Micros>& slack) {
    if (!slack) return "-";
    return (slack->count > 0 ? "+" : "") + tables::short_time(*slack);
}

} // namespace

std::string routes_table(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    const bool frames = plan::has_frame_costs(plan);
    std::vector<TextTable::Column> columns{{"route"},
                                           {"device"},
                                           {"boot", Align::right},
                                           {"veiled", Align::right},
                                           {"stall", Align::right},
                                           {"gaps", Align::right},
                                           {"slack", Align::right},
                                           {"hitches", Align::right}};
    if (frames) columns.push_back({"frame", Align::right});
    columns.push_back({"peak MiB", Align::right});
    columns.push_back({"verdict"});
    TextTable table(std::move(columns));
    for (const walk::Record* record : walk::worst_first(records)) {
        const plan::Device& device = plan.devices[record->device];
        const plan::Micros gaps = walk::gap_time(*record);
        std::vector<std::string> cells{plan.routes[record->route].name,
                                       walk::device_text(plan, *record),
                                       record->boot ? tables::short_time(*record->boot) : "never",
                                       cell_time(record->shares.veiled),
                                       cell_time(record->shares.stalled),
                                       gaps.count == 0 ? "none" : cell_time(gaps),
                                       slack_text(walk::worst_slack(*record)),
                                       hitches_text(*record)};
        if (frames) cells.push_back(plan::frame_time(record->longest_frame));
        cells.push_back(peak_of_budget(*record, device));
        cells.push_back(tables::verdict_name(record->verdict));
        table.row(std::move(cells));
    }
    return table.text();
}

std::string transitions_table(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    std::vector<walk::LoadSummary> rows = walk::load_summaries(plan, records);
    std::erase_if(rows, [](const walk::LoadSummary& row) { return !row.least; });
    if (rows.empty()) return {};
    const std::vector<plan::DeviceId> devices = walk::devices_of(records);
    std::vector<TextTable::Column> columns{{"least slack (longest load) of"}, {"level"}};
    for (const plan::DeviceId device : devices)
        columns.push_back({plan.devices[device].name, Align::right});
    TextTable table(std::move(columns));
    for (std::size_t i = 0; i < std::min(rows.size(), most_transitions); ++i) {
        std::vector<std::string> cells{tables::cause_text(plan, rows[i]),
                                       tables::level_text(plan, rows[i])};
        for (const plan::DeviceId device : devices) {
            const auto found = rows[i].by_device.find(device);
            const bool met = found != rows[i].by_device.end() && found->second.slack;
            cells.push_back(met ? fmt::format("{} ({})", slack_text(found->second.slack),
                                              tables::short_time(*found->second.longest))
                                : "-");
        }
        table.row(std::move(cells));
    }
    std::string text = table.text();
    if (rows.size() > most_transitions)
        text += fmt::format("and {} more, in transitions.csv of each walk\n",
                            rows.size() - most_transitions);
    return text;
}

std::string roles_tables(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    std::string text;
    for (const walk::RoleMatrix& matrix : walk::role_matrices(plan, records)) {
        std::vector<TextTable::Column> columns{
            {plan.routes[matrix.route].name + ": " + tables::roles_text(plan, matrix)}};
        for (std::size_t column = 0; column < matrix.columns.size(); ++column)
            columns.push_back({tables::column_text(plan, matrix, column)});
        TextTable table(std::move(columns));
        for (std::size_t row = 0; row < matrix.rows.size(); ++row) {
            std::vector<std::string> cells{plan.devices[matrix.rows[row]].name};
            for (std::size_t column = 0; column < matrix.columns.size(); ++column) {
                const walk::RoleOutcome& outcome = matrix.at(row, column);
                const bool worst = &outcome == &matrix.outcomes[matrix.worst];
                cells.push_back((worst ? "worst: " : "") +
                                tables::role_outcome_text(plan, matrix, outcome));
            }
            table.row(std::move(cells));
        }
        text += (text.empty() ? "" : "\n") + table.text();
    }
    return text;
}

std::string problems_text(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    std::string text;
    for (const walk::Record& record : records) {
        if (record.stuck) {
            text += fmt::format("{} on {}: stuck at {}: {}\n", plan.routes[record.route].name,
                                walk::device_text(plan, record),
                                tables::short_time(record.stuck->since),
                                tables::stuck_text(plan, record));
        }
    }
    std::vector<walk::Told> sorted = walk::told_findings(records);
    std::erase_if(sorted, [](const walk::Told& told) {
        return told.finding->name == "stuck"; // said above, with its reason
    });
    const auto is_note = [](const walk::Told& told) {
        return told.finding->severity == plan::Severity::note;
    };
    const std::size_t notes = std::erase_if(sorted, is_note);
    const std::size_t said = std::min(sorted.size(), most_problems);
    for (std::size_t i = 0; i < said; ++i) {
        text += plan::finding_text(plan, *sorted[i].finding) + tables::times_more(sorted[i].times) +
                "\n";
    }
    if (sorted.size() > said) text += fmt::format("{} places more, ", sorted.size() - said);
    if (notes > 0) text += fmt::format("{} {}, ", notes, notes == 1 ? "note" : "notes");
    if (sorted.size() > said || notes > 0) text += "in findings.json\n";
    return text;
}

std::string kept_lines(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    std::string text;
    for (const walk::Record& record : records) {
        const plan::Route& route = plan.routes[record.route];
        for (const walk::Expectation& each : record.expectations) {
            if (each.outcome != walk::Expectation::Outcome::kept) continue;
            const plan::Place place = route.players[each.player].steps[each.step].place;
            text +=
                fmt::format("{}: holds at {} ({} on {}):\n- expect: {}\n",
                            plan::place_text(plan, place), tables::short_time(each.at), route.name,
                            walk::device_text(plan, record), tables::kept_text(plan, each));
        }
    }
    return text;
}

// --- one walk in detail ------------------------------------------------------

namespace {

/// A stretch of time counted from the firing: "0.10 … 1.24".
std::string stretch_text(const std::optional<plan::Micros>& from,
                         const std::optional<plan::Micros>& to, plan::Micros fired) {
    if (!from) return "";
    const auto after = [&](plan::Micros at) {
        return fmt::format("{:.2f}", plan::in_seconds(at - fired));
    };
    return after(*from) + " … " + (to ? after(*to) : "");
}

std::string after_text(const std::optional<plan::Micros>& at, plan::Micros fired) {
    return at ? fmt::format("{:.2f}", plan::in_seconds(*at - fired)) : "";
}

/// What holds most at a moment: "quay 236, post-hall 210, common 56".
std::string contributors_text(const plan::Plan& plan, const walk::Record& record, plan::Micros at) {
    constexpr std::size_t most_named = 4;
    const std::vector<loading::Holding> held = walk::held_at(record, at);
    std::string text;
    for (std::size_t i = 0; i < std::min(held.size(), most_named); ++i) {
        text += fmt::format("{}{} {}", i == 0 ? "" : ", ", tables::holder_name(plan, held[i]),
                            tables::short_mebibytes(held[i].size));
    }
    return text;
}

/// What one transition asked for.
struct Asked {
    std::vector<const loading::LoadRecord*> loads;
    std::vector<const walk::LevelOutcome*> outcomes;
};

/// By transition, from 0, the boot.
std::vector<Asked> asked_by_transition(const walk::Record& record) {
    std::vector<Asked> asked(record.transitions.size() + 1);
    for (const loading::LoadRecord& load : record.loads)
        asked[load.transition].loads.push_back(&load);
    for (const walk::LevelOutcome& outcome : record.outcomes)
        asked[outcome.transition].outcomes.push_back(&outcome);
    return asked;
}

/// The pieces that were read, in order of asking, then levels that were in memory already.
std::string loads_table(const plan::Plan& plan, const Asked& asked, plan::Micros fired) {
    const bool made = std::any_of(asked.loads.begin(), asked.loads.end(),
                                  [](const auto* load) { return load->make_start.has_value(); });
    std::vector<TextTable::Column> columns{
        {"     in order of asking"}, {"read", Align::right}, {"unpacked", Align::right}};
    if (made) columns.push_back({"made", Align::right});
    for (const char* name : {"shown", "needed", "slack"}) columns.push_back({name, Align::right});
    TextTable table(std::move(columns));
    const auto row = [&](const std::string& name, const loading::LoadRecord* load,
                         const walk::LevelOutcome* outcome) {
        std::vector<std::string> cells{"     " + name};
        const auto stage = [&](std::optional<plan::Micros> loading::PieceTimes::*from,
                               std::optional<plan::Micros> loading::PieceTimes::*to) {
            cells.push_back(load == nullptr ? "" : stretch_text(load->*from, load->*to, fired));
        };
        stage(&loading::PieceTimes::read_start, &loading::PieceTimes::read_end);
        stage(&loading::PieceTimes::unpack_start, &loading::PieceTimes::unpack_end);
        if (made) stage(&loading::PieceTimes::make_start, &loading::PieceTimes::make_end);
        cells.push_back(outcome == nullptr ? "" : after_text(outcome->shown, fired));
        cells.push_back(outcome == nullptr ? "" : after_text(outcome->needed, fired));
        cells.push_back(outcome == nullptr ? ""
                        : outcome->held    ? "held"
                                           : slack_text(outcome->slack));
        table.row(std::move(cells));
    };
    std::vector<const walk::LevelOutcome*> told;
    for (const loading::LoadRecord* load : asked.loads) {
        const auto of_level =
            std::find_if(asked.outcomes.begin(), asked.outcomes.end(), [&](const auto* outcome) {
                return outcome->level.value == load->piece.value;
            });
        const bool is_level = of_level != asked.outcomes.end();
        if (is_level) told.push_back(*of_level);
        const bool is_kit = tables::piece_kind(plan, load->piece) == "kit";
        row(tables::piece_name(plan, load->piece) + (is_kit ? " (kit)" : ""), load,
            is_level ? *of_level : nullptr);
    }
    for (const walk::LevelOutcome* outcome : asked.outcomes) {
        if (std::find(told.begin(), told.end(), outcome) == told.end())
            row(plan.levels[outcome->level].name + " (in memory)", nullptr, outcome);
    }
    return table.text();
}

std::string peak_text(const plan::Plan& plan, const walk::Record& record,
                      const walk::TransitionOutcome& whole) {
    std::string text = fmt::format("     peak {} MiB: {}", tables::short_mebibytes(whole.peak),
                                   contributors_text(plan, record, whole.peak_at));
    if (whole.overlap.count > 0)
        text += fmt::format("; old and new together {}", tables::short_mebibytes(whole.overlap));
    return text + "\n";
}

/// Of a session: when its orders came, and how long this machine waited for whom.
std::string machine_text(const plan::Plan& plan, const walk::Record& record,
                         const walk::Transition& transition) {
    if (!record.machine) return {};
    std::string text;
    if (transition.reached && *transition.reached > transition.fired)
        text += fmt::format("     reaches this machine {} later\n",
                            tables::short_time(*transition.reached - transition.fired));
    if (const walk::WaitedFor* waited = walk::waited_in(record, transition.number))
        text += fmt::format("     waits {} for others{} {}\n", tables::short_time(waited->waited),
                            waited->waited == waited->longest ? ":" : ", longest for",
                            plan.routes[record.route].machines[waited->whom].name);
    return text;
}

std::string transition_text(const plan::Plan& plan, const walk::Record& record,
                            const walk::Transition& transition, const Asked& asked) {
    const walk::TransitionOutcome& whole = record.transition_outcomes[transition.number - 1];
    const auto& players = plan.routes[record.route].players;
    std::string who;
    if (transition.firer && players.size() > 1)
        who = fmt::format(" by {}", players[transition.firer.value].name);
    const plan::Micros took = whole.settled - transition.fired;
    std::string text =
        fmt::format("{:>3}  at {}  {}{}, {}{}\n", transition.number,
                    tables::short_time(transition.fired), tables::cause_text(plan, transition), who,
                    took.count == 0 ? "at once" : "settled " + tables::short_time(took) + " later",
                    transition.abandoned ? ", the rest of it abandoned" : "");
    if (!asked.loads.empty() || !asked.outcomes.empty()) {
        text += loads_table(plan, asked, transition.fired);
        text += peak_text(plan, record, whole);
    }
    if (whole.stall.count > 0)
        text += fmt::format("     players stall for {}\n", tables::short_time(whole.stall));
    text += machine_text(plan, record, transition);
    if (!transition.facts_reset.empty()) {
        text += "     resets";
        for (const plan::FactId fact : transition.facts_reset) text += " " + plan.facts[fact].name;
        text += "\n";
    }
    return text;
}

} // namespace

std::string details_text(const plan::Plan& plan, const walk::Record& record) {
    const plan::Device& device = plan.devices[record.device];
    std::string text = fmt::format(
        "{} on {}: {}, {} long, boot {}, peak {} of {} MiB\nTimes are seconds since each firing.\n",
        plan.routes[record.route].name, walk::device_text(plan, record),
        tables::verdict_name(record.verdict), tables::short_time(record.end),
        record.boot ? tables::short_time(*record.boot) : "never",
        tables::short_mebibytes(record.peak), tables::short_mebibytes(device.memory.total));
    const std::vector<Asked> asked = asked_by_transition(record);
    bool apart = true; // what takes more than a line stands apart
    for (const walk::Transition& transition : record.transitions) {
        if (transition.elsewhere) continue;
        const std::string one = transition_text(plan, record, transition, asked[transition.number]);
        const bool long_one = std::count(one.begin(), one.end(), '\n') > 1;
        text += (apart || long_one ? "\n" : "") + one;
        apart = long_one;
    }
    return text;
}

} // namespace hestrel::command
