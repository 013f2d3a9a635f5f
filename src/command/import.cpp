// hestrel import FILE… --into PLAN: shapes and levels from other tools, put into the plan's files.

#include "exchange/import.hpp"
#include "command/output.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "edit/line_difference.hpp"

#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>

namespace hestrel::command {

namespace {

using TextsByPath = std::map<std::string, std::string>;

std::string lines_text(const std::string& file, const std::string& before,
                       const std::string& after) {
    std::string text;
    for (const edit::ChangedLines& lines : edit::line_difference(before, after)) {
        text += fmt::format("{}:{}\n", file, lines.line);
        for (const std::string& line : lines.before) text += "- " + line + "\n";
        for (const std::string& line : lines.after) text += "+ " + line + "\n";
    }
    return text;
}

/// Of each kind a line: how many, the first names, and how many more there are.
std::string names_text(std::string_view head, const std::vector<exchange::ThingName>& things) {
    constexpr std::size_t most = 24;
    constexpr std::size_t width = text_columns;
    std::vector<std::string> kinds; // in order of first appearance
    std::map<std::string, std::vector<std::string>> names;
    for (const exchange::ThingName& thing : things) {
        std::vector<std::string>& of_kind = names[thing.kind];
        if (of_kind.empty()) kinds.push_back(thing.kind);
        of_kind.push_back(thing.name);
    }
    std::string text;
    for (const std::string& kind : kinds) {
        std::vector<std::string>& of_kind = names[kind];
        const std::size_t more = of_kind.size() - std::min(of_kind.size(), most);
        const std::string counted = fmt::format("{} ({})", kind, of_kind.size());
        of_kind.resize(of_kind.size() - more);
        text += wrapped(fmt::format("{}: {}{}", counted, fmt::join(of_kind, ", "),
                                    more == 0 ? "" : fmt::format(" and {} more", more)),
                        width, "  ");
    }
    return text.empty() ? text : fmt::format("{}\n{}", head, text);
}

std::string text_for_people(const std::string& file, const exchange::Imported& imported) {
    std::string text;
    for (const std::string& line : imported.changed) text += line + "\n";
    text += names_text("new:", imported.added);
    text += names_text("not in " + file + ", and kept:", imported.kept);
    for (const std::string& line : imported.notes) text += line + "\n";
    return text + fmt::format("{}: {} changed, {} new, {} as before, {} of the plan not in it\n",
                              file, imported.changed.size(), imported.added.size(), imported.same,
                              imported.kept.size());
}

/// What each file of the plan says now.
std::string text_now(source::Disk& disk, const std::string& path) {
    return disk.exists(path) ? disk.read(path) : std::string();
}

int run_import(const Call& call) {
    const std::string plan = call.text("into");
    if (plan.empty()) throw UsageError("import into which plan? --into PLAN");
    const std::vector<std::string> sources = call.names("file");
    for (const std::string& file : sources) {
        if (!exchange::can_be_imported(file))
            throw UsageError(fmt::format("{} can't be imported: .gltf, .glb and .csv can", file));
    }
    PlanOnDisk on_disk(plan);
    source::PlanDisk& disk = on_disk.disk();
    TextsByPath changed;
    if (!disk.exists(plan)) changed[plan] = exchange::new_plan_text(plan);
    std::string told;
    for (const std::string& file : sources) {
        source::ChangedDisk then(disk, {changed.begin(), changed.end()});
        exchange::ImportedFile imported = exchange::import_file(then, plan, file);
        if (say_errors(imported.what.errors)) {
            say("nothing was changed");
            return exit_code::problems_found;
        }
        for (auto& [path, text] : imported.files) changed[path] = std::move(text);
        told += text_for_people(file, imported.what);
    }
    const bool dry = call.has("dry-run");
    std::string lines;
    std::vector<std::pair<std::string, std::string>> to_write;
    for (const auto& [path, text] : changed) {
        const std::string before = text_now(disk, path);
        if (before == text) continue;
        if (dry) lines += lines_text(path, before, text);
        to_write.emplace_back(path, text);
    }
    if (!dry && !to_write.empty()) disk.change(to_write);
    if (call.has("quiet")) return exit_code::fine;
    if (dry && !lines.empty()) Output::print(lines + "\n");
    Output::print(told);
    if (dry) Output::print("nothing was changed: this was a dry run\n");
    return exit_code::fine;
}

constexpr std::string_view import_usage = R"(usage: hestrel import FILE... --into PLAN [options]

Takes over what other tools know, into the files of a plan.
What has changed gets its new value where it stands; comments and layout are kept.
What is new is put beside what it belongs to. Nothing is ever removed.
A plan that is not there yet is begun.

  .gltf, .glb   the map from a 3D tool: nodes whose `extras` (custom properties) have
                {"hestrel": "area", "level": "quay"}, or seen-from, trigger, waypoint,
                gate, path with a name, as `hestrel export --as gltf` writes them
  .csv          a level list: level,parent,title,owner,purpose, a column for each pool,
                packed,objects; an empty cell says nothing)";

} // namespace

Command import_command() {
    namespace po = boost::program_options;
    auto described = options_for("import", {});
    described.add_options()("into", po::value<std::string>()->value_name("PLAN"),
                            "the plan's main file")(
        "dry-run", "show the lines that would change, and change nothing");
    Command command{"import",
                    "FILE... --into PLAN",
                    "shapes and levels from other tools",
                    import_usage,
                    described,
                    &run_import,
                    {"file"},
                    1,
                    "import which files?"};
    command.several = true;
    return command;
}

} // namespace hestrel::command
