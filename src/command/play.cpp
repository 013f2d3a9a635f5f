// hestrel play PLAN: what happens if I do this, now this?

#include "command/output.hpp"
#include "command/play_lines.hpp"
#include "command/prompt.hpp"
#include "command/terminal.hpp"
#include "command/walk.hpp"
#include "plan/names.hpp"
#include "tables/route_yaml.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

/// The device to play on: the one that was named, else the first.
plan::DeviceId device_of(const plan::Plan& plan, const std::vector<std::string>& names) {
    const auto devices = chosen(plan.devices, names, "device");
    if (devices.empty()) throw UsageError("this plan has no devices to play on");
    if (devices.size() > 1 && !names.empty())
        throw UsageError("play goes on one device; `device NAME` changes it");
    return devices.front();
}

/// The steps of a route, in the order in which they come, each with its player.
std::vector<std::pair<std::uint32_t, plan::RouteStep>> steps_of(const plan::Route& route) {
    std::vector<std::pair<std::uint32_t, plan::RouteStep>> steps;
    for (std::uint32_t player = 0; player < route.players.size(); ++player) {
        for (const plan::RouteStep& step : route.players[player].steps)
            steps.emplace_back(player, step);
    }
    std::stable_sort(steps.begin(), steps.end(), [](const auto& one, const auto& other) {
        return one.second.turn < other.second.turn;
    });
    return steps;
}

plan::Route without_steps(plan::Route route) {
    for (plan::RoutePlayer& player : route.players) player.steps.clear();
    return route;
}

/// With what it begins: a route, a witness of explore, or nothing played yet.
plan::Route begun_with(const plan::Plan& plan, const Call& call) {
    const std::vector<std::string>& names = call.common().routes;
    if (!call.text("witness").empty()) {
        for (const plan::Route& route : plan.routes) {
            if (route.place.file == 0) return route;
        }
        throw UsageError(fmt::format("{} has no route", call.text("witness")));
    }
    if (!names.empty()) {
        const auto routes = chosen(plan.routes, names, "route");
        if (routes.size() != 1) throw UsageError("play begins after one route");
        return plan.routes[routes.front()];
    }
    auto begun = play::from_the_beginning(plan);
    if (!begun)
        throw UsageError("this plan has neither editions nor routes: nothing says where it "
                         "begins");
    begun->name = "played";
    return *begun;
}

/// Plays a witness to its end, as if somebody typed it.
void play_steps(const plan::Route& route, play::Session& session, const PlayLines& lines) {
    for (auto& [player, step] : steps_of(route)) {
        session.take_turn(player);
        Output::print(
            fmt::format("> {}\n", tables::step_yaml(session.plan(), route.players[player], step)));
        if (!session.add(step)) {
            Output::print("that can't be done\n");
            return;
        }
        Output::print_painted(lines.state());
    }
}

int run_play(const Call& call) {
    const CommonOptions& options = call.common();
    Output output(options);
    const std::string witness = call.text("witness");
    if (!witness.empty() && !options.routes.empty())
        throw UsageError("play begins after a route, or after a witness, not both");
    const std::string& path = witness.empty() ? options.plan_path : witness;
    PlanOnDisk disk(path);
    source::NotingDisk noting(disk.disk(), output.inputs());
    source::OpenPlan open(noting, path, read_options(options.sets));
    for (const plan::Finding& finding : open.findings()) {
        if (plan::is_error(finding)) say(plan::finding_text(open.plan(), finding));
    }
    if (open.has_errors()) return exit_code::problems_found;
    const plan::DeviceId device = device_of(open.plan(), options.devices);
    const plan::Route begun = begun_with(open.plan(), call);
    if (begun.machines.size() > 1)
        say(fmt::format("{}: all players share one machine here", begun.name));
    play::Session session(open.plan(), witness.empty() ? begun : without_steps(begun), device);
    PlayLines lines(open, disk, session, on_terminal(stdout));
    Prompt prompt([&](std::string_view line) { return lines.completions(line); });
    Output::print_painted(lines.state());
    if (!witness.empty()) play_steps(begun, session, lines);
    while (!lines.over()) {
        const auto line = prompt.next();
        if (!line) break;
        if (!prompt.on_terminal()) Output::print(fmt::format("> {}\n", *line));
        Output::print_painted(lines.answer(*line));
    }
    if (!options.out.empty()) {
        write_walk(session.plan(), session.record(), output);
        output.say_files();
    }
    return exit_code::fine;
}

constexpr std::string_view play_usage = R"(usage: hestrel play PLAN [options]

Plays a plan line by line, before there is a game.
After each line it tells where players are, what they see, what is loaded and what
comes, and what can be done next. Type help to see what can be typed.
Lines come from the terminal or from a pipe.
What was played is a route: save prints it, or puts it into the plan.)";

} // namespace

Command play_command() {
    namespace po = boost::program_options;
    const auto one_name = [] { return po::value<std::vector<std::string>>()->value_name("NAME"); };
    auto described = options_for("play", {Group::values});
    described.add_options()("device", one_name(), "on this device (the first)")(
        "route", one_name(), "begin after this route (where the edition begins)")(
        "witness", po::value<std::string>()->default_value("")->value_name("FILE"),
        "play this witness of explore to its end, step by step")(
        "out", po::value<std::string>()->value_name("DIR"),
        "write the tables of the walk there at the end");
    add_force(described);
    return {"play",     "PLAN",    "what happens if I do this, now this?",
            play_usage, described, &run_play};
}

} // namespace hestrel::command
