// hestrel advise PLAN: where triggers must stand, how long veils must last, what to keep.

#include "advise/advice.hpp"
#include "advise/least.hpp"
#include "command/output.hpp"
#include "command/progress.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "command/walk.hpp"
#include "edit/applied.hpp"
#include "plan/names.hpp"
#include "source/disk.hpp"
#include "tables/advice_tables.hpp"
#include "tables/advice_words.hpp"
#include "tables/least_table.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>
#include <map>

namespace hestrel::command {

namespace {

using advise::Advice;
using advise::Advised;
using advise::DeviceTime;
using advise::Load;
using plan::Plan;
using tables::short_time;
using Align = TextTable::Align;

constexpr std::size_t most_rows = 12;

/// The device on which a load has the least slack, of those that have one.
const DeviceTime* worst_of(const Load& load) {
    const DeviceTime* worst = nullptr;
    for (const DeviceTime& time : load.times) {
        if (time.slack && (worst == nullptr || *time.slack < *worst->slack)) worst = &time;
    }
    return worst;
}

/// The grid of which a load brings a cell that comes near; unset: of none.
plan::GridId grid_of(const Plan& plan, const Load& load) {
    return load.cause.near == load.level ? plan.levels[load.level].grid : plan::GridId{};
}

/// Keeps the first of the rows of cells that come near, and says of how many each grid had rows.
template <class Rows>
std::map<plan::GridId, std::size_t> fold_cells(const Plan& plan, Rows& rows) {
    std::map<plan::GridId, std::size_t> cells;
    std::erase_if(rows, [&](const auto& row) {
        const plan::GridId grid = grid_of(plan, *row.first);
        return grid && cells[grid]++ > 0;
    });
    return cells;
}

/// Loads with the least slack, each on its worst device.
std::string loads_text(const Plan& plan, const Advised& advised) {
    std::vector<std::pair<const Load*, const DeviceTime*>> rows;
    for (const Load& load : advised.loads) {
        const DeviceTime* worst = worst_of(load);
        if (worst != nullptr) rows.emplace_back(&load, worst);
    }
    if (rows.empty()) {
        const bool none =
            advised.problems.empty() && advised.veils.empty() && advised.waits.empty();
        return none ? "no load is needed by players who walk to it\n" : "";
    }
    std::stable_sort(rows.begin(), rows.end(), [](const auto& one, const auto& other) {
        return *one.second->slack < *other.second->slack;
    });
    const std::map<plan::GridId, std::size_t> cells = fold_cells(plan, rows);
    TextTable table({{"loads, least slack first"},
                     {"level"},
                     {"worst on"},
                     {"alone", Align::right},
                     {"longest", Align::right},
                     {"way", Align::right},
                     {"soonest need", Align::right},
                     {"slack", Align::right}});
    for (std::size_t i = 0; i < std::min(rows.size(), most_rows); ++i) {
        const auto& [load, time] = rows[i];
        const auto folded = cells.find(grid_of(plan, *load));
        const bool alone = folded == cells.end();
        table.row({(alone ? tables::cause_text(plan, load->cause) : std::string("near cells")) +
                       (load->first ? "" : " *"),
                   alone ? plan.levels[load->level].name
                         : plan::cells_text(plan, folded->first, folded->second),
                   plan.devices[time->device].name, short_time(time->isolated.shown),
                   short_time(time->longest()), fmt::format("{:.1f} m", load->way->metres),
                   short_time(*load->lead()), short_time(*time->slack)});
    }
    std::string text = table.text();
    if (rows.size() > most_rows)
        text += fmt::format("and {} more in loads.csv\n", rows.size() - most_rows);
    const bool starred =
        std::any_of(rows.begin(), rows.end(), [](const auto& row) { return !row.first->first; });
    if (starred) text += "* something that players come by before brings it already\n";
    return text;
}

/// Advice with its number, the sum behind it, and what to try it with.
class AdviceText {
public:
    AdviceText(const Plan& plan, const Advised& advised, const tables::AdviceSettings& settings)
        : plan_(plan), advised_(advised), settings_(settings) {}

    std::string all() {
        std::string text;
        for (const advise::Problem& problem : advised_.problems) text += "\n" + of(problem);
        if (advised_.more_problems > 0)
            text += fmt::format("\n{} more loads come too late; these are the worst\n",
                                advised_.more_problems);
        // Numbers are given in this order.
        text += veils();
        text += keepers();
        text += waits();
        text += whole();
        return text;
    }

private:
    std::string of(const advise::Problem& problem) {
        const Load& load = advised_.loads[problem.load];
        const DeviceTime& time = load.on(problem.worst);
        std::string others;
        for (const plan::DeviceId device : problem.late) {
            if (device != problem.worst) others += ", " + plan_.devices[device].name;
        }
        std::string text = tables::late_text(plan_, load, problem) +
                           (others.empty() ? "" : " (and on " + others.substr(2) + ")") + "\n";
        text += wrapped("alone it takes " + short_time(time.isolated.shown) + ": " +
                            tables::alone_text(plan_, load, time),
                        text_columns, "  ");
        if (const advise::ContendedTime* contended = time.longer_contended())
            text += fmt::format("  on {} it takes {}, with what else loads then\n",
                                plan_.routes[contended->route].name, short_time(contended->took));
        if (load.way)
            text += fmt::format("  players need {} for {:.1f} m at {:g} m/s: slack {}, wanted {}\n",
                                short_time(*load.lead()), load.way->metres, load.top,
                                time.slack ? short_time(*time.slack) : "none",
                                short_time(advised_.wanted));
        if (time.seen_slack)
            text += fmt::format("  least slack on a route: {}\n", short_time(*time.seen_slack));
        if (problem.fixes.empty())
            text += problem.walked
                        ? "  nothing was found that mends it\n"
                        : "  that is reckoned: on a walk straight to it, it was not loaded by "
                          "this\n";
        for (const Advice& advice : problem.fixes)
            text +=
                numbered(advice, tables::tried_text(plan_, load, problem, advice, advised_.wanted));
        return text;
    }

    std::string veils() const {
        if (advised_.veils.empty()) return "";
        TextTable table({{"veils"},
                         {"device"},
                         {"longest load under it"},
                         {"takes", Align::right},
                         {"min", Align::right},
                         {"least min", Align::right}});
        for (const advise::VeilTime& time : advised_.veils) {
            const plan::Micros min = plan_.veils[time.veil].min;
            table.row({plan_.veils[time.veil].name, plan_.devices[time.device].name,
                       fmt::format("{}: {}", tables::cause_text(plan_, time.cause),
                                   plan_.levels[time.level].name),
                       short_time(time.takes), short_time(min),
                       min >= time.least ? "hidden" : short_time(time.least)});
        }
        return "\n" + table.text() +
               "a switch keeps its veil up until all is shown; least min hides that without "
               "lasting longer\n";
    }

    std::string keepers() const {
        if (advised_.keepers.empty()) return "";
        TextTable table({{"session"},
                         {"on"},
                         {"kept by"},
                         {"players wait", Align::right},
                         {"machines wait", Align::right},
                         {"verdict"}});
        for (const advise::KeeperTrial& trial : advised_.keepers) {
            const plan::Route& route = plan_.routes[trial.cast.route];
            const bool now = trial.keeper.value == 0;
            table.row({route.name, walk::devices_text(plan_, trial.cast.devices),
                       route.machines[trial.keeper].name + (now ? " (now)" : ""),
                       short_time(trial.waiting), short_time(trial.others),
                       std::string(plan::name_of(trial.verdict))});
        }
        return "\n" + table.text() +
               "what comes of it where another machine keeps the game; a way between two others "
               "leads over the one that keeps it now\n";
    }

    std::string waits() {
        std::string text;
        for (const advise::WaitTime& wait : advised_.waits) {
            const bool too_short = wait.takes > wait.time;
            text += fmt::format(
                "\n{} waits {} for {}, which takes {} on {}{}\n", plan::list_name(plan_, wait.list),
                short_time(wait.time), plan_.levels[wait.levels.front()].name,
                short_time(wait.takes), plan_.devices[wait.slowest].name,
                too_short ? "" : "; better: wait for what is loaded, not for a time");
            if (!wait.fix) continue;
            text += numbered(
                *wait.fix,
                too_short
                    ? fmt::format("{} short on {}", short_time(wait.takes - wait.time),
                                  plan_.devices[wait.slowest].name)
                    : fmt::format("{} longer than it need be", short_time(wait.time - wait.least)));
        }
        return text;
    }

    std::string whole() {
        if (advised_.whole.empty()) return "";
        std::string text = "\nthe plan as a whole, all routes together\n";
        for (const Advice& advice : advised_.whole)
            text += numbered(advice, tables::effects_text(plan_, advice));
        return text;
    }

    std::string numbered(const Advice& advice, const std::string& sum) {
        const auto& settings = settings_[next_];
        std::string text = wrapped(tables::advice_text(plan_, advice), text_columns, "      ");
        const std::string number = std::to_string(++next_);
        text.replace(4 - std::min<std::size_t>(number.size(), 4), number.size(), number);
        if (!sum.empty()) text += wrapped(sum, text_columns, "        ");
        const std::string harms = tables::harms_text(plan_, advice.harms);
        if (!harms.empty()) text += wrapped("but then: " + harms, text_columns, "        ");
        if (!settings) {
            text += "        its size comes from a table, its path from several files, or it is "
                    "one cell of many: no --set "
                    "tries it\n";
        } else {
            for (const source::Override& each : *settings)
                text += "        --set " + edit::set_text(each) + "\n";
        }
        return text;
    }

    const Plan& plan_;
    const Advised& advised_;
    const tables::AdviceSettings& settings_;
    std::size_t next_ = 0;
};

/// Prints the plan with one piece of advice applied.
int print_applied(std::size_t number, const CommonOptions& options, Output& output,
                  const Plan& plan, const Advised& advised,
                  const tables::AdviceSettings& settings) {
    if (number < 1 || number > settings.size())
        throw UsageError(settings.empty()
                             ? std::string("there is no advice to apply")
                             : fmt::format("--apply takes a number from 1 to {}", settings.size()));
    const auto& wanted = settings[number - 1];
    if (!wanted)
        throw UsageError(fmt::format("advice {} can't be put into the plan files", number));
    try {
        const auto changed = edit::applied(output.disk(), options.plan_path, *wanted);
        for (const auto& [file, text] : changed) {
            if (changed.size() > 1) Output::put("# --- " + file + "\n");
            Output::put(text);
            output.say(fmt::format("{} with advice {}: {}", file, number,
                                   tables::advice_text(plan, *advised.all()[number - 1])));
        }
    } catch (const edit::ApplyError& error) {
        throw UsageError(fmt::format("advice {}: {}", number, error.what()));
    }
    return exit_code::fine;
}

/// The least machine for each route.
int run_least(const Plan& plan, const CommonOptions& options, Output& output) {
    const auto routes = chosen(plan.routes, options.routes, "route");
    const auto devices = chosen(plan.devices, options.devices, "device");
    require_walks(options, routes, devices);
    Progress progress(output);
    std::size_t figures = 0;
    for (const plan::DeviceId device : devices) figures += plan.devices[device].unpack ? 3 : 2;
    progress.begin("figures found", figures * routes.size());
    const auto least =
        advise::least_machine(plan, routes, devices, options.jobs, [&] { progress.one_more(); });
    progress.end();
    const auto columns = tables::least_columns(plan);
    const std::string table = tables::csv_of(columns, least);
    output.write("least.csv", table);
    output.print(source::file_text(tables::json_of(columns, least)), table, [&] {
        auto narrow = columns;
        narrow.back() = {"first", [&](const advise::Least& each) {
                             return each.first
                                        ? tables::Cell(each.first->name + ", " +
                                                       plan::place_text(plan, each.first->place))
                                        : tables::Cell();
                         }};
        return TextTable::of(narrow, least, least.size()).text();
    });
    output.say_files();
    const bool all = std::all_of(least.begin(), least.end(),
                                 [](const advise::Least& each) { return each.least.has_value(); });
    return all ? exit_code::fine : exit_code::problems_found;
}

int run_advise(const Call& call) {
    const CommonOptions& options = call.common();
    Output output(options);
    const auto plan = load_plan(options.plan_path, options.sets, output.inputs());
    if (!plan) return exit_code::problems_found;
    if (call.has("least")) {
        if (call.has("apply"))
            throw UsageError("--least finds figures of devices: nothing to apply");
        return run_least(*plan, options, output);
    }
    advise::Options advising;
    advising.devices = chosen(plan->devices, options.devices, "device");
    advising.jobs = options.jobs;
    advising.most_problems = call.number("worst");
    if (advising.devices.empty())
        throw UsageError(fmt::format("{} has no devices to load on", options.plan_path));
    Progress progress(output);
    watch(progress, advising);
    const auto records = walk_all(*plan, chosen(plan->routes, options.routes, "route"),
                                  advising.devices, {}, options.jobs, progress);
    const Advised advised = advise::advise(*plan, records, advising);
    progress.end();
    const tables::AdviceSettings settings = tables::settings_of(
        output.disk(), *plan, options.plan_path, read_options(options.sets).overrides, advised);
    if (call.has("apply")) {
        if (!options.sets.empty())
            throw UsageError("--apply goes without --set: it would write what was only tried");
        return print_applied(call.number("apply"), options, output, *plan, advised, settings);
    }

    const std::string json = tables::advice_json(*plan, advised, settings);
    const std::string table = tables::advice_csv(*plan, advised, settings);
    output.write("advice.json", json);
    output.write("advice.csv", table);
    output.write("loads.csv", tables::load_times_csv(*plan, advised));
    if (!advised.keepers.empty()) output.write("keepers.csv", tables::keepers_csv(*plan, advised));
    output.write("veils.csv", tables::veil_times_csv(*plan, advised));
    output.write("waits.csv", tables::wait_times_csv(*plan, advised));
    output.print(json, table, [&] {
        return loads_text(*plan, advised) + AdviceText(*plan, advised, settings).all();
    });
    output.say_files();
    const bool bad = !advised.problems.empty() ||
                     std::any_of(advised.waits.begin(), advised.waits.end(),
                                 [](const auto& wait) { return wait.takes > wait.time; });
    return bad ? exit_code::problems_found : exit_code::fine;
}

constexpr std::string_view advise_usage = R"(usage: hestrel advise PLAN [options]

Says what would mend what comes too late, the cheapest change first.
For everything that triggers, items and near rules load it tells how long that takes,
how soon players can be there, and what is left. It also tells how long veils and fixed
waits must last, and what is better kept, let go or unloaded sooner.
Every change was walked, with the least amount that is enough. --set tries it.
Exits with 1 where a load comes too late.)";

} // namespace

Command advise_command() {
    namespace po = boost::program_options;
    auto described =
        options_for("advise", {Group::devices, Group::routes, Group::values, Group::files});
    described.add_options()("apply", po::value<std::size_t>()->value_name("N"),
                            "print the plan file with advice N applied, and write nothing")(
        "least", "find the least read rate, unpack rate and memory with which each route is fine")(
        "worst", po::value<std::size_t>()->default_value(20)->value_name("N"),
        "look for what mends the N loads that come latest");
    return {"advise",     "PLAN",    "what would mend it: where triggers must stand, what to keep",
            advise_usage, described, &run_advise};
}

} // namespace hestrel::command
