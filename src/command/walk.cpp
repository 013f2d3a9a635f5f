// hestrel walk PLAN: what happens on these routes, on these devices.

#include "command/walk.hpp"

#include "command/output.hpp"
#include "command/reading.hpp"
#include "command/walk_text.hpp"
#include "figure/budget_figure.hpp"
#include "figure/flow_figure.hpp"
#include "figure/session_figure.hpp"
#include "figure/walk_figures.hpp"
#include "plan/jobs.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"
#include "source/disk.hpp"
#include "tables/carries_table.hpp"
#include "tables/contents_table.hpp"
#include "tables/file_names.hpp"
#include "tables/findings.hpp"
#include "tables/role_tables.hpp"
#include "tables/saved_store.hpp"
#include "tables/walk_junit.hpp"
#include "tables/walk_tables.hpp"
#include "walk/casts.hpp"
#include "walk/findings.hpp"
#include "walk/roles.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>
#include <span>
#include <utility>

namespace hestrel::command {

namespace {

std::string folder_of(const plan::Plan& plan, const walk::Record& record) {
    return tables::record_folder(plan, record) + "/";
}

std::string session_folder(const plan::Plan& plan, std::span<const walk::Record> session) {
    return tables::walk_folder(plan, session.front().route, session.front().devices);
}

void draw_figures(const plan::Plan& plan, std::span<const walk::Record> records, Output& output) {
    NamedFigures figures;
    for (const walk::Record& record : records) {
        const std::string folder = folder_of(plan, record);
        figure::WalkFigures of_walk = figure::walk_figures(plan, record);
        figures.add(folder + "memory", std::move(of_walk.memory));
        figures.add(folder + "loads", std::move(of_walk.loads));
        if (of_walk.frames) figures.add(folder + "frames", std::move(*of_walk.frames));
        if (of_walk.residency) figures.add(folder + "residency", std::move(*of_walk.residency));
        if (of_walk.storyboard) figures.add(folder + "storyboard", std::move(*of_walk.storyboard));
        if (of_walk.map) figures.add(folder + "map", std::move(*of_walk.map));
    }
    output.draw(figures);
}

/// The figures of all walks together.
void draw_figures_of_all(const plan::Plan& plan, const std::vector<walk::Record>& records,
                         Output& output) {
    output.draw("budget", figure::budget_figure(plan, records));
    output.draw("flow", figure::flow_figure(plan, records, figure::flow_chart(plan, records)));
    NamedFigures sessions;
    for (const std::span<const walk::Record> session : walk::sessions_in(records))
        sessions.add(session_folder(plan, session) + "/machines",
                     figure::session_figure(plan, session));
    output.draw(sessions);
}

std::string text_for_people(const plan::Plan& plan, const std::vector<walk::Record>& records,
                            bool details) {
    std::string text;
    const auto add = [&](const std::string& part) {
        if (part.empty()) return;
        text += (text.empty() ? "" : "\n") + part;
    };
    if (details) {
        for (const walk::Record& record : records) add(details_text(plan, record));
    } else {
        add(routes_table(plan, records));
        add(transitions_table(plan, records));
        add(roles_tables(plan, records));
    }
    add(problems_text(plan, records));
    add(kept_lines(plan, records));
    return text;
}

/// Tables about the plan, not about one walk.
void write_contents(const plan::Plan& plan, Output& output) {
    if (!plan.purposes.empty())
        output.write("contents.csv", tables::contents_csv(study::Study(plan, {})));
}

/// Where the saved store is kept between runs.
struct SavedFile {
    std::string path; ///< empty: nowhere
    bool fresh = false;

    [[nodiscard]] std::optional<flow::KeptStore> read(const plan::Plan& plan) const {
        source::RealDisk disk; // that it was read keeps nothing from being kept there
        if (path.empty() || fresh || !disk.exists(path)) return std::nullopt;
        return read_saved_store(plan, path, disk);
    }
};

} // namespace

void write_walk(const plan::Plan& plan, const walk::Record& record, Output& output) {
    const std::string folder = folder_of(plan, record);
    output.write(folder + "events.csv", tables::events_csv(plan, record));
    output.write(folder + "transitions.csv", tables::transitions_csv(plan, record));
    output.write(folder + "loads.csv", tables::loads_csv(plan, record));
    output.write(folder + "memory.csv", tables::memory_csv(plan, record));
    if (plan::has_frame_costs(plan))
        output.write(folder + "frames.csv", tables::frames_csv(record));
    if (!record.carries.empty())
        output.write(folder + "carries.csv", tables::carries_csv(plan, record.carries));
}

void write_sessions(const plan::Plan& plan, const std::vector<walk::Record>& records,
                    Output& output) {
    const auto matrices = walk::role_matrices(plan, records);
    if (!matrices.empty()) output.write("roles.csv", tables::roles_csv(plan, matrices));
    for (const std::span<const walk::Record> session : walk::sessions_in(records))
        output.write(session_folder(plan, session) + "/machines.csv",
                     tables::machines_csv(plan, session));
}

bool all_fine(const std::vector<walk::Record>& records) {
    return std::all_of(records.begin(), records.end(), [](const walk::Record& record) {
        return record.verdict == walk::Verdict::fine;
    });
}

void require_walks(const CommonOptions& options, const std::vector<plan::RouteId>& routes,
                   const std::vector<plan::DeviceId>& devices) {
    if (routes.empty())
        throw UsageError(fmt::format("{} has no routes to walk", options.plan_path));
    if (devices.empty())
        throw UsageError(fmt::format("{} has no devices to walk on", options.plan_path));
}

void leave_out_sessions(const plan::Plan& plan, const CommonOptions& options,
                        std::vector<plan::RouteId>& routes) {
    const auto session = [&](plan::RouteId route) { return walk::is_session(plan, route); };
    const auto first = std::find_if(routes.begin(), routes.end(), session);
    if (first == routes.end()) return;
    const std::string& name = plan.routes[*first].name;
    std::erase_if(routes, session);
    if (plan::contains(options.routes, name) || routes.empty())
        throw UsageError(
            fmt::format("--delivery is for routes on one machine: {} is played on several", name));
    say(fmt::format("without {} and other sessions over several machines: parcels are for one",
                    name));
}

std::vector<walk::Record> walk_all(const plan::Plan& plan, const std::vector<plan::RouteId>& routes,
                                   const std::vector<plan::DeviceId>& devices,
                                   const walk::Options& walking, unsigned jobs,
                                   Progress& progress) {
    const std::vector<walk::Cast> casts = walk::casts(plan, routes, devices);
    progress.begin("walks", casts.size());
    return walk::walk_all(plan, casts, walking, jobs, [&] { progress.one_more(); });
}

namespace {

/// What is told, and where.
struct Telling {
    bool details = false; ///< transition by transition, not in tables
    std::string findings; ///< sarif, junit or json; empty: for people
    bool json = false;    ///< everything, in a file for each walk
};

/// Writes the files of walks and prints what there is to say; the exit code.
int report_walks(const plan::Plan& plan, const std::vector<walk::Record>& records,
                 const CommonOptions& options, const Telling& telling, Output& output) {
    // Tables first: where a figure can't be drawn, they are there all the same.
    std::vector<plan::Finding> findings;
    write_contents(plan, output);
    for (const walk::Record& record : records) {
        write_walk(plan, record, output);
        if (telling.json)
            output.write(folder_of(plan, record) + "walk.json", tables::walk_json(plan, record));
        findings.insert(findings.end(), record.findings.begin(), record.findings.end());
    }
    write_sessions(plan, records, output);
    output.write("findings.json", tables::findings_json(plan, findings));
    if (telling.findings == "junit") {
        Output::put(tables::walks_junit(plan, records));
    } else if (!telling.findings.empty()) {
        Output::put(findings_for_machines(telling.findings, plan, findings, plan::FoundBy::walk));
    } else {
        output.print(tables::summary_json(plan, records), tables::summary_csv(plan, records),
                     [&] { return text_for_people(plan, records, telling.details); });
    }
    if (output.draws()) {
        const auto shares = plan::shares(records.size(), figure::walks_drawn_together);
        plan::in_parallel(shares.size() + 1, options.jobs, [&](std::size_t i) {
            if (i == shares.size()) {
                draw_figures_of_all(plan, records, output);
            } else {
                draw_figures(plan, std::span(records).subspan(shares[i].first, shares[i].count),
                             output);
            }
        });
        output.require_drawn();
    }
    output.say_files();
    return all_fine(records) ? exit_code::fine : exit_code::problems_found;
}

int run_walk(const Call& call) {
    const CommonOptions& options = call.common();
    Output output(options);
    const auto plan = load_plan(options.plan_path, options.sets, output.inputs());
    if (!plan) return exit_code::problems_found;
    auto routes = chosen(plan->routes, options.routes, "route");
    const auto devices = chosen(plan->devices, options.devices, "device");
    require_walks(options, routes, devices);
    const SavedFile saved{call.text("saved"), call.has("fresh")};
    if (!saved.path.empty() && walk::casts(*plan, routes, devices).size() != 1)
        throw UsageError("--saved goes with one --route and one --device");
    walk::Options walking;
    walking.delivery = call.has("delivery");
    if (walking.delivery) leave_out_sessions(*plan, options, routes);
    walking.saved = saved.read(*plan);
    if (!saved.path.empty()) output.require_alone(saved.path, walking.saved.has_value());
    Progress progress;
    const auto records = walk_all(*plan, routes, devices, walking, options.jobs, progress);
    const int code =
        report_walks(*plan, records, options,
                     {call.has("details"), call.text("findings"), call.has("json")}, output);
    if (!saved.path.empty() && records.front().saved)
        output.write_alone(saved.path, tables::saved_store_json(*plan, *records.front().saved),
                           walking.saved.has_value());
    return code;
}

constexpr std::string_view walk_usage = R"(usage: hestrel walk PLAN [options]

Simulates routes on devices, in time: what loads when, what it costs in memory and in
frames, how long players wait.
Writes a folder for each route and device. Where players have several machines, it has
a folder for each of them.
Exits with 1 where a walk gets stuck, goes over a memory budget, meets a level that is
not shown, or breaks one of the plan's own limits.)";

} // namespace

Command walk_command() {
    namespace po = boost::program_options;
    auto described = options_for("walk", {Group::devices, Group::routes, Group::values,
                                          Group::files, Group::pictures, Group::findings});
    described.add_options()("details", "print each walk transition by transition")(
        "json", "write walk.json too: everything, for programs")(
        "delivery", "parcels arrive while the game is played")(
        "saved", po::value<std::string>()->default_value("")->value_name("FILE"),
        "begin with this saved store, and keep what the walk saves in it (one route, one device)")(
        "fresh", "begin with an empty saved store");
    return {"walk",     "PLAN",    "what happens on these routes, on these devices",
            walk_usage, described, &run_walk};
}

} // namespace hestrel::command
