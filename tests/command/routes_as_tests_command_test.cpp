// Routes as a test suite: what a build server reads, what is told to keep, what carries.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

const std::string hall_to_quay = R"(hestrel: 1
name: Lake
devices:
  small: {memory: {total: 250}, read: {rate: 100}, frame: {fps: 100}}
  large: {memory: {total: 900}, read: {rate: 500}, frame: {fps: 100}}
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: b}}
editions: {full: {levels: [hall, quay]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
facts: {key: {initial: false}, rounds: {initial: 0, range: [0, 3], lifetime: saved}}
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, when: not key, steps: [{set: {key: true}}, {switch: {to: quay}}]}
menus: {m: {in: quay, items: {home: {when: key, steps: [{set: {rounds: +1}}, {save: all}, {end: session}]}}}}
routes:
  there:
    steps:
      - {go: b}
      - {expect: {that: shown(quay) and key, within: 3 s}}
      - expect: memory < 250
      - expect: now
  never: {steps: [{until: rounds == 3}, {expect: key}]}
)";

} // namespace

TEST_CASE("walk --findings junit: a case for each route on each device", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", hall_to_quay);
    const auto result =
        run(folder, "HESTREL walk plan.yaml --no-figures --findings junit > junit.xml; code=$?; "
                    "xmllint --noout --nonet junit.xml && exit $code");
    CHECK(result.code == 1);
    const std::string xml = tests::contents(folder / "junit.xml");
    CHECK(xml.find("<testsuite name=\"Lake\" tests=\"4\" failures=\"3\">") != std::string::npos);
    CHECK(xml.find("name=\"there on large\"") != std::string::npos);
    // A bad verdict is a failure; so is what was never reached.
    CHECK(xml.find("<failure type=\"over budget\"") != std::string::npos);
    CHECK(xml.find("<failure type=\"stuck\"") != std::string::npos);
    CHECK(xml.find("&quot;key&quot; is expected, but the route never comes to that") !=
          std::string::npos);
    CHECK(xml.find("plan.yaml:21:9: held: shown(quay) and key within 3.00 s") != std::string::npos);
}

TEST_CASE("walk tells what holds, and what carries", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", hall_to_quay);
    const auto result = run(
        folder, "HESTREL walk plan.yaml --route there --device large --no-figures --json --out o");
    CHECK(result.code == 0);
    CHECK(result.out.find("plan.yaml:23:9: holds at ") != std::string::npos);
    CHECK(result.out.find("- expect: at(b) and shown(quay) and key and rounds == 0\n") !=
          std::string::npos);
    CHECK(tests::contents(folder / "o/there--large/carries.csv") ==
          "fact,lifetime,transition,from,to,how,times\r\n"
          "key,session,trigger t,false,true,set,1\r\n");
    const auto json = nlohmann::json::parse(tests::contents(folder / "o/there--large/walk.json"));
    REQUIRE(json["expectations"].size() == 3);
    CHECK(json["expectations"][0]["outcome"] == "held");
    CHECK(json["expectations"][2]["holds"] == "at(b) and shown(quay) and key and rounds == 0");
}

TEST_CASE("compare names facts that carry otherwise", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", hall_to_quay);
    std::string other = hall_to_quay;
    other.replace(other.find("key: {initial: false}"), 21,
                  "key: {initial: false, lifetime: level}");
    folder.write("other.yaml", other);
    const auto result =
        run(folder, "HESTREL compare plan.yaml other.yaml --device large --route there");
    CHECK(result.out.find("carries otherwise now") != std::string::npos);
    CHECK(result.out.find("trigger t") != std::string::npos);
    CHECK(result.out.find("set or reset") != std::string::npos);
}

TEST_CASE("explore begins where a route starts, or where it ends", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", hall_to_quay);
    const auto explore = [&](const std::string& options) {
        return run(folder, "HESTREL explore plan.yaml --device large --no-figures " + options);
    };
    const auto whole = explore("");
    const auto from = explore("--from there");
    const auto after = explore("--after there");
    CHECK(whole.out.find("situations") != std::string::npos);
    CHECK(from.code < 2);
    CHECK(after.code < 2);
    const auto count = [](const std::string& out) {
        return std::stoi(out.substr(out.find(": ") + 2));
    };
    CHECK(count(from.out) == count(whole.out));
    CHECK(count(after.out) < count(whole.out)); // the hall is not met again
    CHECK(explore("--after there --from there").code == 2);
    CHECK(explore("--after there --witness w").code == 2);
    CHECK(explore("--after never").code == 2); // it gets stuck
    CHECK(explore("--after none").code == 2);
    folder.write("saved.json", R"({"facts": {"rounds": 2}})");
    CHECK(count(explore("--saved saved.json").out) > 0);
    folder.write("saved.json", R"({"facts": {"letters": 2}})");
    const auto wrong = explore("--saved saved.json");
    CHECK(wrong.code == 3);
    CHECK(wrong.err.find("the plan saves no fact \"letters\"") != std::string::npos);
    CHECK(count(explore("--quit-anywhere").out) >= count(whole.out));
}

TEST_CASE("advise --least: the least machine as a table", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", hall_to_quay);
    const auto result =
        run(folder, "HESTREL advise plan.yaml --least --route there --device large");
    CHECK(result.out.find("read rate") != std::string::npos);
    CHECK(folder.files() == std::vector<std::string>{"hestrel-out/advise/.hestrel-written",
                                                     "hestrel-out/advise/least.csv", "plan.yaml"});
    CHECK(run(folder, "HESTREL advise plan.yaml --least --apply 1").code == 2);
}
