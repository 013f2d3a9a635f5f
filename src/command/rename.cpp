// hestrel rename PLAN OLD NEW: a name changed everywhere it is used, comments and layout kept.

#include "edit/rename.hpp"

#include "command/output.hpp"
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

} // namespace

boost::program_options::options_description rename_options() {
    namespace po = boost::program_options;
    auto described = options_for("rename", {});
    described.add_options()("kind", po::value<std::string>()->default_value("")->value_name("KIND"),
                            "what is meant, where several things are called so")(
        "dry-run", "show the lines that would change, and change nothing");
    return described;
}

int rename_command(const Arguments& arguments) {
    const auto values =
        parse(arguments, rename_options(), {"plan", "old", "new"},
              "usage: hestrel rename PLAN OLD NEW [options]\n\n"
              "Changes a name wherever it is used: in all files of the plan, in conditions, dotted "
              "names\n"
              "and tables of sizes. Nothing else in the files changes by a byte. What belongs to "
              "something\n"
              "is named with it: front-desk.begin (an item), post-hall.front-door (an entry), "
              "carrier.run\n"
              "(a speed), full.core (a parcel); NEW is the name alone.\n\n"
              "kinds: device, pool, kit, level, world, waypoint, gate, trigger, menu, item, entry, "
              "veil,\n"
              "fact, value, player, tag, speed, provides, branch, edition, parcel, route");
    if (!values) return exit_code::fine;
    if (values->count("new") == 0)
        throw UsageError(
            "rename: which plan, which name, and what instead? try: hestrel rename --help");
    source::RealDisk disk;
    const auto text_of = [&](const char* name) { return (*values)[name].as<std::string>(); };
    edit::Renaming renaming;
    try {
        renaming =
            edit::rename(disk, text_of("plan"), text_of("old"), text_of("new"), text_of("kind"));
    } catch (const edit::RenameError& error) {
        say(fmt::format("hestrel: {}", error.what()));
        return exit_code::bad_news;
    }
    const bool dry = values->count("dry-run") > 0;
    if (!dry) disk.write_all(renaming.files);
    if (values->count("quiet") > 0) return exit_code::fine;
    if (dry) fmt::print("{}", lines_text(renaming));
    const std::size_t dot = text_of("old").find('.');
    const std::string owner = dot == std::string::npos ? "" : text_of("old").substr(0, dot + 1);
    fmt::print("{} {} {} {}{}: {} in {}{}\n", renaming.kind, text_of("old"),
               dry ? "would be" : "is now", owner, text_of("new"),
               counted(renaming.places, "place"), counted(renaming.files.size(), "file"),
               dry ? " (nothing was changed)" : "");
    return exit_code::fine;
}

} // namespace hestrel::command
