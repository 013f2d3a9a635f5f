// hestrel demo [DIR]: the whole example on the shipped plan.

#include "command/embedded.hpp"
#include "command/output.hpp"
#include "command/reading.hpp"
#include "command/walk.hpp"
#include "source/disk.hpp"
#include "tables/file_names.hpp"
#include "tables/walk_tables.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <utility>

namespace hestrel::command {

namespace {

int run_demo(const Call& call) {
    const std::string folder = call.has("dir") ? call.text("dir") : "hestrel-out/demo";
    source::RealDisk disk;
    for (const source::EmbeddedFile& file : embedded_examples()) {
        const std::string path = folder + "/plan/" + file.name;
        if (disk.exists(path) && disk.read(path) != file.text)
            throw source::FileError(fmt::format("{}: is not the example's any more; nothing was "
                                                "replaced: name another folder",
                                                path));
    }
    for (const source::EmbeddedFile& file : embedded_examples())
        disk.write(folder + "/plan/" + file.name, file.text);

    const std::string path = folder + "/plan/glasswater.yaml";
    const std::string walks = folder + "/walk";
    const std::string page = folder + "/report.html";
    const std::string log = folder + "/plan/loads.csv";
    const std::string change =
        "levels.quay.triggers.ferry-boarding.steps.0.switch.order=free-first";
    const bool quiet = call.common().quiet;
    std::string above;
    for (const Arguments& each : std::vector<Arguments>{
             {"check", path},
             {"walk", path, "--out", walks, "--png"},
             {"explore", path, "--edition", "demo", "--out", folder + "/explore", "--witness",
              folder + "/ways"},
             {"order", path, "--out", folder + "/order"},
             {"advise", path, "--out", folder + "/advise"},
             {"compare", path, "--set", change, "--out", folder + "/compare", "--limit", "0"},
             {"spread", path, "--device", "handheld", "--trials", "200", "--out",
              folder + "/spread"},
             {"calibrate", log, "--out", folder + "/calibrate"},
             {"verify", path, folder + "/plan/play-1.csv", folder + "/plan/play-2.csv",
              folder + "/plan/play-3.csv", "--device", "handheld", "--out", folder + "/verify"},
             {"import", folder + "/plan/lake.gltf", "--into", path, "--dry-run"},
             {"export", path, "--as", "gltf", "--out", folder + "/export"},
             {"report", path, "--out", page}}) {
        if (!quiet)
            Output::print(fmt::format("{}$ hestrel {}\n\n", std::exchange(above, "\n"),
                                      fmt::join(each, " ")));
        Arguments words = each;
        if (quiet) words.emplace_back("--quiet");
        if (call.common().force && each.front() != "check" && each.front() != "import")
            words.emplace_back("--force");
        pick(words);
    }
    if (quiet) return exit_code::fine;
    source::Inputs read;
    const auto plan = load_plan(path, {}, read);
    if (!plan) return exit_code::own_fault;
    Progress progress;
    const auto records =
        walk_all(*plan, chosen(plan->routes, {}, "route"), chosen(plan->devices, {}, "device"), {},
                 call.common().jobs, progress);
    Output::print("\nThe flaws are there on purpose. Open these:\n");
    Output::print(fmt::format("  {:<60}the plan, to read and change\n", path));
    Output::print(fmt::format("  {:<60}all of it on one page\n", page));
    Output::print(fmt::format("  {:<60}levels, and the ways between them\n", walks + "/flow.svg"));
    for (const walk::Record& record : records) {
        if (record.verdict == walk::Verdict::fine) continue;
        Output::print(fmt::format("  {:<60}{}: tables and figures\n",
                                  walks + "/" + tables::record_folder(*plan, record) + "/",
                                  tables::verdict_name(record.verdict)));
    }
    return exit_code::fine;
}

constexpr std::string_view demo_usage = R"(usage: hestrel demo [DIR]

Writes the example plan, Glasswater Post, into DIR (hestrel-out/demo), and runs the
commands on it. The example has flaws on purpose.
A plan there that you have edited is never replaced, with --force either.)";

} // namespace

Command demo_command() {
    auto described = options_for("demo", {});
    add_force(described);
    return {"demo",     "[DIR]",   "runs the whole example on the shipped plan",
            demo_usage, described, &run_demo,
            {"dir"},    0,         ""};
}

} // namespace hestrel::command
