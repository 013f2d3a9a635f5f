#include "command/options.hpp"

#include "plan/names.hpp"
#include "source/did_you_mean.hpp"
#include "source/plan_reader.hpp"
#include "tables/findings.hpp"

#include <algorithm>
#include <boost/program_options/parsers.hpp>
#include <boost/program_options/positional_options.hpp>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>
#include <sstream>
#include <stdexcept>
#include <thread>

namespace hestrel::command {

namespace po = boost::program_options;

namespace {

constexpr unsigned terminal_width = 100;
constexpr unsigned description_width = 60;

} // namespace

po::options_description selecting_options() {
    po::options_description options("options", terminal_width, description_width);
    options.add_options()("help,h", "print this")(
        "device", po::value<std::vector<std::string>>()->multitoken()->value_name("NAME...|all"),
        "on these devices (all)")(
        "route", po::value<std::vector<std::string>>()->multitoken()->value_name("NAME...|all"),
        "on these routes (all)")(
        "set", po::value<std::vector<std::string>>()->value_name("PATH=VALUE"),
        "try a value without editing the plan, as devices.handheld.read.rate=60 (repeatable)")(
        "no-figures", "write tables only")("jobs", po::value<unsigned>()->value_name("N"),
                                           "work on so many at once (all cores)")(
        "quiet", "print nothing but errors");
    return options;
}

po::options_description common_options(const std::string& command) {
    po::options_description options = selecting_options();
    options.add_options()(
        "out", po::value<std::string>()->default_value("hestrel-out/" + command)->value_name("DIR"),
        "write files there")(
        "format", po::value<std::string>()->default_value("text")->value_name("text|json|csv"),
        "of what goes to standard output")("png", "write figures as PNG too");
    return options;
}

std::optional<po::variables_map> parse(const Arguments& arguments,
                                       const po::options_description& options,
                                       const std::vector<std::string>& positionals,
                                       const std::string& usage) {
    po::options_description all;
    all.add(options);
    po::positional_options_description positions;
    for (const std::string& positional : positionals) {
        all.add_options()(positional.c_str(), po::value<std::string>());
        positions.add(positional.c_str(), 1);
    }
    po::variables_map values;
    const int style =
        po::command_line_style::default_style & ~po::command_line_style::allow_guessing;
    po::store(
        po::command_line_parser(arguments).options(all).positional(positions).style(style).run(),
        values);
    if (values.count("help") > 0) {
        std::ostringstream text;
        text << options;
        fmt::print("{}\n\n{}", usage, text.str());
        return std::nullopt;
    }
    po::notify(values);
    return values;
}

std::vector<std::string> names_given(const po::variables_map& values, const std::string& option) {
    return values.count(option) > 0 ? values[option].as<std::vector<std::string>>()
                                    : std::vector<std::string>();
}

OutputFormat output_format(const std::string& text) {
    if (text == "text") return OutputFormat::text;
    if (text == "json") return OutputFormat::json;
    if (text == "csv") return OutputFormat::csv;
    throw UsageError(fmt::format("--format takes text, json or csv, not \"{}\"", text));
}

CommonOptions common_from(const po::variables_map& values, const std::string& command,
                          bool own_format) {
    CommonOptions options;
    if (values.count("plan") == 0) {
        throw UsageError(fmt::format("{}: which plan? try: hestrel {} --help", command, command));
    }
    options.plan_path = values["plan"].as<std::string>();
    options.out = values["out"].as<std::string>();
    if (values.count("format") > 0 && !own_format)
        options.format = output_format(values["format"].as<std::string>());
    options.figures = values.count("no-figures") == 0;
    options.png = values.count("png") > 0;
    options.quiet = values.count("quiet") > 0;
    options.devices = names_given(values, "device");
    options.routes = names_given(values, "route");
    options.sets = names_given(values, "set");
    options.jobs = std::max(1U, std::thread::hardware_concurrency());
    if (values.count("jobs") > 0) options.jobs = values["jobs"].as<unsigned>();
    constexpr unsigned most_jobs = 1024;
    if (options.jobs == 0 || options.jobs > most_jobs)
        throw UsageError(fmt::format("--jobs takes a number from 1 to {}", most_jobs));
    return options;
}

std::vector<plan::DeviceId> chosen_devices(const plan::Plan& plan,
                                           const std::vector<std::string>& names) {
    return chosen(plan.devices, names, "device");
}

std::vector<plan::RouteId> chosen_routes(const plan::Plan& plan,
                                         const std::vector<std::string>& names) {
    return chosen(plan.routes, names, "route");
}

std::string findings_for_machines(const std::string& form, const plan::Plan& plan,
                                  const std::vector<plan::Finding>& findings, plan::FoundBy by) {
    if (form == "sarif") return tables::findings_sarif(plan, findings, by, HESTREL_VERSION);
    if (form == "junit") return tables::findings_junit(plan, findings, by);
    if (form == "json") return tables::findings_json(plan, findings);
    throw UsageError(fmt::format("--findings takes sarif, junit or json, not \"{}\"", form));
}

source::ReadOptions read_options(const std::vector<std::string>& sets) {
    source::ReadOptions options;
    for (const std::string& set : sets) {
        try {
            options.overrides.push_back(source::parse_override(set));
        } catch (const std::invalid_argument& error) {
            throw UsageError(error.what());
        }
    }
    return options;
}

std::optional<plan::Plan> load_plan(const std::string& path, const std::vector<std::string>& sets) {
    source::RealDisk disk;
    source::PlanReading reading = source::read_plan(disk, path, read_options(sets));
    for (const plan::Finding& finding : reading.findings) {
        fmt::print(stderr, "{}\n", plan::finding_text(reading.plan, finding));
    }
    if (reading.has_errors()) return std::nullopt;
    return std::move(reading.plan);
}

} // namespace hestrel::command
