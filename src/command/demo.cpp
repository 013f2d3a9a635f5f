// hestrel demo [DIR]: the whole example on the shipped plan.

#include "command/embedded.hpp"
#include "command/walk.hpp"
#include "format/disk.hpp"
#include "format/walk_tables.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <thread>

namespace hestrel::command {

int demo_command(const Arguments& arguments) {
    namespace po = boost::program_options;
    po::options_description options("options");
    options.add_options()("help,h", "print this");
    const auto values = parse(
        arguments, options, {"dir"},
        "usage: hestrel demo [DIR]\n\n"
        "Writes the example plan, Glasswater Post, into DIR (hestrel-out/demo) and runs every\n"
        "command on it. The example has flaws on purpose, for Hestrel to find.");
    if (!values) return exit_code::fine;
    const std::string folder =
        values->count("dir") > 0 ? (*values)["dir"].as<std::string>() : "hestrel-out/demo";
    format::RealDisk disk;
    for (const EmbeddedFile& file : embedded_examples())
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
    fmt::print("\nThe flaws are there on purpose. Open these:\n");
    fmt::print("  {:<60}the plan, to read and change\n", common.plan_path);
    for (const walk::Record& record : records) {
        if (record.verdict == walk::Verdict::fine) continue;
        const std::string walked = walk_folder(*plan, record, common.out);
        fmt::print("  {:<60}memory over time: {}\n", walked + "memory.svg",
                   format::verdict_name(record.verdict));
        fmt::print("  {:<60}what each trigger and item did\n", walked + "transitions.csv");
    }
    return exit_code::fine;
}

} // namespace hestrel::command
