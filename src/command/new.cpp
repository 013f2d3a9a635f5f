// hestrel new DIR: a small commented plan to start from, or a row of levels in files of their own.

#include "command/embedded.hpp"
#include "command/options.hpp"
#include "command/output.hpp"
#include "source/disk.hpp"
#include "source/read_context.hpp"
#include "source/schema.hpp"
#include "source/yaml_writer.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <filesystem>
#include <fmt/format.h>
#include <kainjow/mustache.hpp>

namespace hestrel::command {

namespace {

namespace mustache = kainjow::mustache;
using Files = std::vector<std::pair<std::string, std::string>>;

/// Names between commas; throws UsageError for what is none, and for one that stands there twice.
std::vector<std::string> level_names(const std::string& text) {
    std::vector<std::string> names;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        std::string name = text.substr(at, end - at);
        if (!source::is_name(name))
            throw UsageError(fmt::format("--levels takes names with commas between them, such as "
                                         "title,hall,yard; \"{}\" is none",
                                         name));
        if (plan::contains(names, name))
            throw UsageError(fmt::format("--levels: \"{}\" stands there twice", name));
        names.push_back(std::move(name));
        at = end + 1;
    }
    return names;
}

std::string filled(const std::string& shape, const mustache::data& with) {
    mustache::mustache text{shape};
    text.set_custom_escape([](const std::string& name) { return name; }); // it is no HTML
    return text.render(with);
}

/// A plan whose levels lead from one to the next, each in a file of its own.
Files row_of_levels(const std::string& folder, const std::vector<std::string>& names) {
    const std::string& level_shape = embedded_level_starters()[0].text;
    const std::string& plan_shape = embedded_level_starters()[1].text;
    mustache::data levels{mustache::data::type::list};
    Files files(1);
    for (std::size_t i = 0; i < names.size(); ++i) {
        mustache::data level{"level", names[i]};
        if (i + 1 < names.size()) level.set("next", names[i + 1]);
        files.emplace_back(fmt::format("{}/levels/{}.yaml", folder, names[i]),
                           filled(level_shape, level));
        levels.push_back(level);
    }
    mustache::data whole{"first", names.front()};
    whole.set("name", source::flow_yaml(source::Json(source::whole(folder).filename().string())));
    whole.set("levels", levels);
    whole.set("several", names.size() > 1);
    files.front() = {folder + "/plan.yaml", filled(plan_shape, whole)};
    return files;
}

int run_new(const Call& call) {
    const std::string folder = call.text("dir");
    source::RealDisk disk;
    const std::string plan = folder + "/plan.yaml";
    Files files{{plan, embedded_starters().front().text}};
    if (call.has("levels")) files = row_of_levels(folder, level_names(call.text("levels")));
    files.emplace_back(folder + "/plan.schema.json", source::plan_schema());
    for (const auto& [path, text] : files) {
        if (disk.exists(path))
            throw source::FileError(fmt::format("{}: is there already; nothing was written", path));
    }
    disk.write_all(files);
    if (call.has("quiet")) return exit_code::fine;
    Output::print(fmt::format("{} is yours. What next:\n\n  hestrel check {}\n  hestrel walk {}\n",
                              plan, plan, plan));
    return exit_code::fine;
}

constexpr std::string_view new_usage = R"(usage: hestrel new DIR [options]

Writes a small plan with a comment on every line, plan.yaml, and the JSON Schema with
which editors complete it, plan.schema.json. The plan has no findings and can be walked.
With --levels it writes a row of levels that lead from one to the next, each in a file
of its own, levels/NAME.yaml, and plan.yaml with the list of them.
Files that are there already are never replaced.)";

} // namespace

Command new_command() {
    namespace po = boost::program_options;
    auto described = options_for("new", {});
    described.add_options()("levels", po::value<std::string>()->value_name("A,B,C"),
                            "a row of levels with these names");
    return {"new",     "DIR",     "a small commented plan to start from",
            new_usage, described, &run_new,
            {"dir"},   1,         "into which folder?"};
}

} // namespace hestrel::command
