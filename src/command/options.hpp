#pragma once
// Options that mean the same in every command.

#include "command/commands.hpp"
#include "plan/finding.hpp"
#include "plan/finding_kinds.hpp"
#include "plan/lists.hpp"
#include "plan/plan.hpp"
#include "source/did_you_mean.hpp"
#include "source/disk.hpp"
#include "source/plan_disk.hpp"
#include "source/plan_reader.hpp"

#include <boost/program_options/options_description.hpp>
#include <boost/program_options/variables_map.hpp>
#include <fmt/format.h>
#include <optional>
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
    std::vector<std::string> devices; ///< names, or "all"; empty: all
    std::vector<std::string> routes;
    std::vector<std::string> sets; ///< `--set path=value`, in order
    unsigned jobs = 1;
};

/// Groups of options. A command names those that do something in it, and refuses the others with a
/// sentence that says which commands take them.
enum class Group : std::uint8_t {
    devices,  ///< --device
    routes,   ///< --route
    editions, ///< --edition
    values,   ///< --set
    files,    ///< --out DIR, --format
    pictures, ///< --png
    findings, ///< --findings
};

/// The options of those groups, and what every command takes: --help, --quiet, --jobs and
/// --no-figures (in the help only of commands that take devices).
boost::program_options::options_description options_for(const std::string& command,
                                                        std::initializer_list<Group> groups);

/// What stands on the command line behind a command's name: its options, and those that every
/// command takes.
class Call {
public:
    /// Throws on wrong usage.
    Call(const Command& command, const Arguments& arguments);

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

private:
    boost::program_options::variables_map values_;
    CommonOptions common_;
};

/// Runs a command, or prints its help where that is asked for; the exit code. Throws on wrong
/// usage.
int run(const Command& command, const Arguments& arguments);

/// What `--format` says; throws UsageError for what it is not.
OutputFormat output_format(const std::string& text);

/// The things of a table whose names were given, in the plan's order; all where none or "all" was.
template <class Id, class T>
std::vector<Id> named_in(const plan::Table<Id, T>& table, const std::vector<std::string>& names) {
    const bool all = names.empty() || plan::contains(names, std::string("all"));
    std::vector<Id> ids;
    for (const Id id : table.ids()) {
        if (all || plan::contains(names, table[id].name)) ids.push_back(id);
    }
    return ids;
}

/// The same; throws UsageError for a name that the table lacks.
template <class Id, class T>
std::vector<Id> chosen(const plan::Table<Id, T>& table, const std::vector<std::string>& names,
                       std::string_view kind) {
    std::vector<std::string_view> known;
    for (const T& each : table) known.push_back(each.name);
    for (const std::string& name : names) {
        if (name == "all" || plan::contains(known, std::string_view(name))) continue;
        throw UsageError(fmt::format("no {} of this plan is called \"{}\"{}", kind, name,
                                     source::hint(name, known)));
    }
    return named_in(table, names);
}

/// Findings as `--findings` names the form: sarif, junit or json; throws UsageError for any other.
std::string findings_for_machines(const std::string& form, const plan::Plan& plan,
                                  const std::vector<plan::Finding>& findings, plan::FoundBy by);

/// Reading with `--set` values; throws UsageError for one that is none.
source::ReadOptions read_options(const std::vector<std::string>& sets);

/// The disk that a plan is read from and changed on; says what was found to be cut off there.
class PlanOnDisk {
public:
    explicit PlanOnDisk(const std::string& plan);
    [[nodiscard]] source::PlanDisk& disk() { return disk_; }

private:
    source::RealDisk real_;
    source::PlanDisk disk_;
};

/// Reads a plan, tries values (`--set`) and prints its findings to standard error. Nothing where it
/// has errors. Throws UsageError for a `--set` that is none.
std::optional<plan::Plan> load_plan(const std::string& path,
                                    const std::vector<std::string>& sets = {});

} // namespace hestrel::command
