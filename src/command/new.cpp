// hestrel new DIR: a small commented plan to start from.

#include "command/embedded.hpp"
#include "command/options.hpp"
#include "command/output.hpp"
#include "source/disk.hpp"
#include "source/schema.hpp"

#include <fmt/format.h>

namespace hestrel::command {

namespace {

int run_new(const Call& call) {
    const std::string folder = call.text("dir");
    source::RealDisk disk;
    const std::string plan = folder + "/plan.yaml";
    const std::string schema = folder + "/plan.schema.json";
    for (const std::string& path : {plan, schema}) {
        if (disk.exists(path))
            throw source::FileError(fmt::format("{}: is there already; nothing was written", path));
    }
    const auto& files = embedded_starters();
    disk.write_all({{plan, files.front().text}, {schema, source::plan_schema()}});
    if (call.has("quiet")) return exit_code::fine;
    Output::print(fmt::format("{} is yours. What next:\n\n  hestrel check {}\n  hestrel walk {}\n",
                              plan, plan, plan));
    return exit_code::fine;
}

constexpr std::string_view new_usage = R"(usage: hestrel new DIR [options]

Writes a small plan with a comment on every line, plan.yaml, and the JSON Schema that
editors complete it from, plan.schema.json. It checks clean and walks. Files that are
there already are never replaced.)";

} // namespace

Command new_command() {
    auto described = options_for("new", {});
    return {"new",     "DIR",     "a small commented plan to start from",
            new_usage, described, &run_new,
            {"dir"},   1,         "into which folder?"};
}

} // namespace hestrel::command
