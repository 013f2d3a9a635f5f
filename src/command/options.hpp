#pragma once
// Options that mean the same in every command.

#include "command/commands.hpp"
#include "plan/finding.hpp"
#include "plan/finding_kinds.hpp"
#include "plan/names.hpp"
#include "plan/plan.hpp"
#include "source/did_you_mean.hpp"

#include <boost/program_options/options_description.hpp>
#include <boost/program_options/variables_map.hpp>
#include <fmt/format.h>
#include <string>
#include <vector>

namespace hestrel::command {

enum class OutputFormat : std::uint8_t { text, json, csv };

/// What the common options say.
struct CommonOptions {
    std::string plan_path; ///< of a plan, or of another first argument
    std::string out;
    OutputFormat format = OutputFormat::text;
    bool figures = true;
    bool png = false;
    bool quiet = false;
    bool force = false;               ///< results may replace files that Hestrel did not write
    std::vector<std::string> devices; ///< names, or "all"; empty: all
    std::vector<std::string> routes;
    std::vector<std::string> sets; ///< `--set path=value`, in order
    unsigned jobs = 1;
};

/// Groups of options. A command names those that do something in it, and refuses the others with a
/// sentence that says which commands take them.
enum class Group : std::uint8_t {
    devices,  ///< --device, and --no-figures
    walks,    ///< --device, where nothing is drawn
    routes,   ///< --route
    editions, ///< --edition
    values,   ///< --set
    folder,   ///< --out DIR, --force
    files,    ///< the same, and --format
    pictures, ///< --png
    findings, ///< --findings
};

/// The options of those groups, and what every command takes: --help, --quiet, --jobs and
/// --no-figures (in the help only of commands that take devices).
boost::program_options::options_description options_for(const std::string& command,
                                                        std::initializer_list<Group> groups);

/// `--force`, for a command with single files alone.
void add_force(boost::program_options::options_description& options);

/// What stands on the command line behind a command's name: its options, and those that every
/// command takes.
class Call {
public:
    /// Throws on wrong usage.
    Call(const Command& command, const Arguments& arguments, std::shared_ptr<plan::Team> team);

    /// Whether it was given, or has a value by itself.
    [[nodiscard]] bool has(const char* option) const { return values_.count(option) > 0; }
    /// Empty where it was not given.
    [[nodiscard]] std::string text(const char* option) const {
        return has(option) ? values_[option].as<std::string>() : std::string();
    }
    [[nodiscard]] std::size_t number(const char* option) const {
        return values_[option].as<std::size_t>();
    }
    [[nodiscard]] std::vector<std::string> names(const char* option) const {
        return has(option) ? values_[option].as<std::vector<std::string>>()
                           : std::vector<std::string>();
    }
    [[nodiscard]] const CommonOptions& common() const { return common_; }
    /// The processes that run this together; null: this one is alone.
    [[nodiscard]] const std::shared_ptr<plan::Team>& team() const { return team_; }

private:
    boost::program_options::variables_map values_;
    CommonOptions common_;
    std::shared_ptr<plan::Team> team_;
};

/// Runs a command, or prints its help where that is asked for; the exit code. Throws on wrong
/// usage.
int run(const Command& command, const Arguments& arguments,
        const std::shared_ptr<plan::Team>& team);

/// Ends what a team does together; whether this process tells of it.
bool tells(const Call& call);

/// What `--format` says; throws UsageError for what it is not.
OutputFormat output_format(const std::string& text);

/// The things of a table whose names were given; throws UsageError for a name that it lacks.
template <class Id, class T>
std::vector<Id> chosen(const plan::Table<Id, T>& table, const std::vector<std::string>& names,
                       std::string_view kind) {
    const std::string unknown = source::unknown_in(table, names, kind);
    if (!unknown.empty()) throw UsageError(unknown);
    return plan::named_in(table, names);
}

/// Findings as `--findings` names the form: sarif, junit or json; throws UsageError for any other.
std::string findings_for_machines(const std::string& form, const plan::Plan& plan,
                                  const std::vector<plan::Finding>& findings, plan::FoundBy by);

} // namespace hestrel::command
