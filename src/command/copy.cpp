// hestrel copy PLAN LEVEL NEW: a level again, with all that stands inside it.

#include "edit/copy_level.hpp"

#include "command/output.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

std::string mentions_text(const Call& call, const edit::Copied& copied) {
    if (copied.mentions.empty()) return {};
    TextTable table({{fmt::format("what names {}", call.text("level"))}, {"where"}});
    for (const edit::Mention& mention : copied.mentions) table.row({mention.line, mention.place});
    return "\n" + table.text();
}

std::string names_text(const Call& call, const edit::Copied& copied) {
    std::vector<std::string> sublevels;
    for (const auto& [name, copy] : copied.names) {
        if (name != call.text("level")) sublevels.push_back(fmt::format("{} as {}", name, copy));
    }
    if (sublevels.empty()) return {};
    return wrapped(fmt::format("Its sublevels: {}.", fmt::join(sublevels, ", ")), text_columns, "");
}

int run_copy(const Call& call) {
    PlanOnDisk on_disk(call.text("plan"));
    edit::CopyOptions options;
    options.into = call.text("into");
    for (const std::string& also : call.names("also")) {
        if (also != "editions") throw UsageError("--also takes editions");
        options.editions = true;
    }
    edit::Copied copied;
    try {
        copied = edit::copy_level(on_disk.disk(), call.text("plan"), call.text("level"),
                                  call.text("new"), options);
    } catch (const edit::CopyError& error) {
        say(fmt::format("hestrel: {}", error.what()));
        return exit_code::problems_found;
    }
    const bool dry = call.has("dry-run");
    if (!dry) on_disk.disk().change(copied.files);
    if (call.has("quiet")) return exit_code::fine;
    if (dry) Output::print(fmt::format("{}\n\n", fmt::join(copied.lines, "\n")));
    Output::print(fmt::format("{}: {} {} {}{}\n", copied.place, call.text("new"),
                              dry ? "would be a copy of" : "is a copy of", call.text("level"),
                              dry ? " (nothing was changed)" : ""));
    Output::print(names_text(call, copied));
    if (options.editions) {
        Output::print(copied.editions.empty()
                          ? std::string("No edition lists the old one.\n")
                          : fmt::format("Listed in: {}.\n", fmt::join(copied.editions, ", ")));
    }
    Output::print(mentions_text(call, copied));
    return exit_code::fine;
}

constexpr std::string_view copy_usage = R"(usage: hestrel copy PLAN LEVEL NEW [options]

Writes a level again under a new name, with all that stands inside it and its comments.
The copy comes after the old level in the same file. Its sublevels get names that begin
with the new name. Nothing else changes by a byte.
What else in the plan names the old level is listed with its place.)";

} // namespace

Command copy_command() {
    namespace po = boost::program_options;
    auto described = options_for("copy", {});
    described.add_options()("into", po::value<std::string>()->default_value("")->value_name("FILE"),
                            "write it into this file of the plan, or a new one that the plan "
                            "includes by a pattern")(
        "also", po::value<std::vector<std::string>>()->value_name("WHAT"),
        "editions: list it behind the old one there")(
        "dry-run", "show what would be written, and change nothing");
    return {"copy",
            "PLAN LEVEL NEW",
            "a level again, with all that belongs to it",
            copy_usage,
            described,
            &run_copy,
            {"plan", "level", "new"},
            3,
            "which plan, which level, and what is the new one called?"};
}

} // namespace hestrel::command
