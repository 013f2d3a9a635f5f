// hestrel rename PLAN OLD NEW: a name changed everywhere it is used, comments and layout kept.

#include "edit/rename.hpp"

#include "command/output.hpp"
#include "command/reading.hpp"
#include "source/disk.hpp"

#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

std::string lines_text(const edit::Renaming& renaming) {
    std::string text;
    for (const edit::ChangedLine& line : renaming.lines)
        text += fmt::format("{}:{}\n- {}\n+ {}\n", line.file, line.line, line.before, line.after);
    return text;
}

std::string counted(std::size_t count, std::string_view one) {
    return fmt::format("{} {}{}", count, one, count == 1 ? "" : "s");
}

int run_rename(const Call& call) {
    PlanOnDisk on_disk(call.text("plan"));
    source::PlanDisk& disk = on_disk.disk();
    edit::Renaming renaming;
    try {
        renaming = edit::rename(disk, call.text("plan"), call.text("old"), call.text("new"),
                                call.text("kind"));
    } catch (const edit::RenameError& error) {
        say(fmt::format("hestrel: {}", error.what()));
        return exit_code::problems_found;
    }
    const bool dry = call.has("dry-run");
    if (!dry) disk.change(renaming.files);
    if (call.has("quiet")) return exit_code::fine;
    if (dry) Output::print(lines_text(renaming));
    const std::size_t dot = call.text("old").rfind('.');
    const std::string owner = dot == std::string::npos ? "" : call.text("old").substr(0, dot + 1);
    Output::print(fmt::format(
        "{} {} {} {}{}: {} in {}{}\n", renaming.kind, call.text("old"), dry ? "would be" : "is now",
        owner, call.text("new"), counted(renaming.places, "place"),
        counted(renaming.files.size(), "file"), dry ? " (nothing was changed)" : ""));
    return exit_code::fine;
}

constexpr std::string_view rename_usage = R"(usage: hestrel rename PLAN OLD NEW [options]

Changes a name wherever it is used: in all files of the plan, in conditions, in dotted
names and in tables of sizes. Nothing else in the files changes by a byte.
NEW is the name alone. OLD names what belongs to something together with it:

  front-desk.begin      an item             full.core      a parcel
  post-hall.front-door  an entry            travel.where   what a list takes
  carrier.run           a speed             quay.stair     what stands inside a level

kinds: device, pool, kit, level, group, world, waypoint, gate, trigger, menu, item,
entry, veil, fact, value, list, parameter, player, tag, speed, provides, branch,
edition, parcel, route)";

} // namespace

Command rename_command() {
    namespace po = boost::program_options;
    auto described = options_for("rename", {});
    described.add_options()("kind", po::value<std::string>()->default_value("")->value_name("KIND"),
                            "what is meant, where several things are called so")(
        "dry-run", "show the lines that would change, and change nothing");
    return {"rename",
            "PLAN OLD NEW",
            "a name changed everywhere it is used",
            rename_usage,
            described,
            &run_rename,
            {"plan", "old", "new"},
            3,
            "which plan, which name, and what instead?"};
}

} // namespace hestrel::command
