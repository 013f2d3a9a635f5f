#include "tables/compare_tables.hpp"

#include "plan/names.hpp"
#include "tables/csv.hpp"
#include "tables/findings.hpp"
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
std::string exact_text(Measure measure, const std::optional<std::int64_t>& value) {
    if (!value) return "";
    if (measure == Measure::situations) return std::to_string(*value);
    return compare::is_memory(measure) ? mebibytes_text({*value})
                                       : seconds_text(plan::Micros{*value});
}
source::Json exact_json(Measure measure, const std::optional<std::int64_t>& value) {
    if (!value) return nullptr;
    if (measure == Measure::situations) return *value;
    return compare::is_memory(measure) ? plan::in_mebibytes({*value}) : plan::in_seconds({*value});
}

std::string of_text(const Where& where) {
    if (!where.cause.empty())
        return where.level.empty() ? where.cause : where.cause + ": " + where.level;
    return where.pool;
}
std::string route_text(const Where& where) {
    return where.edition.empty() ? where.route : "edition " + where.edition;
}

/// A cell of a Markdown table.
std::string md_cell(const std::string& text) {
    std::string cell;
    for (const char c : text) {
        if (c == '|' || c == '\\' || c == '`' || c == '<' || c == '*' || c == '_') cell += '\\';
        cell += c == '\n' || c == '\r' ? ' ' : c;
    }
    return cell;
}
std::string md_row(const std::vector<std::string>& cells) {
    std::string row = "|";
    for (const std::string& cell : cells) row += " " + md_cell(cell) + " |";
    return row + "\n";
}

std::string md_figures(const compare::Differences& differences, Change change,
                       const std::string& title, std::size_t most) {
    const std::vector<ChangeWords> changes = change_words(differences, change);
    if (changes.empty()) return "";
    std::string text =
        fmt::format("\n### {}\n\n| figure | of | route | device | before | after | by "
                    "|\n|---|---|---|---|--:|--:|--:|\n",
                    title);
    for (std::size_t i = 0; i < std::min(most, changes.size()); ++i) {
        const ChangeWords& each = changes[i];
        text += md_row(
            {each.measure, each.of, each.route, each.device, each.before, each.after, each.by});
    }
    if (changes.size() > most) text += fmt::format("\nand {} more\n", changes.size() - most);
    return text;
}

std::string md_findings(const std::vector<NoticedNow>& findings, const std::string& title,
                        std::size_t most) {
    if (findings.empty()) return "";
    std::string text = fmt::format("\n### {}\n\n", title);
    for (std::size_t i = 0; i < std::min(most, findings.size()); ++i)
        text += fmt::format("- {}: {}\n", plan::severity_name(findings[i].severity),
                            md_cell(noticed_text(findings[i].what)));
    if (findings.size() > most) text += fmt::format("- and {} more\n", findings.size() - most);
    return text;
}

} // namespace

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
                 exact_text(each.measure, each.before), exact_text(each.measure, each.after)});
    return csv.text();
}

std::string differences_json(const Compared& compared) {
    const compare::Differences& differences = compared.differences;
    source::Json plan_list = source::Json::array();
    for (const source::PlanChange& each : compared.plan)
        plan_list.push_back({{"path", each.path}, {"before", each.before}, {"after", each.after}});
    source::Json verdict_list = source::Json::array();
    for (const compare::VerdictChange& each : differences.verdicts)
        verdict_list.push_back({{"change", change_name(each.change)},
                                {"route", each.where.route},
                                {"device", each.where.device},
                                {"before", each.before},
                                {"after", each.after}});
    const auto findings = [](const std::vector<NoticedNow>& all) {
        source::Json list = source::Json::array();
        for (const NoticedNow& each : all)
            list.push_back({{"name", each.what.name},
                            {"severity", plan::severity_name(each.severity)},
                            {"about", each.what.about},
                            {"by", each.what.by},
                            {"route", each.what.where.route},
                            {"edition", each.what.where.edition},
                            {"device", each.what.where.device}});
        return list;
    };
    source::Json figure_list = source::Json::array();
    for (const FigureChange& each : differences.figures)
        figure_list.push_back({{"change", change_name(each.change)},
                               {"measure", compare::name_of(each.measure)},
                               {"route", each.where.route},
                               {"edition", each.where.edition},
                               {"device", each.where.device},
                               {"cause", each.where.cause},
                               {"level", each.where.level},
                               {"pool", each.where.pool},
                               {"before", exact_json(each.measure, each.before)},
                               {"after", exact_json(each.measure, each.after)}});
    return source::file_text(source::Json{{"before", compared.before},
                                          {"after", compared.after},
                                          {"worse", differences.worse()},
                                          {"plan", std::move(plan_list)},
                                          {"verdicts", std::move(verdict_list)},
                                          {"found", findings(differences.found)},
                                          {"gone", findings(differences.gone)},
                                          {"figures", std::move(figure_list)},
                                          {"alike", differences.alike}});
}

std::string differences_markdown(const Compared& compared, std::size_t most) {
    const compare::Differences& differences = compared.differences;
    std::string text =
        fmt::format("## {}: {}\n\nbefore: {}\n", md_cell(compared.after),
                    differences.worse() ? "**worse**" : "no worse", md_cell(compared.before));
    if (!compared.plan.empty()) {
        text += "\n### What changed in the plan\n\n| | before | after |\n|---|---|---|\n";
        for (std::size_t i = 0; i < std::min(most, compared.plan.size()); ++i) {
            const source::PlanChange& each = compared.plan[i];
            text += md_row({each.path, each.before, each.after});
        }
        if (compared.plan.size() > most)
            text += fmt::format("\nand {} more\n", compared.plan.size() - most);
    }
    if (!differences.verdicts.empty()) {
        text += "\n### Verdicts\n\n| route | device | before | after |\n|---|---|---|---|\n";
        for (const compare::VerdictChange& each : differences.verdicts)
            text += md_row({each.where.route, each.where.device, each.before, each.after});
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
