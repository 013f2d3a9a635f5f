#include "tables/metrics_file.hpp"

#include "plan/names.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <optional>

namespace hestrel::tables {

using compare::Measure;
using compare::Metrics;
using compare::Where;
using source::Json;

namespace {

constexpr int version = 1;

Json where_json(const Where& where) {
    Json json = Json::object();
    const auto add = [&](const char* key, const std::string& value) {
        if (!value.empty()) json[key] = value;
    };
    add("route", where.route);
    add("device", where.device);
    add("edition", where.edition);
    add("cause", where.cause);
    add("level", where.level);
    add("pool", where.pool);
    return json;
}

std::string text_in(const Json& json, const char* key) {
    const auto found = json.find(key);
    if (found == json.end()) return "";
    if (!found->is_string()) throw FiguresError(fmt::format("\"{}\" is not a text there", key));
    return found->get<std::string>();
}

Where where_from(const Json& json) {
    return {text_in(json, "route"), text_in(json, "device"), text_in(json, "edition"),
            text_in(json, "cause"), text_in(json, "level"),  text_in(json, "pool")};
}

std::optional<Measure> measure_from(const std::string& name) {
    for (std::size_t i = 0; i < compare::measure_count; ++i) {
        if (name_of(static_cast<Measure>(i)) == name) return static_cast<Measure>(i);
    }
    return std::nullopt;
}

plan::Severity severity_from(const std::string& name) {
    for (const plan::Severity each :
         {plan::Severity::error, plan::Severity::warning, plan::Severity::note}) {
        if (plan::severity_name(each) == name) return each;
    }
    throw FiguresError("a finding has no severity");
}

/// The elements of a list in the file, each an object.
const Json& list_in(const Json& json, const char* key) {
    const auto found = json.find(key);
    const bool fine = found != json.end() && found->is_array() &&
                      std::all_of(found->begin(), found->end(),
                                  [](const Json& each) { return each.is_object(); });
    if (!fine) throw FiguresError(fmt::format("it has no list \"{}\"", key));
    return *found;
}

} // namespace

std::string metrics_json(const KeptMetrics& kept) {
    const Metrics& figures = kept.figures;
    Json values = Json::array();
    for (const auto& [key, value] : figures.values) {
        Json each = where_json(key.first);
        each["measure"] = name_of(key.second);
        each["value"] = value;
        values.push_back(std::move(each));
    }
    Json verdicts = Json::array();
    for (const auto& [where, verdict] : figures.verdicts) {
        Json each = where_json(where);
        each["verdict"] = verdict;
        verdicts.push_back(std::move(each));
    }
    Json findings = Json::array();
    for (const auto& [what, severity] : figures.findings) {
        Json each{
            {"name", what.name}, {"severity", plan::severity_name(severity)}, {"by", what.by}};
        if (!what.about.empty()) each["about"] = what.about;
        each.update(where_json(what.where));
        findings.push_back(std::move(each));
    }
    Json leads = Json::array();
    for (const auto& [lead, level] : figures.leads)
        leads.push_back(
            {{"cause", lead.cause}, {"by", lead.by}, {"edition", lead.edition}, {"level", level}});
    return source::single_file_text(Json{{"hestrel_figures", version},
                                         {"plan", figures.plan},
                                         {"values", std::move(values)},
                                         {"verdicts", std::move(verdicts)},
                                         {"findings", std::move(findings)},
                                         {"leads", std::move(leads)},
                                         {"content", kept.content}});
}

KeptMetrics parse_metrics(const std::string& text) {
    const Json json = source::parsed(text);
    if (!json.is_object() || !json.contains("hestrel_figures"))
        throw FiguresError("this is no file of figures: expected what --keep writes");
    if (json["hestrel_figures"] != version)
        throw FiguresError("these figures were kept by another version");
    KeptMetrics kept;
    kept.figures.plan = text_in(json, "plan");
    for (const Json& each : list_in(json, "values")) {
        const auto measure = measure_from(text_in(each, "measure"));
        const auto value = each.find("value");
        if (!measure || value == each.end() || !value->is_number_integer())
            throw FiguresError("a value has no measure, or is no whole number");
        kept.figures.values[{where_from(each), *measure}] = value->get<std::int64_t>();
    }
    for (const Json& each : list_in(json, "verdicts"))
        kept.figures.verdicts[where_from(each)] = text_in(each, "verdict");
    for (const Json& each : list_in(json, "findings")) {
        const plan::Severity severity = severity_from(text_in(each, "severity"));
        kept.figures.findings[{text_in(each, "name"), text_in(each, "about"), text_in(each, "by"),
                               where_from(each)}] = severity;
    }
    if (json.contains("leads")) { // figures kept before there were any have none
        for (const Json& each : list_in(json, "leads"))
            kept.figures
                .leads[{text_in(each, "cause"), text_in(each, "by"), text_in(each, "edition")}] =
                text_in(each, "level");
    }
    kept.content = json.value("content", Json::object());
    return kept;
}

} // namespace hestrel::tables
