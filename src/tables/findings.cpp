#include "tables/findings.hpp"

#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "source/addresses.hpp"
#include "source/json.hpp"
#include "source/plan_reader.hpp"
#include "source/source_text.hpp"
#include "source/utf8.hpp"
#include "source/xml.hpp"
#include "tables/finding_texts.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace hestrel::tables {

using source::Json;

namespace {

/// The kinds that `by` makes, then others that are among the findings.
std::vector<const plan::FindingKind*> kinds_of(const std::vector<plan::Finding>& findings,
                                               plan::FoundBy by) {
    std::vector<const plan::FindingKind*> kinds;
    for (const plan::FindingKind& kind : plan::finding_kinds()) {
        if (includes(kind.by, by)) kinds.push_back(&kind);
    }
    for (const plan::Finding& finding : findings) {
        const plan::FindingKind& kind = plan::kind_of(finding.name);
        if (!plan::contains(kinds, &kind)) kinds.push_back(&kind);
    }
    return kinds;
}

/// What a finding carries for machines, in the order of the documents.
Json details_of(const plan::Plan& plan, const plan::Finding& finding) {
    Json details = Json::object();
    const auto add = [&](std::string_view key, plan::ThingKind kind, auto id, const auto& name_of) {
        if (!id && finding.about && finding.about->kind == kind)
            id = decltype(id){std::size_t{finding.about->index}};
        if (id) details[std::string(key)] = name_of(id);
    };
    const auto named = [](const auto& table) {
        return [&table](auto id) { return Json(table[id].name); };
    };
    add("level", plan::ThingKind::level, finding.level, named(plan.levels));
    add("device", plan::ThingKind::device, finding.device, named(plan.devices));
    add("route", plan::ThingKind::route, finding.route, named(plan.routes));
    if (finding.machine)
        details["machine"] = plan.routes[finding.route].machines[finding.machine].name;
    add("edition", plan::ThingKind::edition, finding.edition, named(plan.editions));
    add("rule", plan::ThingKind::rule, finding.rule,
        [](plan::RuleId rule) { return Json(rule.value + 1); });
    add("place", plan::ThingKind::waypoint, finding.at, named(plan.waypoints));
    if (finding.from) details["from_s"] = plan::in_seconds(*finding.from);
    if (finding.to) details["to_s"] = plan::in_seconds(*finding.to);
    return details;
}

/// A file name as a URI reference.
std::string uri_of(std::string_view path) {
    return path.starts_with('/') ? source::address_of_path(path) : source::percent_encoded(path);
}

} // namespace

std::string count_text(const std::vector<plan::Finding>& findings) {
    std::string text;
    for (const plan::Severity severity :
         {plan::Severity::error, plan::Severity::warning, plan::Severity::note}) {
        const auto count =
            std::count_if(findings.begin(), findings.end(), [&](const plan::Finding& finding) {
                return finding.severity == severity;
            });
        if (count == 0) continue;
        text += fmt::format("{}{} {}{}", text.empty() ? "" : ", ", count,
                            plan::severity_name(severity), count == 1 ? "" : "s");
    }
    return text.empty() ? "nothing found" : text;
}

std::string source_excerpt(std::string_view text, plan::Place place) {
    const source::SourceText source(text);
    if (!source.offset_of(place)) return {};
    const std::string_view line = source.line(place.line);
    // Columns count characters; bytes that continue one take no column.
    std::size_t before = 0;
    for (std::uint32_t column = 1; column < place.column && before < line.size(); ++column)
        before += source::sign_length(line, before);
    std::string caret;
    for (const char c : source::visible(line.substr(0, before))) {
        if (!source::continues_character(c)) caret += c == '\t' ? '\t' : ' ';
    }
    return fmt::format("    {}\n    {}^\n", line, caret);
}

Json finding_json(const plan::Plan& plan, const plan::Finding& finding) {
    Json json{{"name", finding.name},
              {"severity", plan::severity_name(finding.severity)},
              {"file", plan.files[finding.place.file]},
              {"line", finding.place.line},
              {"column", finding.place.column},
              {"message", plan::message_text(plan, finding)}};
    for (const plan::Place& use : plan::used_at(plan, finding.place)) {
        json["used_at"].push_back(
            {{"file", plan.files[use.file]}, {"line", use.line}, {"column", use.column}});
    }
    json.update(details_of(plan, finding));
    return json;
}

std::string findings_json(const plan::Plan& plan, const std::vector<plan::Finding>& findings) {
    source::ListFile file({{"plan", plan.name}}, "findings");
    for (const plan::Finding& finding : findings) file.add(finding_json(plan, finding));
    return file.take();
}

namespace {

Json location_of(const plan::Plan& plan, plan::Place place) {
    Json location{{"artifactLocation", {{"uri", uri_of(plan.files[place.file])}}}};
    if (place.line > 0)
        location["region"] = {{"startLine", place.line}, {"startColumn", place.column}};
    return {{"physicalLocation", std::move(location)}};
}

} // namespace

std::string findings_sarif(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                           plan::FoundBy by, std::string_view version) {
    const auto kinds = kinds_of(findings, by);
    Json described = Json::array();
    for (const plan::FindingKind* kind : kinds) {
        const FindingText& text = text_of(*kind);
        described.push_back(
            {{"id", kind->name},
             {"shortDescription", {{"text", text.sentence}}},
             {"help", {{"text", text.help}}},
             {"defaultConfiguration", {{"level", plan::severity_name(kind->severity)}}}});
    }
    Json results = Json::array();
    for (const plan::Finding& finding : findings) {
        const auto kind = std::find(kinds.begin(), kinds.end(), &plan::kind_of(finding.name));
        Json result{{"ruleId", finding.name},
                    {"ruleIndex", kind - kinds.begin()},
                    {"level", plan::severity_name(finding.severity)},
                    {"message", {{"text", plan::message_text(plan, finding)}}},
                    {"locations", Json::array({location_of(plan, finding.place)})}};
        for (const plan::Place& use : plan::used_at(plan, finding.place)) {
            Json related = location_of(plan, use);
            related["message"] = {{"text", "used here"}};
            result["relatedLocations"].push_back(std::move(related));
        }
        Json details = details_of(plan, finding);
        if (!details.empty()) result["properties"] = std::move(details);
        results.push_back(std::move(result));
    }
    const Json driver{{"name", "Hestrel"}, {"version", version}, {"rules", std::move(described)}};
    Json run{{"tool", {{"driver", driver}}},
             {"columnKind", "unicodeCodePoints"},
             {"results", std::move(results)}};
    return source::single_file_text(
        Json{{"$schema", "https://json.schemastore.org/sarif-2.1.0.json"},
             {"version", "2.1.0"},
             {"runs", Json::array({std::move(run)})}},
        "properties", Json{{"comment", source::own_mark}}); // SARIF 2.1.0, 3.8
}

std::string findings_junit(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                           plan::FoundBy by) {
    const auto kinds = kinds_of(findings, by);
    std::set<std::string_view> failed;
    std::string cases;
    for (const plan::FindingKind* kind : kinds) {
        std::string news;
        for (const plan::Finding& finding : findings) {
            if (finding.name != kind->name || finding.severity == plan::Severity::note) continue;
            news += plan::finding_text(plan, finding) + "\n";
        }
        cases += fmt::format("  <testcase classname=\"hestrel.check\" name=\"{}\"",
                             source::xml_text(kind->name));
        if (news.empty()) {
            cases += "/>\n";
            continue;
        }
        failed.insert(kind->name);
        cases += fmt::format(">\n    <failure type=\"{}\" message=\"{}\">",
                             plan::severity_name(kind->severity),
                             source::xml_text(text_of(*kind).sentence));
        std::string lines;
        for (std::size_t at = 0; at < news.size();) {
            const std::size_t end = news.find('\n', at);
            lines += source::xml_text(std::string_view(news).substr(at, end - at)) + "\n";
            at = end + 1;
        }
        cases += lines + "</failure>\n  </testcase>\n";
    }
    return fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?> <!-- {} -->\n<testsuite name=\"{}\" "
        "tests=\"{}\" failures=\"{}\">\n{}"
        "</testsuite>\n",
        source::own_mark, source::xml_text(plan.name), kinds.size(), failed.size(), cases);
}

} // namespace hestrel::tables
