// hestrel explore PLAN: what can happen whatever the players do.

#include "command/output.hpp"
#include "command/terminal.hpp"
#include "explore/explored.hpp"
#include "explore/witness.hpp"
#include "figure/situations_figure.hpp"
#include "plan/jobs.hpp"
#include "plan/names.hpp"
#include "source/disk.hpp"
#include "source/plan_reader.hpp"
#include "source/quantities.hpp"
#include "tables/explore_tables.hpp"
#include "tables/findings.hpp"
#include "tables/words.hpp"
#include "walk/findings.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <filesystem>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

using Align = TextTable::Align;
using explore::edition_name;
using explore::Explored;
using explore::Explorer;

std::string cell_of(const explore::WorstUse* worst) {
    if (worst == nullptr) return {};
    return tables::short_mebibytes(worst->used) + (worst->used > worst->budget ? " over" : "");
}

std::string moves_to(const explore::WorstUse* worst) {
    return worst == nullptr ? std::string() : std::to_string(worst->way.size() - 1);
}

/// A row for each device and budget: what it is, then the cells of `rest`.
template <class Rest>
std::string budgets_text(const Explored& explored, std::vector<TextTable::Column> columns,
                         Rest&& rest) {
    const Explorer& explorer = *explored.explorer;
    columns.insert(columns.begin(), {{"device"}, {"budget"}, {"MiB", Align::right}});
    TextTable table(std::move(columns));
    for (const explore::BudgetUse& use : explore::budget_uses(explored.worst)) {
        std::vector<std::string> row{
            explorer.plan().devices[explorer.options().devices[use.device]].name,
            use.pool ? explorer.plan().pools[use.pool] : "total",
            tables::short_mebibytes(use.budget)};
        for (std::string& cell : rest(use)) row.push_back(std::move(cell));
        table.row(std::move(row));
    }
    return table.text();
}

/// The most memory of each device and budget, settled and during a move.
std::string worst_text(const Explored& explored) {
    using Cells = std::vector<std::string>;
    return budgets_text(explored,
                        {{"settled", Align::right},
                         {"in moves", Align::right},
                         {"during a move", Align::right},
                         {"in moves", Align::right}},
                        [](const explore::BudgetUse& use) {
                            return Cells{cell_of(use.settled), moves_to(use.settled),
                                         cell_of(use.during), moves_to(use.during)};
                        });
}

/// The most memory of each device and budget at any moment, with and without hurry.
std::string hurried_worst_text(const Explored& unhurried, const Explored& hurried) {
    using Cells = std::vector<std::string>;
    const auto larger = [](const explore::BudgetUse& use) {
        if (use.settled == nullptr) return use.during;
        return use.during == nullptr || use.during->used < use.settled->used ? use.settled
                                                                             : use.during;
    };
    const auto before = explore::budget_uses(unhurried.worst);
    return budgets_text(
        hurried,
        {{"unhurried", Align::right}, {"hurried", Align::right}, {"in moves", Align::right}},
        [&](const explore::BudgetUse& use) {
            const auto same = std::find_if(before.begin(), before.end(), [&](const auto& each) {
                return each.device == use.device && each.pool == use.pool;
            });
            return Cells{same == before.end() ? std::string() : cell_of(larger(*same)),
                         cell_of(larger(use)), moves_to(larger(use))};
        });
}

std::string findings_text(const Explored& explored, const std::vector<std::string>& witnesses) {
    const Explorer& explorer = *explored.explorer;
    if (explored.found.empty()) return "nothing found\n";
    std::string text;
    for (std::size_t i = 0; i < explored.found.size(); ++i) {
        const explore::Found& found = explored.found[i];
        text += plan::finding_text(explorer.plan(), found.finding) + "\n";
        if (!found.way) continue;
        constexpr std::size_t columns = 100;
        text += wrapped(tables::way_text(explorer, *found.way), columns, "    ");
        if (!witnesses[i].empty()) text += "    " + witnesses[i] + "\n";
    }
    return text;
}

/// A route for each finding that has a way; their paths, empty where it has none.
std::vector<std::string> write_witnesses(const Explored& explored, const std::string& folder,
                                         const std::string& plan_path) {
    const Explorer& explorer = *explored.explorer;
    std::vector<std::string> paths(explored.found.size());
    if (folder.empty()) return paths;
    std::error_code ignored;
    std::filesystem::path include = std::filesystem::relative(
        std::filesystem::absolute(plan_path), std::filesystem::absolute(folder), ignored);
    if (include.empty()) include = std::filesystem::absolute(plan_path);
    source::RealDisk disk;
    std::map<std::string, int> numbers;
    plan::Plan plan = explorer.plan();
    const std::string_view pace =
        explorer.options().pace == explore::Pace::hurried ? "-hurried" : "";
    for (std::size_t i = 0; i < explored.found.size(); ++i) {
        const explore::Found& found = explored.found[i];
        if (!found.way) continue;
        const std::string name = fmt::format("{}{}-{}-{}", edition_name(explorer), pace,
                                             found.finding.name, ++numbers[found.finding.name]);
        paths[i] = folder + "/" + name + ".yaml";
        const plan::Route route = explore::route_of(explorer, *found.way, name, plan);
        disk.write(paths[i], tables::witness_yaml(plan, route, include.generic_string(),
                                                  found.finding.message));
    }
    return paths;
}

std::vector<plan::EditionId> editions_to_explore(const plan::Plan& plan,
                                                 const std::vector<std::string>& names) {
    if (plan.editions.empty()) {
        if (plan.routes.empty())
            throw UsageError("the plan has neither editions nor routes: nothing says where a game "
                             "begins");
        return {plan::EditionId{}};
    }
    std::vector<plan::EditionId> editions = chosen(plan.editions, names, "edition");
    for (const plan::EditionId edition : editions) {
        if (plan.editions[edition].levels.empty())
            throw UsageError(
                fmt::format("edition {} has no level to begin in", plan.editions[edition].name));
    }
    return editions;
}

void require_few_players(const plan::Plan& plan) {
    const std::uint64_t players = explore::players_in(plan);
    if (players > explore::most_players)
        throw UsageError(fmt::format("explore takes up to {} players; the plan's counts make {}",
                                     explore::most_players, players));
}

std::size_t memory_from(const std::string& text) {
    const auto parsed = source::parse_memory(text);
    if (const auto* wrong = std::get_if<std::string>(&parsed))
        throw UsageError(fmt::format("--memory: \"{}\" {}", text, *wrong));
    return static_cast<std::size_t>(std::get<plan::Bytes>(parsed).count);
}

std::size_t pending_from(std::size_t number) {
    constexpr std::size_t most = 16;
    if (number < 1 || number > most)
        throw UsageError(fmt::format("--pending: expected 1 to {} lists, not {}", most, number));
    return number;
}

int run_explore(const Call& call) {
    const CommonOptions& options = call.common();
    const auto plan = load_plan(options.plan_path, options.sets);
    if (!plan) return exit_code::bad_news;
    const auto editions = editions_to_explore(*plan, call.names("edition"));
    require_few_players(*plan);
    explore::Options exploring;
    exploring.devices = chosen_devices(*plan, options.devices);
    constexpr std::size_t most_numbered = 4'000'000'000; // by 32 bits
    const auto limit = [&](std::size_t otherwise) {
        return std::min(call.has("limit") ? call.number("limit") : otherwise, most_numbered);
    };
    exploring.most_situations = limit(10'000'000);
    exploring.most_bytes = memory_from(call.text("memory"));
    Output output(options);
    if (output.shows_progress()) exploring.progress = show_exploring;

    const std::string form = call.text("findings");
    const std::string witness = call.text("witness");
    const bool hurried = call.has("hurried");
    exploring.jobs = options.jobs;
    exploring.most_running = pending_from(call.number("pending"));
    std::vector<Explored> all_explored(editions.size());
    std::vector<Explored> all_hurried(hurried ? editions.size() : 0);
    plan::in_parallel(editions.size(), options.jobs, [&](std::size_t i) {
        explore::Options of_edition = exploring;
        of_edition.edition = editions[i];
        all_explored[i] = explore::explored(*plan, of_edition);
        if (!hurried) return;
        of_edition.most_situations = limit(1'000'000);
        all_hurried[i] = explore::explored_hurried(*plan, std::move(of_edition), all_explored[i]);
    });
    output.end_progress();

    std::vector<plan::Finding> all;
    std::string text;
    std::string json;
    std::string tables;
    bool bad = false;
    const auto tell = [&](const Explored& explored, const std::string& name,
                          const std::string& folder, const std::string& most) {
        const Explorer& explorer = *explored.explorer;
        const std::string of_edition =
            tables::explore_json(explorer, explored.found, explored.worst);
        json += of_edition;
        const std::string worst = tables::worst_csv(explorer, explored.worst);
        tables += worst;
        output.write(folder + "worst.csv", worst);
        output.write(folder + "moves.csv", tables::moves_csv(explorer));
        output.write(folder + "explore.json", of_edition);
        const auto witnesses = write_witnesses(explored, witness, options.plan_path);
        for (const explore::Found& found : explored.found) {
            all.push_back(found.finding);
            bad = bad || found.finding.severity == plan::Severity::error;
        }
        bad = bad || !explorer.complete();
        text += std::string(text.empty() ? "" : "\n") + name + ": " +
                tables::looked_at_text(explorer) + "\n" + most + "\n" +
                findings_text(explored, witnesses);
    };
    for (std::size_t i = 0; i < all_explored.size(); ++i) {
        const Explored& explored = all_explored[i];
        const std::string name = edition_name(*explored.explorer);
        const std::string folder = name + "/";
        output.write(folder + "places.csv", tables::places_csv(*explored.explorer));
        tell(explored, "edition " + name, folder, worst_text(explored));
        if (!hurried) continue;
        tell(all_hurried[i], "edition " + name + ", players who hurry", folder + "hurried/",
             hurried_worst_text(explored, all_hurried[i]));
    }
    output.write("findings.json", tables::findings_json(*plan, all));
    if (!form.empty()) {
        Output::print(findings_for_machines(form, *plan, all, plan::FoundBy::explore));
    } else {
        output.print(json, tables, [&] { return text; });
    }
    output.say_files();
    if (output.draws())
        plan::in_parallel(all_explored.size(), options.jobs, [&](std::size_t i) {
            const Explorer& explorer = *all_explored[i].explorer;
            output.draw(
                edition_name(explorer) + "/residency",
                figure::situations_figure(explorer, figure::situations_residency(explorer)));
        });
    return bad ? exit_code::bad_news : exit_code::fine;
}

constexpr std::string_view explore_usage = R"(usage: hestrel explore PLAN [options]

Looks at every situation that players can reach, in whatever order they do things, where
nobody hurries: each move is run to its end before the next. Says what goes wrong
anywhere, with the shortest way there, and how much memory the worst takes. With
--hurried also what goes wrong only where players go on while lists run and levels
load. Exits with 1 where anything does, or where not all could be looked at.)";

} // namespace

Command explore_command() {
    namespace po = boost::program_options;
    auto described = options_for("explore", {Takes::devices, Takes::editions, Takes::values,
                                             Takes::files, Takes::pictures, Takes::findings});
    described.add_options()("limit", po::value<std::size_t>()->value_name("N"),
                            "look at no more situations (10 million; hurried: 1 million)")(
        "memory", po::value<std::string>()->default_value("4 GiB")->value_name("SIZE"),
        "take no more memory for situations")(
        "witness", po::value<std::string>()->default_value("")->value_name("DIR"),
        "write a route to each finding there, for hestrel walk")(
        "hurried", "look also at players who do not wait for things to settle")(
        "pending", po::value<std::size_t>()->default_value(2)->value_name("N"),
        "hurried: follow no more than so many lists at once");
    return {"explore",     "PLAN",    "what can happen, whatever the players do",
            explore_usage, described, &run_explore};
}

} // namespace hestrel::command
