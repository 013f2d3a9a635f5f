#pragma once
// The commands, one file each.

#include "plan/team.hpp"

#include <array>
#include <boost/program_options/options_description.hpp>
#include <memory>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::command {

/// Exit codes, the same for every command.
namespace exit_code {
constexpr int fine = 0;
constexpr int problems_found = 1; ///< errors in the plan, a limit broken, a walk stuck
constexpr int wrong_usage = 2;    ///< unknown command or option, missing argument
constexpr int file_trouble = 3;
constexpr int own_fault = 4;
constexpr int no_memory = 5; ///< the machine, or a limit set on the process, gives no more
} // namespace exit_code

/// What each of them means, for help and manual pages.
struct ExitCode {
    int code;
    std::string_view meaning;
};
inline constexpr std::array exit_codes{
    ExitCode{exit_code::fine, "nothing is wrong"},
    ExitCode{exit_code::problems_found, "problems were found"},
    ExitCode{exit_code::wrong_usage, "the command line is wrong"},
    ExitCode{exit_code::file_trouble, "a file could not be read or written"},
    ExitCode{exit_code::own_fault, "a fault of Hestrel's own"},
    ExitCode{exit_code::no_memory, "there was not enough memory"}};

/// The command line makes no sense; `what()` says why.
class UsageError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

using Arguments = std::vector<std::string>;

class Call;

/// A command: what the overview and --help say of it, what it takes, what it does.
struct Command {
    std::string_view name;
    std::string_view arguments; ///< for the overview
    std::string_view answers;   ///< the question it answers
    std::string_view usage;     ///< what --help says above the options
    boost::program_options::options_description options;
    int (*run)(const Call&); ///< returns an exit code
    std::vector<std::string> positionals{"plan"};
    std::size_t needed = 1;                ///< of these, so many must be there
    std::string_view asks = "which plan?"; ///< what to ask where they are not
    bool together = false;                 ///< several processes can share the work
    bool several = false;                  ///< the last of these can be several
};

Command demo_command();
Command new_command();
Command check_command();
Command walk_command();
Command play_command();
Command show_command();
Command explore_command();
Command order_command();
Command advise_command();
Command compare_command();
Command spread_command();
Command calibrate_command();
Command report_command();
Command rename_command();
Command copy_command();
Command verify_command();
Command import_command();
Command export_command();
Command schema_command();
Command language_server_command();
Command help_command();

/// All commands, in the order of the overview.
const std::vector<Command>& commands();

/// To be called once, before any thread is started: what signals do to the process.
void prepare_process();
/// Picks the command and runs it; throws on wrong usage, and what the command throws.
int pick(const Arguments& arguments, const std::shared_ptr<plan::Team>& team = nullptr);
/// The same, with every error turned into one message and an exit code.
int run(const Arguments& arguments, const std::shared_ptr<plan::Team>& team = nullptr);

} // namespace hestrel::command
