// hestrel demo [DIR]: the whole example on the shipped plan.

#include "command/embedded.hpp"
#include "command/walk.hpp"
#include "source/disk.hpp"
#include "tables/walk_tables.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <thread>

namespace hestrel::command {

boost::program_options::options_description demo_options() {
    auto described = options_for("demo", {});
    return described;
}

int demo_command(const Arguments& arguments) {
    const auto values = parse(
        arguments, demo_options(), {"dir"},
        "usage: hestrel demo [DIR]\n\n"
        "Writes the example plan, Glasswater Post, into DIR (hestrel-out/demo) and runs every\n"
        "command on it. The example has flaws on purpose, for Hestrel to find.");
    if (!values) return exit_code::fine;
    const std::string folder =
        values->count("dir") > 0 ? (*values)["dir"].as<std::string>() : "hestrel-out/demo";
    source::RealDisk disk;
    for (const source::EmbeddedFile& file : embedded_examples())
        disk.write(folder + "/plan/" + file.name, file.text);

    CommonOptions common;
    common.plan_path = folder + "/plan/glasswater.yaml";
    common.out = folder + "/walk";
    common.png = true;
    const auto plan = load_plan(common.plan_path);
    if (!plan) return exit_code::own_fault;
    fmt::print("$ hestrel check {}\n\n", common.plan_path);
    check_command({common.plan_path});
    fmt::print("\n$ hestrel walk {} --out {} --png\n\n", common.plan_path, common.out);
    const auto records = walk_all(*plan, chosen_routes(*plan, {}), chosen_devices(*plan, {}), {},
                                  std::max(1U, std::thread::hardware_concurrency()));
    report_walks(*plan, records, common, {});
    fmt::print("\n$ hestrel explore {0} --edition demo --out {1}/explore --witness {1}/ways\n\n",
               common.plan_path, folder);
    explore_command({common.plan_path, "--edition", "demo", "--out", folder + "/explore",
                     "--witness", folder + "/ways"});
    fmt::print("\n$ hestrel order {} --out {}\n\n", common.plan_path, folder + "/order");
    order_command({common.plan_path, "--out", folder + "/order"});
    fmt::print("\n$ hestrel advise {} --out {}\n\n", common.plan_path, folder + "/advise");
    advise_command({common.plan_path, "--out", folder + "/advise"});
    const std::string change = "triggers.ferry-boarding.steps.0.switch.order=free-first";
    fmt::print("\n$ hestrel compare {} --set {} --out {} --limit 0\n\n", common.plan_path, change,
               folder + "/compare");
    compare_command(
        {common.plan_path, "--set", change, "--out", folder + "/compare", "--limit", "0"});
    fmt::print("\n$ hestrel spread {} --device handheld --trials 200 --out {}\n\n",
               common.plan_path, folder + "/spread");
    spread_command(
        {common.plan_path, "--device", "handheld", "--trials", "200", "--out", folder + "/spread"});
    const std::string log = folder + "/plan/loads.csv";
    fmt::print("\n$ hestrel calibrate {} --out {}\n\n", log, folder + "/calibrate");
    calibrate_command({log, "--out", folder + "/calibrate"});
    const std::string page = folder + "/report.html";
    fmt::print("\n$ hestrel report {} --out {}\n\n", common.plan_path, page);
    report_command({common.plan_path, "--out", page});
    fmt::print("\nThe flaws are there on purpose. Open these:\n");
    fmt::print("  {:<60}the plan, to read and change\n", common.plan_path);
    fmt::print("  {:<60}all of it on one page\n", page);
    fmt::print("  {:<60}levels, and the ways between them\n", common.out + "/flow.svg");
    for (const walk::Record& record : records) {
        if (record.verdict == walk::Verdict::fine) continue;
        fmt::print("  {:<60}{}: tables and figures\n",
                   common.out + "/" + walk_folder(*plan, record),
                   tables::verdict_name(record.verdict));
    }
    return exit_code::fine;
}

} // namespace hestrel::command
