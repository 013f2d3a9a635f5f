#include "command/commands.hpp"

#include "figure/gnuplot.hpp"
#include "source/did_you_mean.hpp"
#include "source/disk.hpp"
#include "tables/trial_tables.hpp"

#include <boost/program_options/errors.hpp>
#include <cstdio>
#include <exception>
#include <fmt/format.h>
#include <system_error>

namespace hestrel::command {

namespace {

std::string overview() {
    std::string text = "Hestrel tells what a plan of levels does before anything is built.\n\n"
                       "usage: hestrel COMMAND …\n\n";
    for (const Command& command : commands()) {
        text += fmt::format("  {:<24}{}\n", fmt::format("{} {}", command.name, command.arguments),
                            command.answers);
    }
    return text + "\nhestrel COMMAND --help tells more. Exit codes: 0 nothing wrong; 1 bad news; 2 "
                  "wrong usage;\n"
                  "3 a file could not be read or written; 4 a fault of Hestrel's own.\n";
}

int pick(const Arguments& arguments) {
    if (arguments.empty()) throw UsageError("which command? try: hestrel --help");
    const std::string& name = arguments.front();
    if (name == "--help" || name == "-h") {
        fmt::print("{}", overview());
        return exit_code::fine;
    }
    if (name == "--version") {
        fmt::print("hestrel {}\n", HESTREL_VERSION);
        return exit_code::fine;
    }
    std::vector<std::string_view> names;
    for (const Command& command : commands()) {
        if (command.name == name)
            return command.run(Arguments(arguments.begin() + 1, arguments.end()));
        names.push_back(command.name);
    }
    throw UsageError(fmt::format("there is no command \"{}\"{}", name, source::hint(name, names)));
}

/// Says why, as far as standard error takes it: a full disk must not turn one failure into another.
int fail(int code, std::string_view message) {
    std::fflush(stdout);
    const std::string line = fmt::format("hestrel: {}\n", message);
    std::fwrite(line.data(), 1, line.size(), stderr);
    return code;
}

} // namespace

const std::vector<Command>& commands() {
    static const std::vector<Command> all{
        {"demo", "[DIR]", "runs the whole example on the shipped plan", &demo_command,
         &demo_options},
        {"new", "DIR", "a small commented plan to start from", &new_command, &new_options},
        {"check", "PLAN", "what is wrong or suspicious, without simulating", &check_command,
         &check_options},
        {"walk", "PLAN", "what happens on these routes, on these devices", &walk_command,
         &walk_options},
        {"explore", "PLAN", "what can happen, whatever the players do", &explore_command,
         &explore_options},
        {"order", "PLAN", "build order: of each edition, and why", &order_command, &order_options},
        {"advise", "PLAN", "what would mend it: where triggers must stand, what to keep",
         &advise_command, &advise_options},
        {"compare", "PLAN OTHER", "what a change of plan did", &compare_command, &compare_options},
        {"spread", "PLAN", "how often it goes wrong when disks and players vary", &spread_command,
         &spread_options},
        {"calibrate", "LOG.csv", "a device's figures from measured loads", &calibrate_command,
         &calibrate_options},
        {"report", "PLAN", "all of it on one page, for a review meeting", &report_command,
         &report_options},
        {"rename", "PLAN OLD NEW", "a name changed everywhere it is used", &rename_command,
         &rename_options},
        {"schema", "", "the JSON Schema of a plan, for editors", &schema_command, &schema_options},
    };
    return all;
}

int run(const Arguments& arguments) {
    try {
        const int code = pick(arguments);
        if (std::fflush(stdout) != 0 || std::ferror(stdout) != 0)
            return fail(exit_code::file_trouble, "standard output can't be written");
        return code;
    } catch (const UsageError& error) {
        return fail(exit_code::wrong_usage, error.what());
    } catch (const boost::program_options::error& error) {
        return fail(exit_code::wrong_usage, error.what());
    } catch (const source::FileError& error) {
        return fail(exit_code::file_trouble, error.what());
    } catch (const tables::TrialsError& error) {
        return fail(exit_code::bad_news, error.what());
    } catch (const figure::DrawingError& error) {
        return fail(exit_code::file_trouble, error.what());
    } catch (const std::system_error& error) { // of a stream that takes no more
        return fail(exit_code::file_trouble,
                    fmt::format("output can't be written: {}", error.what()));
    } catch (const std::exception& error) {
        return fail(exit_code::own_fault,
                    fmt::format("a fault of Hestrel's own: {}", error.what()));
    }
}

} // namespace hestrel::command
