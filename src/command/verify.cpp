// hestrel verify PLAN LOG…: does the built game do what the plan says?

#include "command/calibration_text.hpp"
#include "command/output.hpp"
#include "command/progress.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "exchange/play_log.hpp"
#include "figure/verify_figure.hpp"
#include "plan/jobs.hpp"
#include "plan/names.hpp"
#include "plan/texts.hpp"
#include "source/quantities.hpp"
#include "tables/calibration_tables.hpp"
#include "tables/findings.hpp"
#include "tables/verify_tables.hpp"
#include "verify/device_fit.hpp"
#include "walk/ground.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>
#include <map>

namespace hestrel::command {

namespace {

using Align = TextTable::Align;

/// "10%" or "100ms", or both with a comma between.
verify::Tolerance tolerance_from(const std::string& text) {
    verify::Tolerance tolerance;
    std::string_view left = text;
    while (!left.empty()) {
        const std::size_t comma = std::min(left.find(','), left.size());
        const std::string_view part = left.substr(0, comma);
        left.remove_prefix(std::min(comma + 1, left.size()));
        if (part.find('%') != std::string_view::npos) {
            const auto share = source::parse_share(part);
            if (const auto* wrong = std::get_if<std::string>(&share))
                throw UsageError(fmt::format("--tolerance \"{}\" {}", part, *wrong));
            tolerance.share = std::get<double>(share);
        } else {
            const auto time = source::parse_time(part);
            if (const auto* wrong = std::get_if<std::string>(&time))
                throw UsageError(fmt::format("--tolerance \"{}\" {}", part, *wrong));
            tolerance.time = std::get<plan::Micros>(time);
        }
    }
    return tolerance;
}

/// A name that may be given once.
std::string only(const Call& call, const char* option) {
    const std::vector<std::string> names = call.names(option);
    if (names.size() > 1 || plan::contains(names, std::string("all")))
        throw UsageError(fmt::format("--{} takes one name", option));
    return names.empty() ? std::string() : names.front();
}

/// The device on which it was played: the one that is named, or the only one.
plan::DeviceId device_of(const plan::Plan& plan, const std::string& name) {
    if (plan.devices.empty()) throw UsageError("the plan has no devices");
    if (name.empty() && plan.devices.size() == 1) return plan::DeviceId{0};
    std::vector<std::string> names;
    for (const plan::Device& device : plan.devices) names.push_back(device.name);
    if (name.empty())
        throw UsageError(
            fmt::format("--device: on which was it played? ({})", plan::joined(names)));
    return chosen(plan.devices, {name}, "device").front();
}

/// A route that begins as the plays do: that one, or one of the edition without a start of its own.
plan::RouteId beginning_of(plan::Plan& plan, const std::string& route, const std::string& edition) {
    if (!route.empty()) return chosen(plan.routes, {route}, "route").front();
    plan::Route launched;
    launched.name = "launched";
    launched.players.emplace_back();
    launched.players.front().name =
        plan.players.empty() ? "player" : plan.players[plan::PlayerKindId{0}].name;
    if (!plan.players.empty()) launched.players.front().kind = plan::PlayerKindId{0};
    if (!edition.empty())
        launched.edition = chosen(plan.editions, {edition}, "edition").front();
    else if (!plan.editions.empty())
        launched.edition = plan::EditionId{0};
    else if (!plan.routes.empty())
        launched.start.level = plan.routes[plan::RouteId{0}].start.level;
    if (launched.edition && !plan.editions[launched.edition].levels.empty())
        launched.start.level = plan.editions[launched.edition].levels.front();
    if (!launched.start.level)
        throw UsageError("the plan has no edition and no route: where does the game begin?");
    return plan.routes.push(std::move(launched));
}

/// All logs, read; the messages of those that can't be.
struct Logs {
    std::vector<verify::Log> logs;
    std::vector<std::string> errors;
};
Logs read_logs(const std::vector<std::string>& paths, const exchange::NameMap& names, unsigned jobs,
               source::Disk& disk) {
    std::vector<std::string> texts;
    for (const std::string& path : paths) texts.push_back(disk.read(path));
    std::vector<exchange::ReadLog> read(paths.size());
    plan::in_parallel(paths.size(), jobs, [&](std::size_t i) {
        read[i] = exchange::read_play_log(texts[i], paths[i], names);
        texts[i] = {};
    });
    Logs all;
    for (exchange::ReadLog& each : read) {
        all.logs.push_back(std::move(each.log));
        all.errors.insert(all.errors.end(), each.errors.begin(), each.errors.end());
    }
    return all;
}

/// What a wrong name may be meant for.
std::string hint_for(const plan::Plan& plan, std::string_view name, std::string_view what) {
    std::vector<std::string> known;
    const auto add = [&](const auto& things) {
        for (const auto& each : things) known.push_back(each.name);
    };
    if (what.starts_with("level")) add(plan.levels);
    if (what == "level or kit") add(plan.kits);
    if (what == "trigger") add(plan.triggers);
    if (what == "menu") add(plan.menus);
    if (what == "fact") add(plan.facts);
    if (what == "item") {
        for (const plan::ItemId item : plan.items.ids())
            known.push_back(plan::item_name(plan, item));
    }
    if (what == "branch") known.insert(known.end(), plan.words.begin(), plan.words.end());
    const std::vector<std::string_view> views(known.begin(), known.end());
    return source::hint_by_parts(name, views);
}

// --- what people read

std::string time_cell(const std::optional<plan::Micros>& time) {
    return time ? plan::short_time(*time) : std::string();
}

std::string plays_table(const tables::Plays& plays) {
    constexpr std::size_t most_rows = 20;
    TextTable table({{"play"},
                     {"began", Align::right},
                     {"unplanned", Align::right},
                     {"loads", Align::right},
                     {"later", Align::right},
                     {"earlier", Align::right},
                     {"missing", Align::right},
                     {"by itself", Align::right},
                     {"latest", Align::right},
                     {"memory over", Align::right}});
    for (std::size_t i = 0; i < plays.results.size() && i < most_rows; ++i) {
        const verify::PlaySummary summary = verify::summary_of(plays.logs[i], plays.results[i]);
        const auto count = [](std::size_t number) { return plan::grouped(number); };
        table.row({plays.results[i].name, count(summary.firings), count(summary.unplanned),
                   count(summary.loads), count(summary.later), count(summary.earlier),
                   count(summary.missing), count(summary.by_itself), time_cell(summary.latest),
                   summary.most_over ? plan::short_memory(*summary.most_over) : std::string()});
    }
    std::string text = table.text();
    if (plays.results.size() > most_rows)
        text += fmt::format("and {} more (plays.csv)\n", plays.results.size() - most_rows);
    return text;
}

/// Those that are furthest from their plan.
std::string loads_table(const plan::Plan& plan, const tables::Plays& plays,
                        std::vector<verify::LoadSpread> spreads) {
    constexpr std::size_t most_rows = 12;
    std::erase_if(spreads, [](const auto& each) { return each.late == 0 && each.missing == 0; });
    if (spreads.empty()) return {};
    const auto by = [](const verify::LoadSpread& each) {
        return each.most ? each.most->count - each.planned.count : 0;
    };
    std::stable_sort(spreads.begin(), spreads.end(),
                     [&](const auto& one, const auto& other) { return by(one) > by(other); });
    TextTable table({{"asked for by"},
                     {"level"},
                     {"late", Align::right},
                     {"missing", Align::right},
                     {"planned", Align::right},
                     {"least", Align::right},
                     {"median", Align::right},
                     {"most", Align::right},
                     {"worst play"}});
    for (std::size_t i = 0; i < spreads.size() && i < most_rows; ++i) {
        const verify::LoadSpread& each = spreads[i];
        table.row({tables::cause_text(plan, each), plan.levels[each.level].name,
                   fmt::format("{} of {}", each.late, each.loads), plan::grouped(each.missing),
                   plan::short_time(each.planned), time_cell(each.least), time_cell(each.median),
                   time_cell(each.most), each.most ? plays.results[each.worst_play].name : ""});
    }
    std::string text = table.text();
    if (spreads.size() > most_rows)
        text += fmt::format("and {} more (loads.csv)\n", spreads.size() - most_rows);
    return text;
}

/// Of each kind the first, by play and time.
std::string found_text(const plan::Plan& plan, const std::vector<plan::Finding>& findings) {
    constexpr std::size_t most_of_kind = 8;
    std::map<std::string, std::size_t> said;
    std::string text;
    for (const plan::Finding& each : findings) {
        if (said[each.name]++ < most_of_kind) text += plan::finding_text(plan, each) + "\n";
    }
    for (const auto& [name, count] : said) {
        if (count > most_of_kind)
            text += fmt::format("and {} more {} (findings.json)\n", count - most_of_kind, name);
    }
    return text + tables::count_text(findings) + "\n";
}

/// What was left out of the comparison, and why.
std::string left_out(const tables::Plays& plays) {
    std::string text;
    std::map<std::string, std::size_t> others;
    bool near = false;
    std::size_t choices = 0;
    for (std::size_t i = 0; i < plays.results.size(); ++i) {
        for (const auto& [name, count] : plays.logs[i].others) others[name] += count;
        near = near || plays.results[i].near_left_out;
        for (const verify::SessionResult& session : plays.results[i].sessions)
            choices += session.replay.untold_choices.size();
    }
    if (near) text += "Levels that stream by distance are left out: the log has no came-near.\n";
    if (choices > 0)
        text += fmt::format("{} without \"chosen\" in the log: the first branch was taken.\n",
                            plan::counted(choices, "choice"));
    if (!others.empty()) {
        constexpr std::size_t most_names = 8;
        std::vector<std::string> names;
        std::size_t lines = 0;
        for (const auto& [name, count] : others) {
            lines += count;
            if (names.size() < most_names) names.push_back(name);
        }
        text += fmt::format("{} of other events are left out: {}{}\n", plan::counted(lines, "line"),
                            plan::joined(names), others.size() > most_names ? ", …" : "");
    }
    return text;
}

void write_tables(const plan::Plan& plan, const tables::Plays& plays,
                  const std::vector<verify::LoadSpread>& spreads,
                  const std::vector<plan::Finding>& findings, Output& output) {
    output.write("plays.csv", tables::plays_csv(plays));
    output.write("firings.csv", tables::told_csv(plan, plays));
    output.write("events.csv", tables::compared_csv(plan, plays));
    output.write("memory.csv", tables::compared_memory_csv(plays));
    output.write("loads.csv", tables::load_spread_csv(plan, plays, spreads));
    output.write("findings.json", tables::findings_json(plan, findings));
}

std::string text_for_people(const plan::Plan& plan, const tables::Plays& plays,
                            const std::vector<verify::LoadSpread>& spreads,
                            const std::vector<plan::Finding>& findings) {
    std::string text = plays_table(plays);
    if (const std::string loads = loads_table(plan, plays, spreads); !loads.empty())
        text += "\n" + loads;
    text += "\n" + found_text(plan, findings);
    if (const std::string said = left_out(plays); !said.empty()) text += "\n" + said;
    return text;
}

/// A figure of each session of the play that is furthest from its plan.
void draw_figures(const plan::Plan& plan, const tables::Plays& plays, Output& output) {
    const auto weight = [](const verify::PlayResult& play) {
        return std::count_if(play.findings.begin(), play.findings.end(), [](const auto& each) {
            return each.severity != plan::Severity::note;
        });
    };
    const auto worst = std::max_element(
        plays.results.begin(), plays.results.end(),
        [&](const auto& one, const auto& other) { return weight(one) < weight(other); });
    NamedFigures figures;
    for (std::size_t i = 0; i < worst->sessions.size(); ++i) {
        const std::string name =
            worst->sessions.size() == 1 ? "verify" : fmt::format("verify-{}", i + 1);
        figures.add(name, figure::verify_figure(plan, worst->name, worst->sessions[i]));
    }
    output.draw(figures);
}

/// The plan with a route for each list of players, and the logs' files among its own.
class Verifier {
public:
    Verifier(const plan::Plan& plan, plan::RouteId beginning, plan::DeviceId device,
             const std::vector<verify::Log>& logs, const verify::Options& options, unsigned jobs)
        : scripted_(plan, beginning), device_(device), logs_(logs), options_(options), jobs_(jobs),
          first_file_(scripted_.plan().files.size()), plays_(logs.size()) {
        plan::in_parallel(logs.size(), jobs, [&](std::size_t i) {
            plays_[i] = verify::play_of(plan, beginning, logs[i]);
        });
        for (std::size_t i = 0; i < logs.size(); ++i) {
            routes_.push_back(scripted_.routes_for(plays_[i].players));
            scripted_.plan().files.push_back(logs[i].name);
        }
    }

    [[nodiscard]] plan::Plan& plan() { return scripted_.plan(); }
    /// Each log, laid over the plan as it is now.
    [[nodiscard]] std::vector<verify::PlayResult> run(std::string_view what) {
        std::vector<verify::PlayResult> results(logs_.size());
        Progress progress;
        progress.begin(std::string(what), logs_.size());
        plan::in_parallel(logs_.size(), jobs_, [&](std::size_t i) {
            walk::Ground ground(scripted_.plan());
            results[i] =
                verify::verify(scripted_.plan(), routes_[i], device_, logs_[i], plays_[i],
                               static_cast<std::uint32_t>(first_file_ + i), options_, ground);
            progress.one_more();
        });
        return results;
    }

private:
    verify::ScriptedPlan scripted_;
    plan::DeviceId device_;
    const std::vector<verify::Log>& logs_;
    const verify::Options& options_;
    unsigned jobs_;
    std::size_t first_file_;          ///< of the logs, among the plan's
    std::vector<verify::Play> plays_; ///< by log
    std::vector<verify::ScriptedPlan::Routes> routes_;
};

/// Which figures of the device explain the logs best, and by how much.
std::string calibration(Verifier& verifier, plan::DeviceId device, const tables::Plays& plays) {
    plan::Plan& plan = verifier.plan();
    const loading::Catalogue catalogue = loading::catalogue_for(plan, device);
    const auto measurements = verify::measured_alone(plan, catalogue, plays.results, plays.logs);
    verify::DeviceFigures figures = calibrate::calibrate(measurements);
    const std::string name = plan.devices[device].name;
    if (std::none_of(figures.begin(), figures.end(), [](const auto& each) { return each.line; }))
        return "No figure of the device can be told: the logs have no reading and unpacking of "
               "pieces that were loaded alone.\n";
    const verify::Distance before = verify::distance(plays.results);
    const plan::Device planned = plan.devices[device];
    verify::apply_figures(plan, device, figures);
    const verify::Distance after = verify::distance(verifier.run("plays, calibrated"));
    plan.devices[device] = planned;
    std::string text = figures_table(figures) + "\n";
    text += fmt::format("With these figures loads are {} off their plan, on average; with those of "
                        "the plan {} ({}).\n\n",
                        plan::short_time(after.mean), plan::short_time(before.mean),
                        plan::counted(before.loads, "load"));
    return text + tables::device_block(figures, name);
}

int run_verify(const Call& call) {
    const CommonOptions& options = call.common();
    Output output(options);
    verify::Options verifying;
    verifying.tolerance = tolerance_from(call.text("tolerance"));
    auto plan = load_plan(options.plan_path, options.sets, output.inputs());
    if (!plan) return exit_code::problems_found;
    const plan::DeviceId device = device_of(*plan, only(call, "device"));
    const plan::RouteId beginning = beginning_of(*plan, only(call, "route"), call.text("edition"));
    exchange::NameMap names;
    if (call.has("names")) {
        exchange::ReadNames read =
            exchange::read_name_map(output.disk().read(call.text("names")), call.text("names"));
        if (say_errors(read.errors)) return exit_code::problems_found;
        names = std::move(read.names);
    }
    Logs logs = read_logs(call.names("log"), names, options.jobs, output.disk());
    if (say_errors(logs.errors)) return exit_code::problems_found;
    if (call.has("saved"))
        verifying.saved = read_saved_store(*plan, call.text("saved"), output.disk());
    verifying.hint = [&](std::string_view name, std::string_view what) {
        return hint_for(*plan, name, what);
    };

    tables::Plays all;
    all.logs = std::move(logs.logs);
    Verifier verifier(*plan, beginning, device, all.logs, verifying, options.jobs);
    all.results = verifier.run("plays");
    std::vector<plan::Finding> findings;
    for (const verify::PlayResult& each : all.results)
        findings.insert(findings.end(), each.findings.begin(), each.findings.end());
    const std::vector<verify::LoadSpread> spreads = verify::over_all(all.results);
    const plan::Plan& with_files = verifier.plan();
    const std::string calibrated =
        call.has("calibrate") ? calibration(verifier, device, all) : std::string();
    write_tables(with_files, all, spreads, findings, output);
    if (call.has("sizes"))
        output.write("sizes.csv", tables::measured_sizes_csv(with_files, device,
                                                             verify::measured_sizes(all.results)));
    if (!call.text("findings").empty()) {
        Output::put(findings_for_machines(call.text("findings"), with_files, findings,
                                          plan::FoundBy::verify));
    } else {
        output.print(tables::verify_json(with_files, all, spreads, findings),
                     tables::plays_csv(all), [&] {
                         return text_for_people(with_files, all, spreads, findings) +
                                (calibrated.empty() ? "" : "\n" + calibrated);
                     });
    }
    if (output.draws()) draw_figures(with_files, all, output);
    output.say_files();
    output.require_drawn();
    const bool differs = std::any_of(findings.begin(), findings.end(), [](const auto& each) {
        return each.severity != plan::Severity::note;
    });
    return differs ? exit_code::problems_found : exit_code::fine;
}

constexpr std::string_view verify_usage = R"(usage: hestrel verify PLAN LOG... [options]

Lays logs of the built game over the plan. The plan is walked with what began lists in
the log, at the log's times.
Says what fired that could not, which levels came, went or stayed away against the
plan, and what was later or earlier than planned.
A log is CSV with the names of a walk's events.csv, or Trace Event JSON.
Exits with 1 where the game does not do what the plan says.)";

} // namespace

Command verify_command() {
    namespace po = boost::program_options;
    auto described =
        options_for("verify", {Group::values, Group::files, Group::pictures, Group::findings});
    described.add_options()("device", po::value<std::vector<std::string>>()->value_name("NAME"),
                            "on which it was played (the only one)")(
        "route", po::value<std::vector<std::string>>()->value_name("NAME"),
        "the plays begin as this route does (else as the first edition is launched)")(
        "edition", po::value<std::string>()->value_name("NAME"), "which edition was played")(
        "names", po::value<std::string>()->value_name("FILE"),
        "what the game's names are in the plan: CSV with the columns game,plan")(
        "tolerance", po::value<std::string>()->default_value("10%,100ms")->value_name("SHARE,TIME"),
        "how far times may differ: the larger of both")(
        "calibrate", "print the device's figures that explain the logs best, with their errors")(
        "sizes",
        "write sizes.csv too: what levels take in memory by the logs, as a table of sizes")(
        "saved", po::value<std::string>()->value_name("FILE"),
        "each play begins with this saved store");
    return {"verify",
            "PLAN LOG...",
            "does the built game do what the plan says?",
            verify_usage,
            described,
            &run_verify,
            {"plan", "log"},
            2,
            "which plan, and which logs?",
            false,
            true};
}

} // namespace hestrel::command
