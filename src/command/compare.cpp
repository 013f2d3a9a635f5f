// hestrel compare A B: what a change of plan did.

#include "check/check.hpp"
#include "command/output.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "command/walk.hpp"
#include "compare/difference.hpp"
#include "explore/explored.hpp"
#include "plan/jobs.hpp"
#include "source/disk.hpp"
#include "source/quantities.hpp"
#include "tables/compare_tables.hpp"
#include "tables/metrics_file.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

using compare::Change;
using compare::Tolerance;
using tables::Compared;
using tables::KeptMetrics;

constexpr std::size_t most_shown = 12;
constexpr std::size_t most_in_markdown = 30;

/// What is done to each plan.
struct Measuring {
    std::vector<std::string> devices;
    std::vector<std::string> routes;
    std::size_t most_situations = 0; ///< 0: nothing is explored
    unsigned jobs = 1;
};

/// A walk is called by a route or device of that name; by a device also in a session.
bool is_of(const std::string& called, const std::string& name) {
    return called == name || called.find("(" + name + ")") != std::string::npos;
}

/// Throws UsageError where neither side has walked on a route or device that was named.
void require_known(const Measuring& measuring, const std::vector<const KeptMetrics*>& sides) {
    const auto require = [&](const std::vector<std::string>& names, std::string_view kind,
                             std::string compare::Where::*part) {
        for (const std::string& name : names) {
            const auto has_it = [&](const KeptMetrics* side) {
                const auto& walks = side->figures.verdicts;
                return std::any_of(walks.begin(), walks.end(),
                                   [&](const auto& walk) { return is_of(walk.first.*part, name); });
            };
            if (name == "all" || std::any_of(sides.begin(), sides.end(), has_it)) continue;
            throw UsageError(fmt::format("no {} of these plans is called \"{}\"", kind, name));
        }
    };
    require(measuring.devices, "device", &compare::Where::device);
    require(measuring.routes, "route", &compare::Where::route);
}

compare::Metrics figures_of(const plan::Plan& plan, const Measuring& measuring) {
    const auto devices = plan::named_in(plan.devices, measuring.devices);
    const auto routes = plan::named_in(plan.routes, measuring.routes);
    Progress progress;
    compare::Metrics figures = compare::metrics_of(
        plan, check::check(plan), walk_all(plan, routes, devices, {}, measuring.jobs, progress));
    if (measuring.most_situations == 0) return figures;
    const auto editions = explore::explorable_editions(plan);
    std::vector<explore::Explored> explored(editions.size());
    plan::in_parallel(editions.size(), measuring.jobs, [&](std::size_t i) {
        explore::Options exploring;
        exploring.edition = editions[i];
        exploring.devices = devices;
        exploring.most_situations = measuring.most_situations;
        exploring.jobs = measuring.jobs;
        explored[i] = explore::explored(plan, std::move(exploring));
    });
    for (const explore::Explored& each : explored) add_explored(figures, plan, each);
    return figures;
}

/// A plan's figures and what it says; nothing where it has errors, which have been printed.
std::optional<KeptMetrics> measured(const std::string& path, const std::vector<std::string>& sets,
                                    const Measuring& measuring, Output& output) {
    const auto plan = load_plan(path, sets, output.inputs());
    if (!plan) return std::nullopt;
    source::PlanDisk as_read(output.disk(), path);
    return KeptMetrics{figures_of(*plan, measuring),
                       source::plan_content(as_read, path, read_options(sets).overrides)};
}

KeptMetrics kept_in(const std::string& path) {
    source::RealDisk disk; // the new figures may take the place of those: --keep
    try {
        return tables::parse_metrics(disk.read(path));
    } catch (const tables::FiguresError& error) {
        throw source::FileError(fmt::format("{}: {}", path, error.what()));
    }
}

void add_tolerance(Tolerance& tolerance, const std::string& text) {
    if (text.ends_with("%")) {
        const auto share = source::parse_share(text);
        if (const auto* value = std::get_if<double>(&share)) {
            tolerance.share = *value;
            return;
        }
    } else if (const auto time = source::parse_time(text);
               text.ends_with("s") && std::holds_alternative<plan::Micros>(time)) {
        tolerance.time = std::get<plan::Micros>(time).count;
        return;
    } else if (const auto memory = source::parse_memory(text);
               text.ends_with("B") && std::holds_alternative<plan::Bytes>(memory)) {
        tolerance.memory = std::get<plan::Bytes>(memory).count;
        return;
    }
    throw UsageError(fmt::format(
        "--tolerance takes a share, a time or a size, such as 5%, \"20 ms\" or \"8 MiB\", not "
        "\"{}\"",
        text));
}

std::string more_text(std::size_t all) {
    return all > most_shown ? fmt::format("  and {} more\n", all - most_shown) : std::string();
}

std::string figures_text(const compare::Differences& differences, Change change,
                         const std::string& title) {
    auto changes = tables::change_words(differences, change);
    if (changes.empty()) return "";
    for (tables::ChangeWords& each : changes) {
        // Mostly it is a trigger, and the table is to fit a terminal.
        constexpr std::string_view mostly = "trigger ";
        if (each.of.starts_with(mostly)) each.of.erase(0, mostly.size());
        each.measure.insert(0, "  ");
    }
    const TextTable table = TextTable::of(tables::change_columns(title), changes, most_shown);
    std::string text = "\n" + table.text();
    return text + more_text(changes.size());
}

std::string findings_text(const std::vector<compare::NoticedNow>& findings,
                          const std::string& title) {
    if (findings.empty()) return "";
    std::string text = "\n" + title + "\n";
    for (std::size_t i = 0; i < std::min(findings.size(), most_shown); ++i)
        text += "  " + tables::noticed_text(findings[i].what) + "\n";
    return text + more_text(findings.size());
}

std::string plan_text(const std::vector<source::PlanChange>& changes) {
    std::string text =
        changes.empty() ? "the plans say the same\n"
                        : fmt::format("the plan: {}\n", tables::counted(changes.size(), "change"));
    for (std::size_t i = 0; i < std::min(changes.size(), most_shown); ++i) {
        const source::PlanChange& each = changes[i];
        text += fmt::format("  {}: {}\n", each.path,
                            each.before.empty()  ? "+ " + each.after
                            : each.after.empty() ? "- " + each.before
                                                 : each.before + " → " + each.after);
    }
    return text + more_text(changes.size());
}

std::string text_for_people(const Compared& compared) {
    const compare::Differences& differences = compared.differences;
    std::string text = fmt::format("{}\n  against {}\n\n{}", compared.after, compared.before,
                                   plan_text(compared.plan));
    if (!differences.verdicts.empty()) {
        TextTable table({{"verdicts"}, {"device"}, {"before"}, {"after"}});
        for (const compare::VerdictChange& each : differences.verdicts) {
            table.row({"  " + each.where.route, each.where.device,
                       tables::verdict_said(each.before), tables::verdict_said(each.after)});
        }
        text += "\n" + table.text();
    }
    if (!differences.leads.empty()) {
        text += "\n" + TextTable::of(tables::lead_columns("leads elsewhere now"), differences.leads,
                                     most_shown)
                           .text();
        text += more_text(differences.leads.size());
    }
    if (!differences.carries.empty()) {
        text += "\n" + TextTable::of(tables::carry_change_columns("carries otherwise now"),
                                     differences.carries, most_shown)
                           .text();
        text += more_text(differences.carries.size());
    }
    text += findings_text(differences.found, "new findings");
    text += figures_text(differences, Change::worse, "worse");
    text += figures_text(differences, Change::tolerated, "tolerated");
    text += figures_text(differences, Change::better, "better");
    text += figures_text(differences, Change::neither, "other");
    text += findings_text(differences.gone, "findings that are gone");
    const bool same = differences.figures.empty() && differences.verdicts.empty() &&
                      differences.found.empty() && differences.gone.empty() &&
                      differences.leads.empty() && differences.carries.empty();
    text += fmt::format("\n{}{} figures are as they were\n", same ? "nothing differs: " : "",
                        tables::grouped(differences.alike));
    return text;
}

/// What is compared with what.
struct Sides {
    std::string before; ///< a plan, or a file of figures; empty: there is only one side
    bool kept = false;  ///< `before` is a file of figures
    std::string after;
    std::vector<std::string> sets; ///< of `after` only
};
Sides sides_from(const Call& call) {
    Sides sides;
    const bool two = call.has("other");
    const std::string plan = call.text("plan");
    sides.sets = call.common().sets;
    sides.after = two ? call.text("other") : plan;
    if (call.has("baseline")) {
        if (two) throw UsageError("--baseline goes with one plan");
        sides.before = call.text("baseline");
        sides.kept = true;
    } else if (two) {
        if (!sides.sets.empty())
            throw UsageError("--set goes with one plan, which is compared with itself as it is");
        sides.before = plan;
    } else if (!sides.sets.empty()) {
        sides.before = plan;
    } else if (!call.has("keep")) {
        throw UsageError("compare: with what? a second plan, --set, or --baseline");
    }
    return sides;
}

std::string text_in(const Compared& compared, const std::string& form) {
    if (form == "markdown") return tables::differences_markdown(compared, most_in_markdown);
    if (form == "json") return tables::differences_json(compared);
    if (form == "csv") return tables::differences_csv(compared);
    return text_for_people(compared);
}

int run_compare(const Call& call) {
    const CommonOptions& options = call.common();
    const std::string form = call.text("format");
    if (form != "markdown") output_format(form);
    const Sides sides = sides_from(call);
    Tolerance tolerance;
    for (const std::string& each : call.names("tolerance")) add_tolerance(tolerance, each);
    const Measuring measuring{options.devices, options.routes, call.number("limit"), options.jobs};

    Output output(options);
    std::optional<KeptMetrics> before;
    if (sides.kept) {
        before = kept_in(sides.before);
    } else if (!sides.before.empty()) {
        before = measured(sides.before, {}, measuring, output);
        if (!before) return exit_code::problems_found;
    }
    const std::string keep = call.text("keep");
    const bool is_rolled = sides.kept && keep == sides.before;
    if (!keep.empty()) output.require_alone(keep, is_rolled);
    const auto after = measured(sides.after, sides.sets, measuring, output);
    if (!after) return exit_code::problems_found;
    std::vector<const KeptMetrics*> both{&*after};
    if (before) both.push_back(&*before);
    require_known(measuring, both);
    if (!keep.empty()) output.write_alone(keep, tables::metrics_json(*after), is_rolled);
    if (!before) return exit_code::fine;

    Compared compared;
    compared.before = sides.before;
    compared.after = sides.after;
    for (const std::string& set : sides.sets) compared.after += " --set " + set;
    compared.plan = source::plan_changes(before->content, after->content);
    compared.differences = compare::differences(before->figures, after->figures, tolerance);
    output.write("differences.csv", tables::differences_csv(compared));
    output.write("compare.json", tables::differences_json(compared));
    output.write("compare.md", tables::differences_markdown(compared, most_in_markdown));
    const std::string result = options.quiet ? std::string() : text_in(compared, form);
    if (form == "text")
        Output::print(result);
    else
        Output::put(result);
    output.say_files();
    return compared.differences.worse() ? exit_code::problems_found : exit_code::fine;
}

constexpr std::string_view compare_usage = R"(usage: hestrel compare PLAN OTHER [options]
       hestrel compare PLAN --set PATH=VALUE… [options]
       hestrel compare PLAN --baseline FILE [options]

Says what changed between two plans, and what that did, worst first: verdicts, findings
that are new or gone, and figures of walks, loads and transitions, and of what players
can reach.
Exits with 1 where the second plan is worse beyond what is tolerated.)";

} // namespace

Command compare_command() {
    namespace po = boost::program_options;
    auto described = options_for("compare", {Group::devices, Group::routes, Group::values});
    described.add_options()(
        "out", po::value<std::string>()->default_value("hestrel-out/compare")->value_name("DIR"),
        "write files there")(
        "format",
        po::value<std::string>()->default_value("text")->value_name("text|json|csv|markdown"),
        "of what goes to standard output")(
        "tolerance", po::value<std::vector<std::string>>()->value_name("5%|20ms|8MiB"),
        "what is worse by no more than that is tolerated (repeatable)")(
        "keep", po::value<std::string>()->value_name("FILE"),
        "keep the figures of the plan (of two, the second) there")(
        "baseline", po::value<std::string>()->value_name("FILE"),
        "compare with figures that were kept")(
        "limit", po::value<std::size_t>()->default_value(1'000'000)->value_name("N"),
        "explore no more situations of an edition; 0: do not explore");
    add_force(described);
    return {"compare",    "PLAN OTHER", "what a change of plan did", compare_usage,
            described,    &run_compare, {"plan", "other"},           1,
            "which plan?"};
}

} // namespace hestrel::command
