// hestrel check PLAN: what is wrong or suspicious, without simulating.

#include "check/check.hpp"

#include "command/output.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "plan/names.hpp"
#include "source/did_you_mean.hpp"
#include "source/disk.hpp"
#include "source/plan_reader.hpp"
#include "tables/finding_texts.hpp"
#include "tables/findings.hpp"

#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>
#include <map>

namespace hestrel::command {

namespace po = boost::program_options;

namespace {

int list_kinds() {
    TextTable table({{"name"}, {"severity"}, {"what it finds"}});
    for (const plan::FindingKind& kind : plan::finding_kinds()) {
        table.row({std::string(kind.name), std::string(plan::severity_name(kind.severity)),
                   tables::text_of(kind).sentence});
    }
    Output::print(table.text());
    return exit_code::fine;
}

int explain(const std::string& name) {
    if (const plan::FindingKind* kind = plan::find_kind(name)) {
        Output::print(tables::explained(*kind));
        return exit_code::fine;
    }
    std::vector<std::string_view> known;
    for (const plan::FindingKind& kind : plan::finding_kinds()) known.push_back(kind.name);
    throw UsageError(fmt::format("no rule is called \"{}\"{}", name, source::hint(name, known)));
}

/// As a compiler prints it; on a terminal with the source line and a caret.
std::string findings_text(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                          source::Disk& disk) {
    const bool terminal = on_terminal(stdout);
    std::map<std::uint32_t, std::string> texts;
    std::string text;
    for (const plan::Finding& finding : findings) {
        text += plan::finding_text(plan, finding) + "\n";
        if (!terminal) continue;
        auto [found, fresh] = texts.try_emplace(finding.place.file);
        const std::string& file = plan.files[finding.place.file];
        if (file.starts_with("--set ")) continue; // it stands in no file
        if (fresh) found->second = disk.read(file);
        text += tables::source_excerpt(found->second, finding.place);
    }
    return text + tables::count_text(findings) + "\n";
}

int run_check(const Call& call) {
    if (call.has("list")) return list_kinds();
    if (call.has("explain")) return explain(call.text("explain"));
    if (!call.has("plan")) throw UsageError("check: which plan? try: hestrel check --help");
    const std::string machine = call.has("findings") ? call.text("findings") : "";
    if (call.has("out") && machine.empty()) throw UsageError("--out goes with --findings");

    Output output(call.common());
    PlanOnDisk on_disk(call.text("plan"));
    source::NotingDisk disk(on_disk.disk(), output.inputs());
    const auto sets = call.names("set");
    const source::PlanReading reading =
        source::read_plan(disk, call.text("plan"), read_options(sets));
    const std::vector<plan::Finding> findings = check::check(reading.plan, reading.findings);
    const bool quiet = call.has("quiet");
    const std::string for_machine =
        machine.empty() ? ""
                        : findings_for_machines(machine, reading.plan, findings,
                                                plan::FoundBy::reader | plan::FoundBy::check);
    if (call.has("out")) output.write_alone(call.text("out"), for_machine);
    if (!for_machine.empty() && !call.has("out")) {
        Output::put(for_machine);
    } else if (!quiet) {
        Output::print(findings_text(reading.plan, findings, disk));
        if (!reading.findings.empty())
            Output::print("Rules about what the plan lacks wait until it can be read whole.\n");
    }
    return plan::any_error(findings) ? exit_code::problems_found : exit_code::fine;
}

constexpr std::string_view check_usage = R"(usage: hestrel check PLAN [options]

Finds what is wrong or suspicious in a plan, without simulating.
Exits with 1 where there are errors.
Where a finding is meant, say so on the thing itself: allow: {NAME: "why"}.)";

} // namespace

Command check_command() {
    namespace po = boost::program_options;
    auto described = options_for("check", {Group::values});
    described.add_options()("findings", po::value<std::string>()->value_name("sarif|junit|json"),
                            "print findings for a machine")(
        "out", po::value<std::string>()->value_name("FILE"),
        "write those to a file, not to standard output")(
        "list", "list all kinds of findings, a walk's too, and check nothing")(
        "explain", po::value<std::string>()->value_name("NAME"),
        "explain one of them, and check nothing");
    add_force(described);
    return {"check",     "PLAN",    "what is wrong or suspicious, without simulating",
            check_usage, described, &run_check,
            {"plan"},    0,         ""};
}

} // namespace hestrel::command
