// hestrel spread PLAN: how often it goes wrong when disks, players and sizes vary.

#include "command/output.hpp"
#include "command/progress.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "command/walk.hpp"
#include "figure/spread_figure.hpp"
#include "plan/finding_kinds.hpp"
#include "source/disk.hpp"
#include "spread/trials.hpp"
#include "tables/file_names.hpp"
#include "tables/trial_tables.hpp"
#include "tables/words.hpp"
#include "walk/ground.hpp"
#include "walk/walk.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

using Align = TextTable::Align;
using spread::Measure;
using tables::TrialSet;

constexpr std::uint64_t most_trials = 10'000'000; // times a share still fits 64 bits

/// A share of all trials: the `number`th of `of`, from 1.
struct Shard {
    std::uint64_t number = 1;
    std::uint64_t of = 1;
};

Shard shard_from(const std::string& text) {
    Shard shard;
    const std::size_t slash = text.find('/');
    const auto read = [](std::string_view part, std::uint64_t& number) {
        const auto [at, error] = std::from_chars(part.data(), part.data() + part.size(), number);
        return error == std::errc() && at == part.data() + part.size();
    };
    const bool fine = slash != std::string::npos &&
                      read(std::string_view(text).substr(0, slash), shard.number) &&
                      read(std::string_view(text).substr(slash + 1), shard.of);
    if (!fine || shard.number < 1 || shard.number > shard.of || shard.of > most_trials)
        throw UsageError(fmt::format("--shard: expected a share such as 2/8, not \"{}\"", text));
    return shard;
}

std::string percent(double share) {
    return fmt::format("{:.1f} %", 100 * share);
}

bool goes_wrong(const spread::Trial& trial) {
    return std::any_of(trial.wrong.begin(), trial.wrong.end(), [](const std::string& name) {
        return plan::kind_of(name).verdict != plan::Verdict::fine;
    });
}

std::uint64_t times_wrong(const TrialSet& set) {
    return static_cast<std::uint64_t>(
        std::count_if(set.trials.begin(), set.trials.end(), goes_wrong));
}

std::string cell(std::span<const spread::Trial> trials, Measure measure, double share) {
    const auto value = spread::within(trials, measure, share);
    return value ? tables::measure_text(measure, *value) : std::string();
}

/// One row for each route and device.
std::string overview(const plan::Plan& plan, const std::vector<TrialSet>& sets,
                     const std::vector<spread::Trial>& walks) {
    TextTable table({{"route"},
                     {"device"},
                     {"slack as it is", Align::right},
                     {"half", Align::right},
                     {"90 %", Align::right},
                     {"99 %", Align::right},
                     {"peak 99 %", Align::right},
                     {"goes wrong", Align::right}});
    for (std::size_t i = 0; i < sets.size(); ++i) {
        const TrialSet& set = sets[i];
        const auto share = static_cast<double>(times_wrong(set)) /
                           static_cast<double>(std::max<std::size_t>(1, set.trials.size()));
        table.row({plan.routes[set.cast.route].name, walk::devices_text(plan, set.cast.devices),
                   cell(std::span(&walks[i], 1), Measure::slack, 0.5),
                   cell(set.trials, Measure::slack, tables::quantiles[0]),
                   cell(set.trials, Measure::slack, tables::quantiles[1]),
                   cell(set.trials, Measure::slack, tables::quantiles[2]),
                   cell(set.trials, Measure::peak, tables::quantiles[2]), percent(share)});
    }
    return table.text();
}

/// All that is said of one route and device.
std::string details(const plan::Plan& plan, const TrialSet& set, const spread::Trial& walk) {
    std::string text = fmt::format("\n{} on {}:\n", plan.routes[set.cast.route].name,
                                   walk::devices_text(plan, set.cast.devices));
    if (set.uncertain.empty())
        text += "  nothing varies: its device has no spread, and no size is a range\n";
    TextTable table({{"  half, 90 and 99 of 100 stay within"},
                     {"as it is", Align::right},
                     {"half", Align::right},
                     {"90 %", Align::right},
                     {"99 %", Align::right}});
    for (const Measure measure : spread::measures)
        table.row({"  " + std::string(name_of(measure)), cell(std::span(&walk, 1), measure, 0.5),
                   cell(set.trials, measure, tables::quantiles[0]),
                   cell(set.trials, measure, tables::quantiles[1]),
                   cell(set.trials, measure, tables::quantiles[2])});
    text += table.text();
    const auto chances = spread::chances(set.trials);
    if (!chances.empty()) {
        TextTable wrong({{"  comes up"},
                         {"chance", Align::right},
                         {"at least", Align::right},
                         {"at most", Align::right}});
        for (const spread::Chance& each : chances)
            wrong.row(
                {"  " + each.name, percent(each.share), percent(each.low), percent(each.high)});
        text += wrong.text();
    }
    for (const Measure measure : spread::measures) {
        constexpr std::size_t most_named = 4;
        constexpr double worth_naming = 0.1;
        std::string named;
        std::size_t count = 0;
        for (const spread::Influence& each : spread::influences(set.trials, measure)) {
            if (std::abs(each.correlation) < worth_naming || count++ == most_named) break;
            named += fmt::format("{}{} {:+.2f}", named.empty() ? "" : ", ",
                                 set.uncertain[each.uncertain], each.correlation);
        }
        if (!named.empty()) text += fmt::format("  {} goes with {}\n", name_of(measure), named);
    }
    return text;
}

std::string folder_of(const plan::Plan& plan, const TrialSet& set) {
    return tables::walk_folder(plan, set.cast.route, set.cast.devices);
}

/// What shards wrote to those folders.
void put_together(TrialSet& set, const plan::Plan& plan, const std::vector<std::string>& folders,
                  source::Disk& disk) {
    for (const std::string& folder : folders) {
        const std::string path = folder + "/" + folder_of(plan, set) + "/trials.csv";
        tables::add_trials(set, disk.read(path), path);
    }
    try {
        tables::put_in_order(set);
    } catch (const tables::TrialsError& error) {
        throw tables::TrialsError(fmt::format("{}: {}", folder_of(plan, set), error.what()));
    }
}

/// Everybody gets the trials of all, as from shards.
void share_trials(TrialSet& set, plan::Team& team) {
    const std::vector<std::string> shards = team.all_of(tables::trials_csv(set));
    set.trials.clear();
    for (std::size_t rank = 0; rank < shards.size(); ++rank)
        tables::add_trials(set, shards[rank], fmt::format("process {}", rank));
    tables::put_in_order(set);
}

int run_spread(const Call& call) {
    const CommonOptions& options = call.common();
    const Shard shard = shard_from(call.text("shard"));
    const auto trials = call.number("trials");
    if (trials < 1 || trials > most_trials)
        throw UsageError(fmt::format("--trials takes 1 to {}", most_trials));
    Output output(options);
    const auto plan = load_plan(options.plan_path, options.sets, output.inputs());
    if (!plan) return exit_code::problems_found;
    const auto devices = chosen(plan->devices, options.devices, "device");
    const auto routes = chosen(plan->routes, options.routes, "route");
    require_walks(options, routes, devices);
    const std::vector<walk::Cast> casts = walk::casts(*plan, routes, devices);
    walk::Ground ground(*plan);
    const std::vector<std::string> merged = call.names("merge");
    std::vector<TrialSet> sets;
    std::vector<spread::Trial> walks;
    plan::Team* team = call.team().get();
    // Each process does a shard of that.
    const std::uint64_t of = shard.of * plan::size_of(team);
    const std::uint64_t before = (shard.number - 1) * plan::size_of(team) + plan::rank_of(team);
    const auto first = trials * before / of;
    const auto last = trials * (before + 1) / of;
    if (team != nullptr) team->begin();
    Progress progress(output);
    if (merged.empty()) progress.begin("trials", casts.size() * (last - first));
    for (const walk::Cast& cast : casts) {
        const spread::Variation variation(*plan, cast);
        TrialSet set{cast, 0, 0, {}, {}};
        for (const spread::Uncertain& each : variation.uncertain())
            set.uncertain.push_back(spread::name_of(*plan, cast.route, each));
        if (merged.empty()) {
            set.seed = call.number("seed");
            set.of = trials;
            set.trials = spread::run_trials(
                variation, set.seed, first, last, options.jobs,
                [&](std::uint64_t done) { progress.reach(sets.size(), done, 0); });
            if (team != nullptr) share_trials(set, *team);
        } else {
            put_together(set, *plan, merged, output.disk());
        }
        walks.push_back(spread::outcome_of(0, {}, walk::walk(*plan, cast, {}, ground)));
        sets.push_back(std::move(set));
    }
    progress.end();
    if (!tells(call)) return exit_code::fine;

    bool bad = false;
    for (const TrialSet& set : sets) {
        output.write(folder_of(*plan, set) + "/trials.csv", tables::trials_csv(set));
        bad = bad || times_wrong(set) > 0;
    }
    const std::string quantiles = tables::quantiles_csv(*plan, sets, walks);
    const std::string json = tables::spread_json(*plan, sets, walks);
    output.write("quantiles.csv", quantiles);
    output.write("spread.json", json);
    output.print(json, quantiles, [&] {
        std::string text =
            fmt::format("{}, seed {}\n\n{}", tables::counted(sets.front().trials.size(), "trial"),
                        sets.front().seed, overview(*plan, sets, walks));
        constexpr std::size_t few = 3;
        for (std::size_t i = 0; i < sets.size() && sets.size() <= few; ++i)
            text += details(*plan, sets[i], walks[i]);
        return text;
    });
    output.say_files();
    if (output.draws()) {
        NamedFigures figures;
        for (std::size_t i = 0; i < sets.size(); ++i) {
            figures.add(folder_of(*plan, sets[i]) + "/spread",
                        figure::spread_figure(*plan, sets[i], walks[i]));
        }
        output.draw(figures);
        output.require_drawn();
    }
    return bad ? exit_code::problems_found : exit_code::fine;
}

constexpr std::string_view spread_usage = R"(usage: hestrel spread PLAN [options]

Walks each route many times, each time with other figures: the device's rates and
latency and the players' speed by their `spread`, and sizes that are ranges.
Says what half, 90 and 99 of 100 trials stay within, how often each thing goes wrong,
and what matters most.
Exits with 1 where any trial goes wrong.)";

} // namespace

Command spread_command() {
    namespace po = boost::program_options;
    auto described = options_for(
        "spread", {Group::devices, Group::routes, Group::values, Group::files, Group::pictures});
    described.add_options()("trials",
                            po::value<std::uint64_t>()->default_value(1'000)->value_name("N"),
                            "walk each route so often on each device")(
        "seed", po::value<std::uint64_t>()->default_value(1)->value_name("N"),
        "the same seed gives the same trials")(
        "shard", po::value<std::string>()->default_value("1/1")->value_name("K/N"),
        "of the trials, walk only the Kth of N shares")(
        "merge", po::value<std::vector<std::string>>()->multitoken()->value_name("DIR..."),
        "walk none, but put together what shards wrote there");
    Command command{"spread",     "PLAN",    "how often it goes wrong when disks and players vary",
                    spread_usage, described, &run_spread};
    command.together = true;
    return command;
}

} // namespace hestrel::command
