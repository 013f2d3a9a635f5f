#include "tables/compare_tables.hpp"

#include "plan/names.hpp"
#include "tables/carries_table.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"

#include <array>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace hestrel::tables {

using compare::Change;
using compare::FigureChange;
using compare::Measure;
using compare::NoticedNow;
using compare::Where;

namespace {

std::string_view change_name(Change change) {
    constexpr std::array<std::string_view, 4> names{"worse", "tolerated", "better", "neither"};
    return names[static_cast<std::size_t>(change)];
}

std::string value_text(Measure measure, std::int64_t value) {
    if (measure == Measure::situations) return grouped(static_cast<std::uint64_t>(value));
    if (compare::is_memory(measure)) return short_memory({value});
    constexpr std::int64_t millisecond = 1000;
    if (value != 0 && std::abs(value) < millisecond) // else it would be told as nothing
        return fmt::format("{:.1f} ms", static_cast<double>(value) / millisecond);
    return short_time({value});
}
/// Of a difference, with its sign.
std::string signed_text(Measure measure, std::int64_t by) {
    return (by < 0 ? "-" : "+") + value_text(measure, std::abs(by));
}
/// In base units, exactly.
Cell exact(Measure measure, const std::optional<std::int64_t>& value) {
    if (!value) return {};
    if (measure == Measure::situations) return *value;
    return compare::is_memory(measure) ? Cell(plan::Bytes{*value}) : Cell(plan::Micros{*value});
}

std::string of_text(const Where& where) {
    if (!where.cause.empty())
        return where.level.empty() ? where.cause : where.cause + ": " + where.level;
    return where.pool;
}
std::string route_text(const Where& where) {
    return where.edition.empty() ? where.route : "edition " + where.edition;
}

Columns<source::PlanChange> plan_columns(std::string path) {
    using Row = source::PlanChange;
    return {{std::move(path), [](const Row& row) { return row.path; }},
            {"before", [](const Row& row) { return row.before; }},
            {"after", [](const Row& row) { return row.after; }}};
}

Columns<compare::VerdictChange> verdict_columns() {
    using Row = compare::VerdictChange;
    return {{"route", [](const Row& row) { return row.where.route; }},
            {"device", [](const Row& row) { return row.where.device; }},
            {"before", [](const Row& row) { return row.before; }},
            {"after", [](const Row& row) { return row.after; }}};
}

/// The level that something leads to.
std::string lead_text(const std::string& level) {
    return level.empty() ? "nowhere" : level;
}

Columns<NoticedNow> finding_columns() {
    using Row = NoticedNow;
    return {{"name", [](const Row& row) { return row.what.name; }},
            {"severity", [](const Row& row) { return plan::severity_name(row.severity); }},
            {"about", [](const Row& row) { return row.what.about; }},
            {"by", [](const Row& row) { return row.what.by; }},
            {"route", [](const Row& row) { return row.what.where.route; }},
            {"edition", [](const Row& row) { return row.what.where.edition; }},
            {"device", [](const Row& row) { return row.what.where.device; }}};
}

Columns<FigureChange> figure_columns() {
    using Row = FigureChange;
    return {{"change", [](const Row& row) { return change_name(row.change); }},
            {"measure", [](const Row& row) { return compare::name_of(row.measure); }},
            {"route", [](const Row& row) { return row.where.route; }},
            {"edition", [](const Row& row) { return row.where.edition; }},
            {"device", [](const Row& row) { return row.where.device; }},
            {"cause", [](const Row& row) { return row.where.cause; }},
            {"level", [](const Row& row) { return row.where.level; }},
            {"pool", [](const Row& row) { return row.where.pool; }},
            {"before", [](const Row& row) { return exact(row.measure, row.before); }},
            {"after", [](const Row& row) { return exact(row.measure, row.after); }}};
}

std::string md_figures(const compare::Differences& differences, Change change,
                       const std::string& title, std::size_t most) {
    const std::vector<ChangeWords> changes = change_words(differences, change);
    if (changes.empty()) return "";
    return fmt::format("\n### {}\n\n", title) +
           markdown_of(change_columns("figure"), changes, most);
}

std::string md_findings(const std::vector<NoticedNow>& findings, const std::string& title,
                        std::size_t most) {
    if (findings.empty()) return "";
    std::string text = fmt::format("\n### {}\n\n", title);
    for (std::size_t i = 0; i < std::min(most, findings.size()); ++i)
        text += fmt::format("- {}: {}\n", plan::severity_name(findings[i].severity),
                            markdown_cell(noticed_text(findings[i].what)));
    if (findings.size() > most) text += fmt::format("- and {} more\n", findings.size() - most);
    return text;
}

} // namespace

namespace {

std::string carryings_text(const std::set<flow::Carrying>& hows) {
    std::vector<std::string> texts;
    for (const flow::Carrying how : hows) texts.emplace_back(carrying_name(how));
    return plan::joined(texts, " or ");
}

} // namespace

Columns<compare::CarryChange> carry_change_columns(std::string title) {
    using Row = compare::CarryChange;
    return {{std::move(title), [](const Row& row) { return row.carry.fact; }},
            {"in", [](const Row& row) { return row.carry.cause; }},
            {"before", [](const Row& row) { return carryings_text(row.before); }},
            {"after", [](const Row& row) { return carryings_text(row.after); }}};
}

Columns<compare::LeadChange> lead_columns(std::string title) {
    using Row = compare::LeadChange;
    return {{std::move(title), [](const Row& row) { return row.lead.cause; }},
            {"by", [](const Row& row) { return row.lead.by; }},
            {"edition", [](const Row& row) { return row.lead.edition; }},
            {"before", [](const Row& row) { return lead_text(row.before); }},
            {"after", [](const Row& row) { return lead_text(row.after); }}};
}

Columns<ChangeWords> change_columns(std::string title) {
    using Row = ChangeWords;
    return {{std::move(title), [](const Row& row) { return row.measure; }},
            {"of", [](const Row& row) { return row.of; }},
            {"route", [](const Row& row) { return row.route; }},
            {"device", [](const Row& row) { return row.device; }},
            {"before", [](const Row& row) { return row.before; }, true},
            {"after", [](const Row& row) { return row.after; }, true},
            {"by", [](const Row& row) { return row.by; }, true}};
}

std::vector<ChangeWords> change_words(const compare::Differences& differences, Change change) {
    struct Row {
        const FigureChange* first = nullptr;
        std::size_t routes = 0;
    };
    std::vector<Row> rows;
    std::map<std::pair<Where, Measure>, std::size_t> known;
    for (const FigureChange& each : differences.figures) {
        if (each.change != change) continue;
        Where anywhere = each.where;
        anywhere.route.clear();
        const auto [row, fresh] = known.try_emplace({anywhere, each.measure}, rows.size());
        if (fresh) rows.push_back({&each});
        ++rows[row->second].routes;
    }
    std::vector<ChangeWords> all;
    for (const Row& row : rows) {
        const FigureChange& each = *row.first;
        ChangeWords words;
        words.measure = compare::name_of(each.measure);
        words.of = of_text(each.where);
        words.route = route_text(each.where);
        if (row.routes > 1) words.route += fmt::format(", +{}", row.routes - 1);
        words.device = each.where.device;
        if (each.before) words.before = value_text(each.measure, *each.before);
        if (each.after) words.after = value_text(each.measure, *each.after);
        if (each.before && each.after)
            words.by = signed_text(each.measure, *each.after - *each.before);
        all.push_back(std::move(words));
    }
    return all;
}

std::string verdict_said(const std::string& verdict) {
    return verdict.empty() ? "not walked" : verdict;
}

std::string noticed_text(const compare::Noticed& noticed) {
    std::string text = noticed.name;
    if (!noticed.about.empty()) text += " of " + noticed.about;
    const std::string where = route_text(noticed.where);
    if (!where.empty())
        text += fmt::format(" ({}{}{})", where, noticed.where.device.empty() ? "" : ", ",
                            noticed.where.device);
    return text;
}

std::string differences_csv(const Compared& compared) {
    Csv csv{"change", "kind", "measure", "of", "route", "device", "before", "after"};
    for (const source::PlanChange& each : compared.plan)
        csv.row({"", "plan", "", each.path, "", "", each.before, each.after});
    const compare::Differences& differences = compared.differences;
    for (const compare::VerdictChange& each : differences.verdicts)
        csv.row({change_name(each.change), "verdict", "", "", each.where.route, each.where.device,
                 each.before, each.after});
    for (const compare::CarryChange& each : differences.carries)
        csv.row({"neither", "carries", each.carry.fact, each.carry.cause, "", "",
                 carryings_text(each.before), carryings_text(each.after)});
    for (const compare::LeadChange& each : differences.leads)
        csv.row({"neither", "leads to", each.lead.by, each.lead.cause,
                 "edition " + each.lead.edition, "", lead_text(each.before),
                 lead_text(each.after)});
    const auto add_findings = [&](const std::vector<NoticedNow>& findings, bool now) {
        for (const NoticedNow& each : findings) {
            const bool note = each.severity == plan::Severity::note;
            csv.row({note  ? "neither"
                     : now ? "worse"
                           : "better",
                     "finding", each.what.name, each.what.about, route_text(each.what.where),
                     each.what.where.device, now ? "" : plan::severity_name(each.severity),
                     now ? plan::severity_name(each.severity) : ""});
        }
    };
    add_findings(differences.found, true);
    add_findings(differences.gone, false);
    for (const FigureChange& each : differences.figures)
        csv.row({change_name(each.change), "figure", compare::name_of(each.measure),
                 of_text(each.where), route_text(each.where), each.where.device,
                 exact(each.measure, each.before).csv(), exact(each.measure, each.after).csv()});
    return csv.take();
}

std::string differences_json(const Compared& compared) {
    const compare::Differences& differences = compared.differences;
    Columns<compare::VerdictChange> verdicts{
        {"change", [](const compare::VerdictChange& row) { return change_name(row.change); }}};
    for (auto& column : verdict_columns()) verdicts.push_back(std::move(column));
    return source::file_text(
        source::Json{{"before", compared.before},
                     {"after", compared.after},
                     {"worse", differences.worse()},
                     {"plan", json_of(plan_columns("path"), compared.plan)},
                     {"verdicts", json_of(verdicts, differences.verdicts)},
                     {"carries", json_of(carry_change_columns("fact"), differences.carries)},
                     {"leads", json_of(lead_columns("cause"), differences.leads)},
                     {"found", json_of(finding_columns(), differences.found)},
                     {"gone", json_of(finding_columns(), differences.gone)},
                     {"figures", json_of(figure_columns(), differences.figures)},
                     {"alike", differences.alike}});
}

std::string differences_markdown(const Compared& compared, std::size_t most) {
    const compare::Differences& differences = compared.differences;
    std::string text =
        fmt::format("## {}: {}\n\nbefore: {}\n", markdown_cell(compared.after),
                    differences.worse() ? "**worse**" : "no worse", markdown_cell(compared.before));
    if (!compared.plan.empty()) {
        text += "\n### What changed in the plan\n\n" +
                markdown_of(plan_columns(""), compared.plan, most);
    }
    if (!differences.verdicts.empty()) {
        text += "\n### Verdicts\n\n" +
                markdown_of(verdict_columns(), differences.verdicts, differences.verdicts.size());
    }
    if (!differences.leads.empty()) {
        text += "\n### Leads elsewhere now\n\n" +
                markdown_of(lead_columns("step of"), differences.leads, most);
    }
    if (!differences.carries.empty()) {
        text += "\n### Carries otherwise now\n\n" +
                markdown_of(carry_change_columns("fact"), differences.carries, most);
    }
    text += md_findings(differences.found, "New findings", most);
    text += md_figures(differences, Change::worse, "Worse", most);
    text += md_figures(differences, Change::tolerated, "Worse, within what is tolerated", most);
    text += md_figures(differences, Change::better, "Better", most);
    text += md_figures(differences, Change::neither, "Other", most);
    text += md_findings(differences.gone, "Findings that are gone", most);
    return text + fmt::format("\n{} figures are as they were\n", grouped(differences.alike));
}

} // namespace hestrel::tables
