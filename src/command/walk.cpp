// hestrel walk PLAN: what happens on these routes, on these devices.

#include "walk/walk.hpp"

#include "command/options.hpp"
#include "command/terminal.hpp"
#include "command/walk.hpp"
#include "figure/gnuplot.hpp"
#include "figure/memory_figure.hpp"
#include "format/disk.hpp"
#include "format/plan_reader.hpp"
#include "format/walk_tables.hpp"
#include "format/words.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

constexpr int figure_width = 1280;
constexpr int figure_height = 640;

void write_figures(const plan::Plan& plan, const walk::Record& record, const std::string& folder,
                   bool png, format::Disk& disk) {
    const std::string script = figure::memory_script(plan, record);
    disk.write(folder + "memory.svg",
               figure::draw(script, figure::Picture::svg, figure_width, figure_height));
    if (!png) return;
    disk.write(folder + "memory.png",
               figure::draw(script, figure::Picture::png, figure_width, figure_height));
}

std::string hitches_text(const walk::Record& record) {
    if (record.hitches.empty()) return "none";
    return fmt::format("{} ({})", record.hitches.size(),
                       format::short_time(walk::worst_hitch(record)));
}

/// One row per route and device.
std::string summary_text(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    using Align = TextTable::Align;
    TextTable table({{"route"},
                     {"device"},
                     {"boot", Align::right},
                     {"veiled", Align::right},
                     {"stalled", Align::right},
                     {"hitches (worst)", Align::right},
                     {"peak of budget (MiB)", Align::right},
                     {"verdict"}});
    for (const walk::Record& record : records) {
        const plan::Device& device = plan.devices[record.device];
        table.row({plan.routes[record.route].name, device.name,
                   record.boot ? format::short_time(*record.boot) : "never",
                   format::short_time(record.shares.veiled),
                   format::short_time(record.shares.stalled), hitches_text(record),
                   fmt::format("{} of {}", format::short_mebibytes(record.peak),
                               format::short_mebibytes(device.memory.total)),
                   format::verdict_name(record.verdict)});
    }
    return table.text();
}

/// What is wrong with a walk, one line each.
std::string bad_news(const plan::Plan& plan, const walk::Record& record) {
    const std::string where =
        fmt::format("{} on {}", plan.routes[record.route].name, plan.devices[record.device].name);
    std::string text;
    if (record.stuck) {
        text += fmt::format("{}: stuck at {}: {}\n", where, format::short_time(record.stuck->since),
                            format::stuck_text(plan, record));
    }
    for (const loading::Overrun& overrun : record.overruns) {
        text += fmt::format(
            "{}: {} over {} ({}) for {}, from {} on\n", where,
            format::short_memory(overrun.worst_over), format::budget_name(plan, overrun),
            format::short_memory(overrun.budget), format::short_time(overrun.to - overrun.from),
            format::short_time(overrun.from));
    }
    return text;
}

} // namespace

std::string walk_folder(const plan::Plan& plan, const walk::Record& record,
                        const std::string& out) {
    return fmt::format("{}/{}--{}/", out, plan.routes[record.route].name,
                       plan.devices[record.device].name);
}

std::vector<walk::Record> walk_all(const plan::Plan& plan, const std::vector<plan::RouteId>& routes,
                                   const std::vector<plan::DeviceId>& devices) {
    std::vector<walk::Record> records;
    for (const plan::RouteId route : routes) {
        for (const plan::DeviceId device : devices)
            records.push_back(walk::walk(plan, route, device));
    }
    return records;
}

int report_walks(const plan::Plan& plan, const std::vector<walk::Record>& records,
                 const CommonOptions& options) {
    format::RealDisk disk;
    // Tables first: where a figure can't be drawn, they are there all the same.
    for (const walk::Record& record : records) {
        const std::string folder = walk_folder(plan, record, options.out);
        disk.write(folder + "events.csv", format::events_csv(plan, record));
        disk.write(folder + "loads.csv", format::loads_csv(plan, record));
        disk.write(folder + "memory.csv", format::memory_csv(plan, record));
        disk.write(folder + "walk.json", format::walk_json(plan, record));
    }
    const bool all_fine =
        std::all_of(records.begin(), records.end(), [](const walk::Record& record) {
            return record.verdict == walk::Verdict::fine;
        });
    if (!options.quiet) {
        switch (options.format) {
        case OutputFormat::json: fmt::print("{}", format::summary_json(plan, records)); break;
        case OutputFormat::csv: fmt::print("{}", format::summary_csv(plan, records)); break;
        case OutputFormat::text: {
            std::string news;
            for (const walk::Record& record : records) news += bad_news(plan, record);
            fmt::print("{}{}{}", summary_text(plan, records), news.empty() ? "" : "\n", news);
            break;
        }
        }
    }
    if (options.figures) {
        for (const walk::Record& record : records) {
            write_figures(plan, record, walk_folder(plan, record, options.out), options.png, disk);
        }
    }
    if (!options.quiet) fmt::print(stderr, "files: {}/\n", options.out);
    return all_fine ? exit_code::fine : exit_code::bad_news;
}

int walk_command(const Arguments& arguments) {
    const auto values = parse(
        arguments, common_options("walk"), {"plan"},
        "usage: hestrel walk PLAN [options]\n\n"
        "Simulates routes on devices, in time: what loads when, what it costs in memory and\n"
        "in frames, how long players wait. Writes one folder per route and device. Exits with 1\n"
        "where a walk goes over a memory budget or gets stuck.");
    if (!values) return exit_code::fine;
    const CommonOptions options = common_from(*values, "walk");
    const auto plan = load_plan(options.plan_path);
    if (!plan) return exit_code::bad_news;
    const auto routes = chosen_routes(*plan, options.routes);
    const auto devices = chosen_devices(*plan, options.devices);
    if (routes.empty())
        throw UsageError(fmt::format("{} has no routes to walk", options.plan_path));
    if (devices.empty())
        throw UsageError(fmt::format("{} has no devices to walk on", options.plan_path));
    return report_walks(*plan, walk_all(*plan, routes, devices), options);
}

} // namespace hestrel::command
