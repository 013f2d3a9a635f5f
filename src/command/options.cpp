#include "command/options.hpp"

#include "command/output.hpp"

#include "source/did_you_mean.hpp"
#include "tables/findings.hpp"

#include <boost/program_options/errors.hpp>
#include <boost/program_options/parsers.hpp>
#include <boost/program_options/positional_options.hpp>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/ranges.h>
#include <hestrel/version.hpp>
#include <sched.h>
#include <set>
#include <sstream>
#include <thread>

namespace hestrel::command {

namespace po = boost::program_options;

namespace {

constexpr unsigned terminal_width = 100;
constexpr unsigned description_width = 60;

bool offers(const po::options_description& options, const std::string& name) {
    return options.find_nothrow(name, false) != nullptr;
}

/// Why an option is not taken: which commands take it, where any does.
std::string refusal(const std::string& given) {
    const std::string name = given.substr(std::min(given.find_first_not_of('-'), given.size()));
    std::vector<std::string> takers;
    std::set<std::string> known;
    for (const Command& command : commands()) {
        if (offers(command.options, name)) takers.emplace_back(command.name);
        for (const auto& option : command.options.options()) known.insert(option->long_name());
    }
    if (!takers.empty())
        return fmt::format("this command takes no --{}; {} {}", name, fmt::join(takers, ", "),
                           takers.size() == 1 ? "does" : "do");
    return fmt::format(
        "there is no option \"{}\"{}", given,
        source::hint(name, std::vector<std::string_view>(known.begin(), known.end())));
}

} // namespace

po::options_description options_for(const std::string& command,
                                    std::initializer_list<Group> groups) {
    const auto takes = [&](Group group) {
        return std::find(groups.begin(), groups.end(), group) != groups.end();
    };
    const auto names = [] { return po::value<std::vector<std::string>>(); };
    po::options_description options("options", terminal_width, description_width);
    auto add = options.add_options();
    add("help,h", "print this");
    const bool walks = takes(Group::devices) || takes(Group::walks);
    if (walks)
        add("device", names()->multitoken()->value_name("NAME...|all"), "on these devices (all)");
    if (takes(Group::routes))
        add("route", names()->multitoken()->value_name("NAME...|all"), "on these routes (all)");
    if (takes(Group::values))
        add("set", names()->value_name("PATH=VALUE"),
            "try a value without editing the plan, as devices.handheld.read.rate=60 (repeatable)");
    if (takes(Group::devices)) add("no-figures", "write tables only");
    if (walks)
        add("jobs", po::value<unsigned>()->value_name("N"), "work on so many at once (all cores)");
    add("quiet", "print nothing but errors");
    const bool folder = takes(Group::folder) || takes(Group::files);
    if (folder)
        add("out",
            po::value<std::string>()->default_value("hestrel-out/" + command)->value_name("DIR"),
            "write files there");
    if (takes(Group::files))
        add("format", po::value<std::string>()->default_value("text")->value_name("text|json|csv"),
            "of what goes to standard output");
    if (folder) add_force(options);
    if (takes(Group::pictures)) add("png", "write figures as PNG too");
    if (takes(Group::editions))
        add("edition", names()->multitoken()->value_name("NAME...|all"), "of these editions (all)");
    if (takes(Group::findings))
        add("findings", po::value<std::string>()->default_value("")->value_name("sarif|junit|json"),
            "print findings for a machine");
    return options;
}

void add_force(po::options_description& options) {
    options.add_options()("force",
                          "let results take the place of files that Hestrel did not write");
}

namespace {

/// Those that this process may use.
unsigned processors() {
    cpu_set_t allowed;
    CPU_ZERO(&allowed);
    if (::sched_getaffinity(0, sizeof(allowed), &allowed) == 0)
        return static_cast<unsigned>(CPU_COUNT(&allowed));
    return std::max(1U, std::thread::hardware_concurrency());
}

} // namespace

Call::Call(const Command& command, const Arguments& arguments, std::shared_ptr<plan::Team> team)
    : team_(std::move(team)) {
    po::options_description all;
    all.add(command.options);
    if (!offers(all, "no-figures")) all.add_options()("no-figures", "");
    if (!offers(all, "jobs")) all.add_options()("jobs", po::value<unsigned>());
    po::positional_options_description positions;
    for (const std::string& positional : command.positionals) {
        const bool several = command.several && positional == command.positionals.back();
        if (several)
            all.add_options()(positional.c_str(), po::value<std::vector<std::string>>());
        else
            all.add_options()(positional.c_str(), po::value<std::string>());
        positions.add(positional.c_str(), several ? -1 : 1);
    }
    const int style =
        po::command_line_style::default_style & ~po::command_line_style::allow_guessing;
    try {
        po::store(po::command_line_parser(arguments)
                      .options(all)
                      .positional(positions)
                      .style(style)
                      .run(),
                  values_);
    } catch (const po::unknown_option& error) {
        throw UsageError(refusal(error.get_option_name()));
    }
    if (has("help")) return;
    po::notify(values_);
    if (command.needed > 0 && !has(command.positionals[command.needed - 1].c_str()))
        throw UsageError(
            fmt::format("{0}: {1} try: hestrel {0} --help", command.name, command.asks));
    const bool names_plan =
        !command.positionals.empty() && (!command.several || command.positionals.size() > 1);
    if (names_plan) common_.plan_path = text(command.positionals.front().c_str());
    common_.out = text("out");
    if (has("format") && command.name != "compare") common_.format = output_format(text("format"));
    common_.figures = !has("no-figures");
    common_.png = has("png");
    common_.quiet = has("quiet");
    common_.force = has("force");
    common_.devices = names("device");
    common_.routes = names("route");
    common_.sets = names("set");
    // Of a team each has a core of its own.
    const unsigned jobs = team_ ? 1U : processors();
    common_.jobs = has("jobs") ? values_["jobs"].as<unsigned>() : jobs;
    constexpr unsigned most_jobs = 1024;
    if (common_.jobs == 0 || common_.jobs > most_jobs)
        throw UsageError(fmt::format("--jobs takes a number from 1 to {}", most_jobs));
}

bool tells(const Call& call) {
    if (call.team()) call.team()->end();
    return plan::rank_of(call.team().get()) == 0;
}

int run(const Command& command, const Arguments& arguments,
        const std::shared_ptr<plan::Team>& team) {
    const Call call(command, arguments, team);
    if (!call.has("help")) return command.run(call);
    std::ostringstream options;
    options << command.options;
    Output::print(fmt::format("{}\n\n{}", command.usage, options.str()));
    return exit_code::fine;
}

OutputFormat output_format(const std::string& text) {
    if (text == "text") return OutputFormat::text;
    if (text == "json") return OutputFormat::json;
    if (text == "csv") return OutputFormat::csv;
    throw UsageError(fmt::format("--format takes text, json or csv, not \"{}\"", text));
}

std::string findings_for_machines(const std::string& form, const plan::Plan& plan,
                                  const std::vector<plan::Finding>& findings, plan::FoundBy by) {
    if (form == "sarif") return tables::findings_sarif(plan, findings, by, HESTREL_VERSION);
    if (form == "junit") return tables::findings_junit(plan, findings, by);
    if (form == "json") return tables::findings_json(plan, findings);
    throw UsageError(fmt::format("--findings takes sarif, junit or json, not \"{}\"", form));
}

} // namespace hestrel::command
