// hestrel export PLAN --as FORM: the plan, or walks of it, for other programs.

#include "command/output.hpp"
#include "command/progress.hpp"
#include "command/reading.hpp"
#include "command/walk.hpp"
#include "exchange/flow_graph.hpp"
#include "exchange/game_plan.hpp"
#include "exchange/gltf_writer.hpp"
#include "exchange/trace.hpp"
#include "tables/file_names.hpp"
#include "tables/plan_tables.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

/// A plan, and the walks of it that were asked for.
class Exporter {
public:
    Exporter(const Call& call, const plan::Plan& plan, Output& output)
        : call_(call), plan_(plan), output_(output) {}

    void gltf() {
        if (!call_.has("route") && !call_.has("device")) {
            write("world.gltf", exchange::gltf_json(plan_, {}));
            return;
        }
        const std::vector<walk::Record> walked = walks();
        for (const auto& walk : walk::walks_in(walked))
            write(tables::walk_folder(plan_, walk.front().route, walk.front().devices) +
                      "/world.gltf",
                  exchange::gltf_json(plan_, walk));
    }
    void graphml() { write("flow.graphml", exchange::flow_graphml(plan_, walks_if_any())); }
    void dot() { write("flow.dot", exchange::flow_dot(plan_, walks_if_any())); }
    void trace() {
        for (const walk::Record& record : walks())
            write(tables::record_folder(plan_, record) + "/trace.json",
                  exchange::trace_json(plan_, record));
    }
    void json() {
        write("plan.json", exchange::game_plan_json(plan_));
        write(std::string(exchange::game_plan_schema_name), exchange::game_plan_schema());
    }
    void csv() {
        write("levels.csv", tables::levels_csv(plan_));
        write("triggers.csv", tables::triggers_csv(plan_));
        write("ways.csv", tables::level_ways_csv(plan_, walks_if_any()));
    }
    [[nodiscard]] const std::vector<std::string>& written() const { return written_; }

private:
    [[nodiscard]] std::vector<walk::Record> walks_if_any() const {
        if (plan_.routes.empty() || plan_.devices.empty()) return {};
        return walks();
    }
    [[nodiscard]] std::vector<walk::Record> walks() const {
        const CommonOptions& options = call_.common();
        const auto routes = chosen(plan_.routes, options.routes, "route");
        const auto devices = chosen(plan_.devices, options.devices, "device");
        require_walks(options, routes, devices);
        Progress progress(output_);
        return walk_all(plan_, routes, devices, {}, options.jobs, progress);
    }
    void write(const std::string& name, const std::string& text) {
        output_.write(name, text);
        written_.push_back(name);
    }

    const Call& call_;
    const plan::Plan& plan_;
    Output& output_;
    std::vector<std::string> written_;
};

struct Form {
    std::string_view name;
    void (Exporter::*write)();
    bool walks; ///< routes and devices matter
};
constexpr std::array<Form, 6> forms{{{"gltf", &Exporter::gltf, true},
                                     {"graphml", &Exporter::graphml, true},
                                     {"dot", &Exporter::dot, true},
                                     {"trace", &Exporter::trace, true},
                                     {"json", &Exporter::json, false},
                                     {"csv", &Exporter::csv, true}}};

/// "gltf, graphml, dot, trace, json or csv".
std::string form_names() {
    std::string names;
    for (const Form& form : forms) {
        const bool last = &form == &forms.back();
        names += names.empty() ? "" : last ? " or " : ", ";
        names += form.name;
    }
    return names;
}

const Form& form_of(const Call& call) {
    if (!call.has("as")) throw UsageError("export to what? --as " + form_names());
    const std::string wanted = call.text("as");
    const auto form = std::find_if(forms.begin(), forms.end(),
                                   [&](const Form& each) { return each.name == wanted; });
    if (form == forms.end()) {
        std::vector<std::string_view> known;
        for (const Form& each : forms) known.push_back(each.name);
        throw UsageError(fmt::format("--as takes {}, not \"{}\"{}", form_names(), wanted,
                                     source::hint(wanted, known)));
    }
    if (!form->walks && (call.has("route") || call.has("device")))
        throw UsageError(fmt::format("--as {} is about the plan, not about walks: it takes no "
                                     "--route and no --device",
                                     wanted));
    return *form;
}

int run_export(const Call& call) {
    const CommonOptions& options = call.common();
    const Form& form = form_of(call);
    Output output(options);
    const auto plan = load_plan(options.plan_path, options.sets, output.inputs());
    if (!plan) return exit_code::problems_found;
    Exporter exporter(call, *plan, output);
    (exporter.*form.write)();
    if (!options.quiet) {
        for (const std::string& name : exporter.written())
            Output::print(fmt::format("{}/{}\n", options.out, name));
    }
    return exit_code::fine;
}

constexpr std::string_view export_usage = R"(usage: hestrel export PLAN --as FORM [options]

Writes the plan, or walks of it, for other programs:

  gltf      the map as glTF 2.0: areas, triggers, waypoints, gates and paths as named,
            coloured shapes that 3D tools can move and `hestrel import` reads again; with
            --route or --device each walk as an animation
  graphml   the flow from level to level, with all figures as attributes, and the least
            slack of any walk
  dot       the same for Graphviz
  trace     each walk as Trace Event JSON: reads, workers, the main thread, veils and
            players as tracks, memory as counters; `hestrel verify` reads it, too
  json      the plan as the game itself may read it, with its JSON Schema
  csv       levels.csv, which `hestrel import` reads again, triggers.csv and ways.csv)";

} // namespace

Command export_command() {
    namespace po = boost::program_options;
    auto described =
        options_for("export", {Group::walks, Group::routes, Group::values, Group::folder});
    described.add_options()("as", po::value<std::string>()->value_name("FORM"),
                            form_names().c_str());
    return {"export",     "PLAN --as FORM", "the plan, or a walk, for other programs",
            export_usage, described,        &run_export};
}

} // namespace hestrel::command
