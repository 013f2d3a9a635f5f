// hestrel explore PLAN: what can happen whatever the players do.

#include "command/kept.hpp"
#include "command/output.hpp"
#include "command/progress.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "command/toward.hpp"
#include "command/witnesses.hpp"
#include "explore/explored.hpp"
#include "figure/heat_figure.hpp"
#include "figure/situations_figure.hpp"
#include "plan/jobs.hpp"
#include "plan/names.hpp"
#include "source/disk.hpp"
#include "source/quantities.hpp"
#include "tables/covered.hpp"
#include "tables/explore_tables.hpp"
#include "tables/findings.hpp"
#include "tables/saved_store.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/findings.hpp"
#include "walk/walk.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

using Align = TextTable::Align;
using explore::edition_name;
using explore::Explored;
using explore::Explorer;

using Uses = tables::Columns<explore::BudgetUse>;

Uses budget_columns(const Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    using Use = explore::BudgetUse;
    return {
        {"device",
         [&](const Use& use) { return plan.devices[explorer.options().devices[use.device]].name; }},
        {"budget",
         [&](const Use& use) { return use.pool ? plan.pools[use.pool] : std::string("total"); }},
        {"MiB", [](const Use& use) { return tables::short_mebibytes(use.budget); }, true}};
}

/// Two more columns: how much it is at the worst, and in how many moves.
template <class Of>
void add_worst(Uses& columns, const std::string& name, bool moves, Of&& of) {
    columns.push_back({name,
                       [of](const auto& use) {
                           const explore::WorstUse* worst = of(use);
                           if (worst == nullptr) return std::string();
                           return tables::short_mebibytes(worst->used) +
                                  (worst->used > worst->budget ? " over" : "");
                       },
                       true});
    if (!moves) return;
    columns.push_back({"in moves",
                       [of](const auto& use) {
                           const explore::WorstUse* worst = of(use);
                           return worst ? std::to_string(worst->way.size() - 1) : std::string();
                       },
                       true});
}

std::string budgets_text(const Uses& columns, const Explored& explored) {
    const auto uses = explore::budget_uses(explored.worst);
    return TextTable::of(columns, uses, uses.size()).text();
}

/// The most memory of each device and budget, settled and during a move.
std::string worst_text(const Explored& explored) {
    Uses columns = budget_columns(*explored.explorer);
    add_worst(columns, "settled", true, [](const auto& use) { return use.settled; });
    add_worst(columns, "during a move", true, [](const auto& use) { return use.during; });
    return budgets_text(columns, explored);
}

/// The most memory of each device and budget at any moment, with and without hurry.
std::string hurried_worst_text(const Explored& unhurried, const Explored& hurried) {
    const auto larger = [](const explore::BudgetUse& use) {
        if (use.settled == nullptr) return use.during;
        return use.during == nullptr || use.during->used < use.settled->used ? use.settled
                                                                             : use.during;
    };
    const auto before = explore::budget_uses(unhurried.worst);
    Uses columns = budget_columns(*hurried.explorer);
    add_worst(columns, "unhurried", false, [&](const auto& use) {
        const auto same = std::find_if(before.begin(), before.end(), [&](const auto& each) {
            return each.device == use.device && each.pool == use.pool;
        });
        return same == before.end() ? nullptr : larger(*same);
    });
    add_worst(columns, "hurried", true, larger);
    return budgets_text(columns, hurried);
}

/// The longest frames of each device, settled and during a move; nothing where nothing costs time.
std::string frames_text(const Explored& explored) {
    if (explored.frames.empty()) return {};
    const plan::Plan& plan = explored.explorer->plan();
    TextTable table({{"frame"},
                     {"device"},
                     {"at most", Align::right},
                     {"work", Align::right},
                     {"in moves", Align::right}});
    for (const explore::WorstFrame& each : explored.frames) {
        const plan::DeviceId device = explored.explorer->options().devices[each.device];
        table.row({each.during ? "during a move" : "settled", plan.devices[device].name,
                   plan::frame_time(each.most),
                   plan::frame_time(each.work) + (each.work > each.most ? " over" : ""),
                   std::to_string(each.way.size() - 1)});
    }
    return "\n" + table.text();
}

std::string findings_text(const Explored& explored, const std::vector<std::string>& witnesses) {
    const Explorer& explorer = *explored.explorer;
    if (explored.found.empty()) return "nothing found\n";
    std::string text;
    for (std::size_t i = 0; i < explored.found.size(); ++i) {
        const explore::Found& found = explored.found[i];
        text += plan::finding_text(explorer.plan(), found.finding) + "\n";
        if (!found.way) continue;
        constexpr std::size_t columns = text_columns;
        text += wrapped(tables::way_text(explorer, *found.way), columns, "    ");
        if (!witnesses[i].empty()) text += "    " + witnesses[i] + "\n";
    }
    return text;
}

/// A route for each finding that has a way; their paths, empty where it has none.
std::vector<std::string> write_witnesses(const Explored& explored, Witnesses& witnesses) {
    std::vector<std::string> paths;
    for (const explore::Found& found : explored.found) {
        paths.push_back(found.way ? witnesses.write(*explored.explorer, *found.way,
                                                    found.finding.name, found.finding.message)
                                  : std::string());
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
    if (const std::string why = explore::too_many_players(plan); !why.empty())
        throw UsageError(why);
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

std::optional<bool> fold_near_from(const Call& call) {
    if (!call.has("fold-near")) return std::nullopt;
    const std::string& answer = call.text("fold-near");
    if (answer != "yes" && answer != "no")
        throw UsageError(fmt::format("--fold-near: expected yes or no, not {}", answer));
    return answer == "yes";
}

/// The route that an option names; unset: it was not given.
plan::RouteId route_called(const plan::Plan& plan, const Call& call, const char* option) {
    if (!call.has(option)) return {};
    return chosen(plan.routes, {call.text(option)}, "route").front();
}

/// Where a route starts, or ends.
void begin_elsewhere(const plan::Plan& plan, const Call& call, explore::Options& exploring,
                     std::vector<plan::EditionId>& editions) {
    const plan::RouteId from = route_called(plan, call, "from");
    const plan::RouteId after = route_called(plan, call, "after");
    if (!from && !after) return;
    if (from && after) throw UsageError("exploring begins where a route starts, or where one ends");
    if (!call.names("edition").empty())
        throw UsageError("--from and --after explore the edition of their route");
    const plan::Route& route = plan.routes[from ? from : after];
    editions = {route.edition};
    exploring.start = route.start;
    for (const plan::RoutePlayer& player : route.players) exploring.players.push_back(player.kind);
    if (from) return;
    if (!call.text("witness").empty())
        throw UsageError("what begins where a route ends has no witness of its own");
    if (exploring.devices.empty()) throw UsageError("there is no device to walk that route on");
    walk::Options walking;
    walking.stand = true;
    const walk::Record record = walk::walk(plan, after, exploring.devices.front(), walking);
    if (!record.snapshot) {
        throw UsageError(fmt::format("{} does not come to its end on {}: {}", route.name,
                                     plan.devices[record.device].name,
                                     record.stuck ? tables::stuck_text(plan, record) : ""));
    }
    exploring.begun = record.snapshot;
}

/// Sessions over several machines are explored as if all players shared one.
void say_one_machine(const plan::Plan& plan, const std::vector<plan::EditionId>& editions) {
    std::vector<std::string> sessions;
    for (const plan::RouteId route : plan.routes.ids()) {
        const bool explored = plan::contains(editions, plan.routes[route].edition);
        if (explored && walk::is_session(plan, route)) sessions.push_back(plan.routes[route].name);
    }
    if (!sessions.empty())
        say(fmt::format("all players share one machine here: hestrel walk plays {} on several",
                        plan::joined(sessions)));
}

/// What of an earlier run it began with, and where the disk had no more room.
void say_what_was_kept(const Keeping& kept, const Explorer& explorer, const Output& output) {
    const std::string name = edition_name(explorer);
    if (explorer.taken_up() > 0)
        output.say(fmt::format("edition {}: {} of an earlier run", name,
                               tables::counted(explorer.taken_up(), "situation")));
    if (explorer.out_of_room())
        say(fmt::format("{}: no room for more situations of edition {}", kept.folder(), name));
}

int run_explore(const Call& call) {
    const CommonOptions& options = call.common();
    Output output(options);
    if (call.has("resume")) output.inputs().note_contents();
    const bool toward = call.has("toward");
    const auto asked = load_plan_asking(options.plan_path, options.sets, output.inputs(), "toward",
                                        toward ? std::optional(call.text("toward")) : std::nullopt);
    if (!asked) return exit_code::problems_found;
    const plan::Plan* plan = &asked->plan;
    auto editions = editions_to_explore(*plan, call.names("edition"));
    require_few_players(*plan);
    explore::Options exploring;
    exploring.toward = asked->condition;
    exploring.devices = chosen(plan->devices, options.devices, "device");
    const auto limit = [&](std::size_t otherwise) {
        return call.has("limit") ? call.number("limit") : otherwise;
    };
    exploring.most_situations = limit(10'000'000);
    exploring.most_bytes = memory_from(call.text("memory"));

    exploring.quit_anywhere = call.has("quit-anywhere");
    exploring.fold_near = fold_near_from(call);
    begin_elsewhere(*plan, call, exploring, editions);
    exploring.saved = read_saved_store(*plan, call.text("saved"), output.disk());
    const std::string form = call.text("findings");
    Witnesses witnesses(call.text("witness"), options.plan_path, output);
    const bool hurried = call.has("hurried");
    exploring.jobs = options.jobs;
    exploring.most_running = pending_from(call.number("pending"));
    if (toward && !form.empty())
        throw UsageError("--toward finds one situation: it has no --findings");
    if (toward && call.has("resume"))
        throw UsageError("--toward finds one situation: there is nothing to --resume");
    exploring.team = call.team();
    if (call.team()) call.team()->begin();
    if (toward) {
        exploring.pace = hurried ? explore::Pace::hurried : explore::Pace::unhurried;
        say_one_machine(*plan, editions);
        return run_toward(call, *plan, editions, exploring, output);
    }
    std::vector<Explored> all_explored(editions.size());
    std::vector<Explored> all_hurried(hurried ? editions.size() : 0);
    const Keeping kept(call, output);
    Progress progress(output);
    progress.begin_open("situations looked at");
    // A team takes one after the other.
    const unsigned at_once = call.team() ? 1 : options.jobs;
    plan::in_parallel(editions.size(), at_once, [&](std::size_t i) {
        explore::Options of_edition = exploring;
        of_edition.edition = editions[i];
        const std::string name = edition_name(*plan, editions[i]);
        kept.add_to(of_edition, name);
        watch(progress, i, of_edition);
        all_explored[i] = explore::explored(*plan, of_edition);
        if (!hurried) return;
        of_edition.most_situations = limit(2'000'000);
        kept.add_to(of_edition, name + "/hurried");
        watch(progress, editions.size() + i, of_edition);
        all_hurried[i] = explore::explored_hurried(*plan, std::move(of_edition), all_explored[i]);
    });
    progress.end();
    if (!tells(call)) return exit_code::fine;

    std::vector<plan::Finding> all;
    std::string text;
    std::string json;
    std::string tables;
    bool bad = false;
    const auto tell = [&](const Explored& explored, const std::string& name,
                          const std::string& folder, const std::string& most) {
        const Explorer& explorer = *explored.explorer;
        const std::string of_edition = tables::explore_json(explored);
        json += of_edition;
        const std::string worst = tables::worst_csv(explorer, explored.worst);
        tables += worst;
        output.write(folder + "worst.csv", worst);
        if (!explored.frames.empty())
            output.write(folder + "worst-frames.csv",
                         tables::worst_frames_csv(explorer, explored.frames));
        output.write(folder + "moves.csv", tables::moves_csv(explorer));
        output.write(folder + "explore.json", of_edition);
        const bool cut_off = !explorer.complete();
        std::string missed;
        if (cut_off) {
            const std::vector<tables::Covered> covered = tables::covered(explorer);
            output.write(folder + "covered.csv", tables::covered_csv(*plan, covered));
            missed = tables::covered_text(*plan, covered);
        }
        const auto paths = write_witnesses(explored, witnesses);
        for (const explore::Found& found : explored.found) {
            all.push_back(found.finding);
            bad = bad || plan::is_error(found.finding);
        }
        bad = bad || cut_off;
        text += std::string(text.empty() ? "" : "\n") + name + ": " +
                tables::looked_at_text(explorer) + missed + "\n" + most + "\n" +
                findings_text(explored, paths);
    };
    std::vector<std::vector<explore::Heat>> heats; // by edition
    say_one_machine(*plan, editions);
    for (const Explored& each : all_explored) say_what_was_kept(kept, *each.explorer, output);
    for (const Explored& each : all_hurried) say_what_was_kept(kept, *each.explorer, output);
    for (std::size_t i = 0; i < all_explored.size(); ++i) {
        const Explored& explored = all_explored[i];
        const std::string name = edition_name(*explored.explorer);
        const std::string folder = name + "/";
        output.write(folder + "places.csv", tables::places_csv(*explored.explorer));
        heats.push_back(explore::heat(*explored.explorer));
        output.write(folder + "heat.csv", tables::heat_csv(*explored.explorer, heats.back()));
        tell(explored, "edition " + name, folder, worst_text(explored) + frames_text(explored));
        if (!hurried) continue;
        tell(all_hurried[i], "edition " + name + ", players who hurry", folder + "hurried/",
             hurried_worst_text(explored, all_hurried[i]) + frames_text(all_hurried[i]));
    }
    output.write("findings.json", tables::findings_json(*plan, all));
    if (!form.empty()) {
        Output::put(findings_for_machines(form, *plan, all, plan::FoundBy::explore));
    } else {
        output.print(json, tables, [&] { return text; });
    }
    output.say_files();
    if (output.draws()) {
        NamedFigures figures;
        for (std::size_t i = 0; i < all_explored.size(); ++i) {
            const Explorer& explorer = *all_explored[i].explorer;
            const std::string folder = edition_name(explorer) + "/";
            figures.add(
                folder + "residency",
                figure::situations_figure(explorer, figure::situations_residency(explorer)));
            if (auto heat = figure::heat_figure(explorer, heats[i], figure::HeatOf::memory))
                figures.add(folder + "heat", std::move(*heat));
            if (auto heat = figure::heat_figure(explorer, heats[i], figure::HeatOf::frames))
                figures.add(folder + "heat-frames", std::move(*heat));
        }
        output.draw(figures);
        output.require_drawn();
    }
    return bad ? exit_code::problems_found : exit_code::fine;
}

constexpr std::string_view explore_usage = R"(usage: hestrel explore PLAN [options]

Looks at every situation that players can reach, in whatever order they do things.
Nobody hurries: each move is run to its end before the next.
Says what goes wrong anywhere, with the shortest way there, and how much memory the
worst takes.
With --hurried it also says what goes wrong only where players do not wait.
With --toward it looks for one situation, and says how to get there.
Exits with 1 where anything goes wrong, or where not all could be looked at.)";

} // namespace

Command explore_command() {
    namespace po = boost::program_options;
    auto described = options_for("explore", {Group::devices, Group::editions, Group::values,
                                             Group::files, Group::pictures, Group::findings});
    described.add_options()("limit", po::value<std::size_t>()->value_name("N"),
                            "look at no more situations (10 million; hurried: 2 million)")(
        "fold-near", po::value<std::string>()->implicit_value("yes")->value_name("no"),
        "leave levels out that stream by distance and that nothing goes by; what may be there of "
        "them counts as memory (no: keep them, as where there are no more than 100)")(
        "memory", po::value<std::string>()->default_value("4 GiB")->value_name("SIZE"),
        "take no more memory for situations; what has no room goes to a disk (in the folder of "
        "--resume, else in the one that TMPDIR names, else in /var/tmp)")(
        "resume", po::value<std::string>()->value_name("DIR"),
        "keep there what was looked at, and go on from what an earlier run of the same plan with "
        "the same options has kept, however it was ended")(
        "witness", po::value<std::string>()->default_value("")->value_name("DIR"),
        "write a route to each finding there, for hestrel walk")(
        "hurried", "look also at players who do not wait for things to settle")(
        "toward", po::value<std::string>()->value_name("CONDITION"),
        "look for one situation in which this holds (as in a route: memory and queued, too), those "
        "first that seem nearest to it, and say how to get there")(
        "from", po::value<std::string>()->value_name("ROUTE"), "begin where this route starts")(
        "after", po::value<std::string>()->value_name("ROUTE"),
        "begin where this route ends (walked on the first device)")(
        "saved", po::value<std::string>()->default_value("")->value_name("FILE"),
        "begin with this saved store")("quit-anywhere",
                                       "the game can be switched off, and launched again, at any "
                                       "moment; else only once it has ended")(
        "pending", po::value<std::size_t>()->default_value(2)->value_name("N"),
        "hurried: follow no more than so many lists at once");
    Command command{"explore",     "PLAN",    "what can happen, whatever the players do",
                    explore_usage, described, &run_explore};
    command.together = true;
    return command;
}

} // namespace hestrel::command
