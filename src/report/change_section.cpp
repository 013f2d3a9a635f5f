#include "report/change_section.hpp"

#include "report/html_table.hpp"
#include "source/xml.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>

namespace hestrel::report {

using compare::Change;
using source::xml_text;

namespace {

/// Rows as a table with a heading; nothing where there are none.
template <class Row>
std::string part(const std::string& heading, const tables::Columns<Row>& said,
                 const std::vector<Row>& rows, std::string_view grade = {}) {
    if (rows.empty()) return {};
    std::vector<HtmlTable::Column> columns;
    for (const auto& column : said) columns.push_back({column.name});
    HtmlTable table(std::move(columns));
    for (const Row& row : rows) {
        std::vector<HtmlTable::Cell> cells;
        for (const auto& column : said) cells.emplace_back(column.of(row));
        cells.back().grade = grade;
        table.row(std::move(cells));
    }
    return fmt::format("<h3>{}</h3>\n", xml_text(heading)) + table.html(heading);
}

std::string figures_part(const compare::Differences& differences, Change change,
                         const std::string& heading, std::string_view grade) {
    return part(heading, tables::change_columns("what"), tables::change_words(differences, change),
                grade);
}

std::string verdicts_part(const std::vector<compare::VerdictChange>& verdicts) {
    if (verdicts.empty()) return {};
    HtmlTable table({{"route"}, {"device"}, {"before"}, {"after"}});
    for (const compare::VerdictChange& each : verdicts) {
        const std::string_view grade = each.change == Change::worse    ? "bad"
                                       : each.change == Change::better ? "good"
                                                                       : "";
        table.row({each.where.route, each.where.device, tables::verdict_said(each.before),
                   HtmlTable::graded(tables::verdict_said(each.after), grade)});
    }
    return "<h3>Verdicts</h3>\n" + table.html("Verdicts that differ");
}

std::string findings_part(const std::vector<compare::NoticedNow>& findings,
                          const std::string& heading) {
    if (findings.empty()) return {};
    std::string items;
    for (const compare::NoticedNow& each : findings) {
        const std::string severity(plan::severity_name(each.severity));
        items += fmt::format("<li><span class=\"severity {}\">{}</span> {}</li>\n", severity,
                             severity, xml_text(tables::noticed_text(each.what)));
    }
    return fmt::format("<h3>{}</h3>\n<ul class=\"findings\">\n{}</ul>\n", heading, items);
}

std::string plan_part(const std::vector<source::PlanChange>& changes) {
    if (changes.empty()) return "<p>The plans say the same.</p>\n";
    HtmlTable table({{"what"}, {"before"}, {"after"}});
    for (const source::PlanChange& each : changes) table.row({each.path, each.before, each.after});
    return "<h3>In the plan</h3>\n" + table.html("What was changed in the plan");
}

} // namespace

std::string change_section(const tables::Compared& compared) {
    const compare::Differences& differences = compared.differences;
    std::string text = fmt::format("<p>{} against {}: {} {}; {} figures are as they were.</p>\n",
                                   xml_text(compared.after), xml_text(compared.before),
                                   tables::counted(compared.plan.size(), "change"), "in the plan",
                                   tables::grouped(differences.alike));
    text += verdicts_part(differences.verdicts);
    text += findings_part(differences.found, "New findings");
    text += figures_part(differences, Change::worse, "Worse", "bad");
    text += figures_part(differences, Change::better, "Better", "good");
    text += figures_part(differences, Change::neither, "Other", "");
    text += findings_part(differences.gone, "Findings that are gone");
    text += part("Leads elsewhere now", tables::lead_columns("what"), differences.leads);
    text +=
        part("Carries otherwise now", tables::carry_change_columns("fact"), differences.carries);
    return text + plan_part(compared.plan);
}

} // namespace hestrel::report
