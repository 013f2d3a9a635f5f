// hestrel check on files: what it prints, its formats and exit codes.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

const std::string suspicious =
    "hestrel: 1\nlevels:\n  hall: {memory: {texture: 1}}\n  \"quay\": {memory: {texture: 1}}\n"
    "routes: {r: {start: {level: hall}, steps: []}}\n";
const std::string wrong = "hestrel: 1\nkits: {Wood: }\nlevels: {hall: {kits: [wood]}}\n";

} // namespace

TEST_CASE("check prints findings as a compiler would, then their count", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", suspicious);
    const auto warned = run(folder, "HESTREL check plan.yaml");
    CHECK(warned.code == 0);
    CHECK(warned.out ==
          "plan.yaml:4:3: warning: nothing uses the level quay  [unused-definition]\n1 warning\n");
    CHECK(run(folder, "HESTREL check plan.yaml --quiet").out.empty());
    folder.write("bad.yaml", wrong);
    const auto failed = run(folder, "HESTREL check bad.yaml");
    CHECK(failed.code == 1);
    CHECK(failed.out == "bad.yaml:3:24: error: no kit is called \"wood\"; it differs from \"Wood\" "
                        "only in capitals  "
                        "[unknown-name]\n1 error\nRules about what the plan lacks wait until it "
                        "can be read whole.\n");
    CHECK(run(folder, "HESTREL check nowhere.yaml").code == 3);
    CHECK(run(folder, "HESTREL check").code == 2);
    CHECK(run(folder, "HESTREL check plan.yaml --out x").code == 2);
    CHECK(run(folder, "HESTREL check plan.yaml --findings xml").code == 2);
}

TEST_CASE("on a terminal the source line stands under a finding, with a caret", "[program]") {
    const Folder folder;
    folder.write("bad.yaml", wrong);
    const auto result = run(folder, "script -qec 'HESTREL check bad.yaml' /dev/null | tr -d '\\r'");
    CHECK(result.out.find("\n    levels: {hall: {kits: [wood]}}\n                           ^\n") !=
          std::string::npos);
}

TEST_CASE("check as SARIF: schema's version, rules with help, a region for each result",
          "[program]") {
    const Folder folder;
    folder.write("my plans/plan.yaml", suspicious);
    const auto result =
        run(folder, "HESTREL check 'my plans/plan.yaml' --findings sarif --out found.sarif");
    CHECK(result.code == 0);
    const auto sarif = nlohmann::json::parse(tests::contents(folder / "found.sarif"));
    CHECK(sarif["version"] == "2.1.0");
    const auto& run_of = sarif["runs"][0];
    CHECK(run_of["tool"]["driver"]["name"] == "Hestrel");
    REQUIRE(run_of["results"].size() == 1);
    const auto& found = run_of["results"][0];
    CHECK(found["ruleId"] == "unused-definition");
    CHECK(found["level"] == "warning");
    const auto& rule = run_of["tool"]["driver"]["rules"][found["ruleIndex"].get<std::size_t>()];
    CHECK(rule["id"] == "unused-definition");
    CHECK_FALSE(rule["help"]["text"].get<std::string>().empty());
    const auto& location = found["locations"][0]["physicalLocation"];
    CHECK(location["artifactLocation"]["uri"] == "my%20plans/plan.yaml");
    CHECK(location["region"] == nlohmann::json{{"startLine", 4}, {"startColumn", 3}});
}

TEST_CASE("check as JSON and as JUnit XML", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", wrong);
    const auto json =
        nlohmann::json::parse(run(folder, "HESTREL check plan.yaml --findings json").out);
    CHECK(json["findings"][0]["name"] == "unknown-name");
    CHECK(json["findings"][0]["line"] == 3);
    const auto junit = run(folder, "HESTREL check plan.yaml --findings junit");
    CHECK(junit.code == 1);
    CHECK(junit.out.starts_with(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?> <!-- written by Hestrel -->\n"
        "<testsuite name=\"plan\" tests=\""));
    CHECK(junit.out.find("failures=\"1\"") != std::string::npos);
    CHECK(junit.out.find("no kit is called &quot;wood&quot;") != std::string::npos);
}

TEST_CASE("check lists its rules and explains one", "[program]") {
    const Folder folder;
    const auto list = run(folder, "HESTREL check --list");
    CHECK(list.code == 0);
    CHECK(list.out.find("\ngate-without-load         error     A gate needs a level that nothing "
                        "ever asks for.\n") != std::string::npos);
    CHECK(list.out.find("\nstood-in-gap ") != std::string::npos); // a walk's are explained too
    CHECK(run(folder, "HESTREL check --explain over-budget").code == 0);
    const auto explained = run(folder, "HESTREL check --explain gate-without-load");
    CHECK(explained.code == 0);
    CHECK(explained.out.starts_with("gate-without-load (error)\n\nA gate needs"));
    CHECK(explained.out.find("gates: {quay-door: {needs: [quay]}}") != std::string::npos);
    CHECK(run(folder, "HESTREL check --explain gate-witout-load").err ==
          "hestrel: no rule is called \"gate-witout-load\"; did you mean \"gate-without-load\"?\n");
}
