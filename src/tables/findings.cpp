#include "tables/findings.hpp"

#include "plan/names.hpp"
#include "source/json.hpp"
#include "source/plan_reader.hpp"
#include "source/source_text.hpp"
#include "source/utf8.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <set>

namespace hestrel::tables {

namespace {

/// Rules of a plan's form come from the reader and have no help of their own.
std::vector<plan::RuleText> with_reader_rules(const std::vector<plan::Finding>& findings,
                                              std::vector<plan::RuleText> rules) {
    for (const plan::Finding& finding : findings) {
        const bool known = std::any_of(rules.begin(), rules.end(), [&](const plan::RuleText& rule) {
            return rule.name == finding.name;
        });
        if (!known)
            rules.push_back(
                {finding.name, finding.severity, "The plan can't be read as it is written.", ""});
    }
    return rules;
}

std::string xml_escaped(std::string_view text) {
    std::string escaped;
    for (const char c : text) {
        switch (c) {
        case '<': escaped += "&lt;"; break;
        case '>': escaped += "&gt;"; break;
        case '&': escaped += "&amp;"; break;
        case '"': escaped += "&quot;"; break;
        default:
            escaped +=
                static_cast<unsigned char>(c) < ' ' ? ' ' : c; // control characters are no XML
        }
    }
    return escaped;
}

/// A file name as a URI reference: what is not plain is percent-encoded.
std::string uri_of(std::string_view path) {
    constexpr std::string_view plain =
        "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-._~/";
    std::string uri = path.starts_with('/') ? "file://" : "";
    for (const char c : path) {
        if (plain.find(c) != std::string_view::npos) {
            uri += c;
        } else {
            uri += fmt::format("%{:02X}", static_cast<unsigned>(static_cast<unsigned char>(c)));
        }
    }
    return uri;
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
    std::string caret;
    std::uint32_t column = 1;
    for (const char c : line) {
        if (source::continues_character(c)) continue;
        if (column++ == place.column) break;
        caret += c == '\t' ? '\t' : ' ';
    }
    return fmt::format("    {}\n    {}^\n", line, caret);
}

std::string findings_json(const plan::Plan& plan, const std::vector<plan::Finding>& findings) {
    source::Json all = source::Json::array();
    for (const plan::Finding& finding : findings) {
        all.push_back({{"name", finding.name},
                       {"severity", plan::severity_name(finding.severity)},
                       {"file", plan.files[finding.place.file]},
                       {"line", finding.place.line},
                       {"column", finding.place.column},
                       {"message", finding.message}});
    }
    return source::file_text(source::Json{{"plan", plan.name}, {"findings", std::move(all)}});
}

std::string findings_sarif(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                           const std::vector<plan::RuleText>& own_rules, std::string_view version) {
    const std::vector<plan::RuleText> rules = with_reader_rules(findings, own_rules);
    source::Json described = source::Json::array();
    for (const plan::RuleText& rule : rules) {
        source::Json entry{{"id", rule.name}, {"shortDescription", {{"text", rule.sentence}}}};
        if (!rule.help.empty()) entry["help"] = {{"text", rule.help}};
        entry["defaultConfiguration"] = {{"level", plan::severity_name(rule.severity)}};
        described.push_back(std::move(entry));
    }
    source::Json results = source::Json::array();
    for (const plan::Finding& finding : findings) {
        const auto rule = std::find_if(rules.begin(), rules.end(), [&](const plan::RuleText& each) {
            return each.name == finding.name;
        });
        source::Json location{
            {"artifactLocation", {{"uri", uri_of(plan.files[finding.place.file])}}}};
        if (finding.place.line > 0) {
            location["region"] = {{"startLine", finding.place.line},
                                  {"startColumn", finding.place.column}};
        }
        results.push_back(
            {{"ruleId", finding.name},
             {"ruleIndex", rule - rules.begin()},
             {"level", plan::severity_name(finding.severity)},
             {"message", {{"text", finding.message}}},
             {"locations", source::Json::array({{{"physicalLocation", std::move(location)}}})}});
    }
    const source::Json driver{
        {"name", "Hestrel"}, {"version", version}, {"rules", std::move(described)}};
    source::Json run{{"tool", {{"driver", driver}}},
                     {"columnKind", "unicodeCodePoints"},
                     {"results", std::move(results)}};
    return source::file_text(
        source::Json{{"$schema", "https://json.schemastore.org/sarif-2.1.0.json"},
                     {"version", "2.1.0"},
                     {"runs", source::Json::array({std::move(run)})}});
}

std::string findings_junit(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                           const std::vector<plan::RuleText>& own_rules) {
    const std::vector<plan::RuleText> rules = with_reader_rules(findings, own_rules);
    std::set<std::string_view> failed;
    std::string cases;
    for (const plan::RuleText& rule : rules) {
        std::string news;
        for (const plan::Finding& finding : findings) {
            if (finding.name != rule.name || finding.severity == plan::Severity::note) continue;
            news += plan::finding_text(plan, finding) + "\n";
        }
        cases += fmt::format("  <testcase classname=\"hestrel.check\" name=\"{}\"",
                             xml_escaped(rule.name));
        if (news.empty()) {
            cases += "/>\n";
            continue;
        }
        failed.insert(rule.name);
        cases += fmt::format(">\n    <failure type=\"{}\" message=\"{}\">",
                             plan::severity_name(rule.severity), xml_escaped(rule.sentence));
        std::string lines;
        for (std::size_t at = 0; at < news.size();) {
            const std::size_t end = news.find('\n', at);
            lines += xml_escaped(std::string_view(news).substr(at, end - at)) + "\n";
            at = end + 1;
        }
        cases += lines + "</failure>\n  </testcase>\n";
    }
    return fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuite name=\"{}\" "
                       "tests=\"{}\" failures=\"{}\">\n{}"
                       "</testsuite>\n",
                       xml_escaped(plan.name), rules.size(), failed.size(), cases);
}

} // namespace hestrel::tables
