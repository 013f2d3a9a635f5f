// hestrel new DIR: a small commented plan to start from.

#include "command/embedded.hpp"
#include "command/options.hpp"
#include "source/disk.hpp"
#include "source/schema.hpp"

#include <fmt/format.h>

namespace hestrel::command {

boost::program_options::options_description new_options() {
    auto described = options_for("new", {});
    return described;
}

int new_command(const Arguments& arguments) {
    const auto values = parse(
        arguments, new_options(), {"dir"},
        "usage: hestrel new DIR [options]\n\n"
        "Writes a small plan with a comment on every line, plan.yaml, and the JSON Schema that\n"
        "editors complete it from, plan.schema.json. It checks clean and walks. Files that are\n"
        "there already are never replaced.");
    if (!values) return exit_code::fine;
    if (values->count("dir") == 0)
        throw UsageError("new: into which folder? try: hestrel new --help");
    const std::string folder = (*values)["dir"].as<std::string>();
    source::RealDisk disk;
    const std::string plan = folder + "/plan.yaml";
    const std::string schema = folder + "/plan.schema.json";
    for (const std::string& path : {plan, schema}) {
        if (disk.exists(path))
            throw source::FileError(fmt::format("{}: is there already; nothing was written", path));
    }
    const auto& files = embedded_starters();
    disk.write_all({{plan, files.front().text}, {schema, source::plan_schema()}});
    if (values->count("quiet") > 0) return exit_code::fine;
    fmt::print("{} is yours. What next:\n\n  hestrel check {}\n  hestrel walk {}\n", plan, plan,
               plan);
    return exit_code::fine;
}

} // namespace hestrel::command
