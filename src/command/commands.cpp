#include "command/options.hpp"
#include "command/output.hpp"

#include "figure/gnuplot.hpp"
#include "source/built_with.hpp"
#include "source/did_you_mean.hpp"
#include "source/disk.hpp"
#include "source/leftovers.hpp"
#include "tables/trial_tables.hpp"

#include <boost/program_options/errors.hpp>
#include <csignal>
#include <cstdio>
#include <exception>
#include <fmt/format.h>
#include <hestrel/version.hpp>
#include <new>
#include <system_error>

namespace hestrel::command {

namespace {

std::string overview() {
    std::string text = "Hestrel tells what a plan of levels does before anything is built.\n\n"
                       "usage: hestrel COMMAND …\n\n";
    for (const Command& command : commands()) {
        text += fmt::format("  {:<28}{}\n", fmt::format("{} {}", command.name, command.arguments),
                            command.answers);
    }
    text += "\nTo read more about one of them: hestrel COMMAND --help\nTo read the guide: hestrel "
            "help\n\nexit codes:\n";
    for (const ExitCode& each : exit_codes)
        text += fmt::format("  {}  {}\n", each.code, each.meaning);
    return text;
}

int fail(int code, std::string_view message) {
    say(fmt::format("hestrel: {}", message));
    return code;
}

} // namespace

const std::vector<Command>& commands() {
    static const std::vector<Command> all{
        demo_command(),      new_command(),     check_command(),   walk_command(),
        play_command(),      show_command(),    explore_command(), order_command(),
        advise_command(),    compare_command(), spread_command(),  verify_command(),
        calibrate_command(), report_command(),  rename_command(),  copy_command(),
        import_command(),    export_command(),  schema_command(),  language_server_command(),
        help_command()};
    return all;
}

void prepare_process() {
    // A file that grows too large and a pipe that nobody reads are errors of the write, with a
    // message or without.
    std::signal(SIGXFSZ, SIG_IGN);
    std::signal(SIGPIPE, SIG_IGN);
    source::remove_leftovers_at_signals();
}

int pick(const Arguments& arguments, const std::shared_ptr<plan::Team>& team) {
    if (arguments.empty()) throw UsageError("which command? try: hestrel --help");
    const std::string& name = arguments.front();
    if (name == "--help" || name == "-h") {
        Output::print(overview());
        return exit_code::fine;
    }
    if (name == "--version") {
        Output::print(
            fmt::format("hestrel " HESTREL_VERSION "\nbuilt with {}\n", source::built_with()));
        return exit_code::fine;
    }
    std::vector<std::string_view> names;
    for (const Command& command : commands()) {
        if (command.name == name) {
            if (team && !command.together)
                throw UsageError(fmt::format("{} is done by one process: hestrel {}", name, name));
            return run(command, Arguments(arguments.begin() + 1, arguments.end()), team);
        }
        names.push_back(command.name);
    }
    throw UsageError(fmt::format("there is no command \"{}\"{}", name, source::hint(name, names)));
}

namespace {

/// The same as `run`, but for want of memory.
int run_with_memory(const Arguments& arguments, const std::shared_ptr<plan::Team>& team) {
    try {
        const int code = pick(arguments, team);
        if (!results_are_out())
            return fail(exit_code::file_trouble, "standard output can't be written");
        return code;
    } catch (const UsageError& error) {
        return fail(exit_code::wrong_usage, error.what());
    } catch (const boost::program_options::error& error) {
        return fail(exit_code::wrong_usage, error.what());
    } catch (const source::FileError& error) {
        return fail(exit_code::file_trouble, error.what());
    } catch (const tables::TrialsError& error) {
        return fail(exit_code::problems_found, error.what());
    } catch (const figure::DrawingError& error) {
        return fail(exit_code::file_trouble, error.what());
    } catch (const std::system_error& error) { // of a stream that takes no more
        return fail(exit_code::file_trouble,
                    fmt::format("output can't be written: {}", error.what()));
    } catch (const std::bad_alloc&) {
        throw;
    } catch (const plan::TeamBroken&) { // who could not begin says why
        return exit_code::problems_found;
    } catch (const std::exception& error) {
        return fail(exit_code::own_fault,
                    fmt::format("a fault of Hestrel's own: {}", error.what()));
    }
}

} // namespace

int run(const Arguments& arguments, const std::shared_ptr<plan::Team>& team) {
    try {
        return run_with_memory(arguments, team);
    } catch (const std::bad_alloc&) { // so what is said must need none
        std::fputs("hestrel: there is not enough memory\n", stderr);
        return exit_code::no_memory;
    }
}

} // namespace hestrel::command
