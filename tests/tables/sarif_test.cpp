// SARIF against the standard: what of SARIF 2.1.0 (OASIS, sections 3.13 to 3.50) Hestrel writes, as
// a JSON Schema that takes nothing else.

#include "check/check.hpp"
#include "support/plan_text.hpp"
#include "tables/findings.hpp"

#include <nlohmann/json.hpp>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

using namespace hestrel;
using nlohmann::json;

namespace {

const char* const standard = R"json({
 "type": "object", "additionalProperties": false, "required": ["version", "runs"],
 "properties": {
  "properties": {"type": "object"},
  "$schema": {"type": "string"}, "version": {"enum": ["2.1.0"]},
  "runs": {"type": "array", "items": {"$ref": "#/definitions/run"}}},
 "definitions": {
  "run": {"type": "object", "additionalProperties": false, "required": ["tool"],
   "properties": {
    "tool": {"type": "object", "additionalProperties": false, "required": ["driver"],
     "properties": {"driver": {"$ref": "#/definitions/toolComponent"}}},
    "columnKind": {"enum": ["utf16CodeUnits", "unicodeCodePoints"]},
    "results": {"type": "array", "items": {"$ref": "#/definitions/result"}}}},
  "toolComponent": {"type": "object", "additionalProperties": false, "required": ["name"],
   "properties": {"name": {"type": "string"}, "version": {"type": "string"},
    "rules": {"type": "array", "uniqueItems": true, "items": {"$ref": "#/definitions/reportingDescriptor"}}}},
  "reportingDescriptor": {"type": "object", "additionalProperties": false, "required": ["id"],
   "properties": {"id": {"type": "string"}, "shortDescription": {"$ref": "#/definitions/text"},
    "help": {"$ref": "#/definitions/text"},
    "defaultConfiguration": {"type": "object", "additionalProperties": false,
     "properties": {"level": {"$ref": "#/definitions/level"}}}}},
  "text": {"type": "object", "additionalProperties": false, "required": ["text"],
   "properties": {"text": {"type": "string", "minLength": 1}}},
  "level": {"enum": ["none", "note", "warning", "error"]},
  "result": {"type": "object", "additionalProperties": false, "required": ["message"],
   "properties": {"ruleId": {"type": "string"}, "ruleIndex": {"type": "integer", "minimum": -1},
    "level": {"$ref": "#/definitions/level"}, "message": {"$ref": "#/definitions/text"},
    "locations": {"type": "array", "items": {"$ref": "#/definitions/location"}},
    "properties": {"type": "object"}}},
  "location": {"type": "object", "additionalProperties": false,
   "properties": {"physicalLocation": {"type": "object", "additionalProperties": false,
    "required": ["artifactLocation"],
    "properties": {
     "artifactLocation": {"type": "object", "additionalProperties": false,
      "properties": {"uri": {"type": "string", "pattern": "^[A-Za-z0-9._~/:%-]+$"}}},
     "region": {"type": "object", "additionalProperties": false,
      "properties": {"startLine": {"type": "integer", "minimum": 1},
                     "startColumn": {"type": "integer", "minimum": 1}}}}}}}}
})json";

} // namespace

TEST_CASE("SARIF is as the standard says, for findings of the reader and of rules") {
    const auto reading = tests::read_text(
        "hestrel: 1\nlevels: {hall: {kits: [wood]}, quay: {leave: [{wait: 1 s}]}}\n");
    const auto findings = check::check(reading.plan, reading.findings);
    REQUIRE(findings.size() == 2);
    const auto by = plan::FoundBy::reader | plan::FoundBy::check;
    const json sarif = json::parse(tables::findings_sarif(reading.plan, findings, by, "0.1.0"));

    valijson::Schema schema;
    valijson::SchemaParser parser(valijson::SchemaParser::kDraft7);
    const json schema_document = json::parse(standard);
    parser.populateSchema(valijson::adapters::NlohmannJsonAdapter(schema_document), schema);
    valijson::Validator validator;
    CHECK(validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(sarif), nullptr));

    const json& run = sarif["runs"][0];
    const json& described = run["tool"]["driver"]["rules"];
    CHECK(described.size() == static_cast<std::size_t>(std::count_if(
                                  plan::finding_kinds().begin(), plan::finding_kinds().end(),
                                  [&](const auto& kind) { return includes(kind.by, by); })));
    for (const json& result : run["results"]) {
        // A result's index leads to the rule it names, with its help.
        const json& rule = described[result["ruleIndex"].get<std::size_t>()];
        CHECK(rule["id"] == result["ruleId"]);
        CHECK(rule.contains("help"));
        CHECK(result["locations"][0]["physicalLocation"].contains("region"));
    }
    json broken = sarif;
    broken["runs"][0]["results"][0]["level"] = "fatal";
    CHECK_FALSE(
        validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(broken), nullptr));
}
