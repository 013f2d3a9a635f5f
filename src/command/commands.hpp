#pragma once
// The commands, one file each. A command takes what stands after its name and returns an exit code.

#include <boost/program_options/options_description.hpp>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::command {

/// Exit codes, the same for every command.
namespace exit_code {
constexpr int fine = 0;
constexpr int bad_news = 1;     ///< errors in the plan, a limit broken, a walk stuck
constexpr int wrong_usage = 2;  ///< unknown command or option, missing argument
constexpr int file_trouble = 3; ///< a file could not be read or written
constexpr int own_fault = 4;    ///< a fault of Hestrel's own
} // namespace exit_code

/// The command line makes no sense; `what()` says why.
class UsageError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

using Arguments = std::vector<std::string>;

int demo_command(const Arguments& arguments);
int new_command(const Arguments& arguments);
int check_command(const Arguments& arguments);
int walk_command(const Arguments& arguments);
int explore_command(const Arguments& arguments);
int order_command(const Arguments& arguments);
int advise_command(const Arguments& arguments);
int compare_command(const Arguments& arguments);
int spread_command(const Arguments& arguments);
int calibrate_command(const Arguments& arguments);
int report_command(const Arguments& arguments);
int rename_command(const Arguments& arguments);
int schema_command(const Arguments& arguments);

/// The options that each takes, described.
boost::program_options::options_description demo_options();
boost::program_options::options_description new_options();
boost::program_options::options_description check_options();
boost::program_options::options_description walk_options();
boost::program_options::options_description explore_options();
boost::program_options::options_description order_options();
boost::program_options::options_description advise_options();
boost::program_options::options_description compare_options();
boost::program_options::options_description spread_options();
boost::program_options::options_description calibrate_options();
boost::program_options::options_description report_options();
boost::program_options::options_description rename_options();
boost::program_options::options_description schema_options();

struct Command {
    std::string_view name;
    std::string_view arguments; ///< for the overview
    std::string_view answers;   ///< the question it answers
    int (*run)(const Arguments&);
    boost::program_options::options_description (*options)();
};

/// All commands, in the order of the overview.
const std::vector<Command>& commands();

/// Picks the command and runs it; turns every error into one message and an exit code.
int run(const Arguments& arguments);

} // namespace hestrel::command
