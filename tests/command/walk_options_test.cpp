// hestrel walk's options: --set, --jobs, --details, --saved, --fresh, --delivery.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

namespace {

/// A hall of 100 MiB with a way of 10 m, and a trigger that shows a quay of 200 MiB.
const std::string lake = R"(hestrel: 1
devices:
  slow: &slow {memory: {total: 900}, read: {rate: 100}, frame: {fps: 100}, download: {rate: 10}}
  fast: {<<: *slow, read: {rate: 400}}
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, area: {min: [8, -1, -1], max: [10, 1, 1]}, entries: {steps: b}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
facts: {round: {initial: 0, range: [0, 9], lifetime: saved}}
triggers: {t: {in: hall, box: {min: [2, -1, -1], max: [3, 1, 1]}, steps: [{show: [quay]}, {set: {round: +1}}, {mark: quay.steps}, {save: all}]}}
editions: {full: {levels: [hall, quay], parcels: [{core: [hall]}, {coast: [quay]}]}}
routes: {there: {steps: [{go: b}]}, stay: {steps: [{pause: 1 s}]}}
)";

std::string peak_of(const Folder& folder, const std::string& options) {
    const auto result = run(
        folder,
        "HESTREL walk plan.yaml --no-figures --route there --device slow --format csv " + options);
    CAPTURE(result.err);
    const std::size_t row = result.out.find('\n') + 1;
    std::vector<std::string> cells{""};
    for (const char c : result.out.substr(row)) {
        if (c == ',') {
            cells.emplace_back();
        } else {
            cells.back() += c;
        }
    }
    return cells.size() > 14 ? cells[14]
                             : "exit " + std::to_string(result.code) + ": " + result.err;
}

} // namespace

TEST_CASE("walk --set tries a value, in merged and shared places too, and edits nothing",
          "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake);
    CHECK(peak_of(folder, "") == "300.000");
    CHECK(peak_of(folder, "--set levels.quay.memory.texture=50") == "150.000");
    CHECK(peak_of(folder, "--set 'levels.quay.memory={texture: 50, audio: 5}'") == "155.000");
    CHECK(peak_of(folder, "--set levels.quay.memory.audio=7") ==
          "307.000"); // a key that was not there
    CHECK(peak_of(folder, "--set levels.quay.area.min.0=9 --set levels.hall.memory.texture=1") ==
          "201.000");
    CHECK(contents(folder / "plan.yaml") == lake);

    // What the other device shares by merge key stays as it is.
    const auto both =
        run(folder, "HESTREL walk plan.yaml --no-figures --route there --format json --set "
                    "devices.fast.memory.total=111");
    const auto walks = nlohmann::json::parse(both.out)["walks"];
    CHECK(walks[0]["budget_mib"] == 900);
    CHECK(walks[1]["budget_mib"] == 111);

    const auto wrong = run(folder, "HESTREL walk plan.yaml --set levels.quey.packed=1");
    CHECK(wrong.code == 1);
    CHECK(wrong.err.find(
              "--set levels.quey.packed:1:1: error: there is no \"quey\" at levels; did you mean "
              "\"quay\"?  [unknown-name]") != std::string::npos);
    CHECK(run(folder, "HESTREL walk plan.yaml --set levels.quay.packed=much").code == 1);
    CHECK(run(folder, "HESTREL walk plan.yaml --set levels").code == 2);
    CHECK(run(folder, "HESTREL walk plan.yaml --set a..b=1").code == 2);
}

TEST_CASE("walk: the same bytes for any number of jobs", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake);
    const auto one = run(folder, "HESTREL walk plan.yaml --no-figures --json --jobs 1 --out one");
    const auto many = run(folder, "HESTREL walk plan.yaml --no-figures --json --jobs 7 --out many");
    CHECK(one.out == many.out);
    const auto names = folder.files();
    std::size_t compared = 0;
    for (const std::string& name : names) {
        if (!name.starts_with("one/")) continue;
        ++compared;
        CHECK(contents(folder / name) == contents(folder / ("many" + name.substr(3))));
    }
    CHECK(compared == 24);
    CHECK(run(folder, "HESTREL walk plan.yaml --jobs 0").code == 2);
}

TEST_CASE("walk --details: a walk transition by transition, as people read it", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake);
    const auto result =
        run(folder, "HESTREL walk plan.yaml --no-figures --route there --device slow --details");
    // Fired at x = 2, 2.01 s; read for 2 s, shown a frame later; needed at x = 8, 3 s after the
    // firing.
    CHECK(result.out == R"(there on slow: fine, 6.01 s long, boot 1.01 s, peak 300 of 900 MiB
Times are seconds since each firing.

  1  at 2.01 s  trigger t, settled 2.01 s later
     in order of asking         read  unpacked  shown  needed    slack
     quay                0.00 … 2.00             2.01    3.00  +990 ms
     peak 300 MiB: quay 200, hall 100
)");
    CHECK(result.code == 0);
    const std::string rows = contents(folder / "hestrel-out/walk/there--slow/transitions.csv");
    CHECK(rows ==
          "transition,cause,level,fired_s,ready_s,shown_s,needed_s,slack_s,lead_m,stall_s,peak_mib,"
          "overlap_mib,facts_reset\r\n"
          "1,trigger "
          "t,quay,2.010000,4.010000,4.020000,5.010000,0.990000,6.000,0.000000,300.000,0.000,\r\n");
}

TEST_CASE("walk --saved keeps the store between runs, --fresh begins without it", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake);
    const std::string walk =
        "HESTREL walk plan.yaml --no-figures --route there --device slow --saved store.json";
    const auto round = [&] {
        return nlohmann::json::parse(contents(folder / "store.json"))["facts"]["round"];
    };
    CHECK(run(folder, walk).code == 0);
    CHECK(contents(folder / "store.json") ==
          "{\"comment\":\"written by Hestrel\",\n \"facts\": {\n  \"round\": 1\n },\n "
          "\"checkpoint\": \"quay.steps\"\n}\n");
    CHECK(run(folder, walk).code == 0);
    CHECK(round() == 2);
    CHECK(run(folder, walk + " --fresh").code == 0);
    CHECK(round() == 1);
    CHECK(run(folder, "HESTREL walk plan.yaml --saved store.json").code == 2);
    for (const char* broken :
         {"{", "[]", R"({"facts": {"rund": 1}})", R"({"facts": {"round": 10}})",
          R"({"facts": {"round": true}})", R"({"checkpoint": "quay.nowhere"})", R"({"more": 1})"}) {
        CAPTURE(broken);
        folder.write("store.json", broken);
        const auto refused = run(folder, walk);
        CHECK(refused.code == 3);
        CHECK(refused.err.starts_with("hestrel: store.json: "));
        CHECK(contents(folder / "store.json") == broken);
    }
}

TEST_CASE("walk --findings: what the walks found, for build servers", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake);
    const auto result = run(
        folder, "HESTREL walk plan.yaml --no-figures --device slow --delivery --findings sarif");
    CHECK(result.code == 1);
    const auto sarif = nlohmann::json::parse(result.out);
    const auto& results = sarif["runs"][0]["results"];
    REQUIRE_FALSE(results.empty());
    CHECK(results[0]["ruleId"] == "not-delivered");
    const auto& rule =
        sarif["runs"][0]["tool"]["driver"]["rules"][results[0]["ruleIndex"].get<std::size_t>()];
    CHECK(rule["id"] == "not-delivered");
    CHECK(rule.contains("help"));
    CHECK(run(folder, "HESTREL walk plan.yaml --no-figures --findings junit")
              .out.find("<testsuite") != std::string::npos);
    CHECK(run(folder, "HESTREL walk plan.yaml --no-figures --findings xml").code == 2);
}

TEST_CASE("walk --delivery: what is asked for before it arrives is told, and costs the exit code",
          "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake);
    const auto result =
        run(folder, "HESTREL walk plan.yaml --no-figures --route there --device slow --delivery");
    CHECK(result.code == 1);
    CHECK(result.out.find("quay is asked for before it is delivered") != std::string::npos);
    const auto findings =
        nlohmann::json::parse(contents(folder / "hestrel-out/walk/findings.json"));
    CHECK(findings["findings"][0]["name"] == "not-delivered");
}
