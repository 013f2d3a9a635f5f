// Routes as tests: what they expect, worked out by hand (docs/model.md section 7).

#include "walk/lake.hpp"

using namespace hestrel;
using plan::milliseconds;
using plan::seconds;
using tests::lake;
using tests::lake_route;
using tests::Lines;
using tests::Walked;
using Outcome = walk::Expectation::Outcome;

namespace {

/// At x = 20 (11.01 s) the quay is asked for: resident 2 s later, shown 10 ms after that.
const std::string streams =
    "facts: {letters: {initial: 0, range: [0, 9]}, bell: {initial: none, values: [none, both]}}\n"
    "triggers: {t: {box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{set: {letters: +2}}, "
    "{show: [quay]}]}}\n";

Walked expecting(const std::string& steps) {
    return Walked(lake + streams + lake_route(steps));
}

std::vector<Outcome> outcomes(const walk::Record& record) {
    std::vector<Outcome> all;
    for (const walk::Expectation& each : record.expectations) all.push_back(each.outcome);
    return all;
}

Lines messages(const walk::Record& record) {
    Lines all;
    for (const plan::Finding& finding : record.findings) {
        if (finding.name == "expectation-failed") all.push_back(finding.message);
    }
    return all;
}

} // namespace

TEST_CASE(
    "what holds takes no time; what does not is told with its values, and the route goes on") {
    const Walked walked = expecting("{expect: letters == 0 and at(a)}, {go: b}, {expect: letters "
                                    "== 3 or bell == both}, {pause: 1}");
    CHECK(outcomes(walked.record) == std::vector{Outcome::held, Outcome::failed});
    CHECK(
        messages(walked.record) ==
        Lines{
            "at 51.01 s \"letters == 3 or bell == both\" is expected and does not hold: letters is "
            "2, bell is none; the player is at b (r on box)"});
    CHECK(walked.record.verdict == plan::Verdict::not_as_expected);
    CHECK(walked.record.end == seconds(52) + milliseconds(10));
    CHECK_FALSE(walked.record.stuck);
}

TEST_CASE("within waits as long as it may, and counts as pausing") {
    const std::string to_shore = "{pause: 10 s}, {go: b, speed: run}, ";
    // At a run the quay is shown at 10 + 1.01 + 4 + 2.01 s; the player is at b at 31.01 s.
    const Walked late = Walked(lake + streams +
                               lake_route("{go: c}, {expect: {that: not shown(quay), "
                                          "within: 5 s}}"));
    CHECK(late.record.expectations.front().at == late.record.end); // nothing happens any more
    CHECK(late.record.expectations.front().at == seconds(76) + milliseconds(10));
    const Walked soon = Walked(
        lake +
        "triggers: {t: {box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: [quay]}]}}\n"
        "routes: {r: {start: {level: hall}, players: {ada: {steps: [{go: b}]}, ben: {as: "
        "guest, steps: [{expect: {that: shown(quay), within: 20 s}}, {expect: {that: not "
        "shown(quay), within: 3 s}}, {pause: 1 s}]}}}}\n");
    CHECK(outcomes(soon.record) == std::vector{Outcome::held, Outcome::failed});
    CHECK(soon.record.expectations[0].at == seconds(13) + milliseconds(20));
    CHECK(soon.record.expectations[1].at == seconds(16) + milliseconds(20));
    CHECK(soon.record.shares_of[1].pausing == seconds(16) + milliseconds(10));
    CHECK(soon.record.shares_of[1].stalled.count == 0);
}

TEST_CASE("memory and what is queued are asked again once reads have begun") {
    const Walked walked = expecting("{go: b, speed: run}, {until: memory > 200}, {expect: not "
                                    "queued(quay)}, {expect: memory == "
                                    "300}");
    CHECK(outcomes(walked.record) == std::vector{Outcome::held, Outcome::held});
    const Walked queued(lake + "menus: {m: {items: {x: {steps: [{load: [quay]}]}}}}\n" +
                        "triggers: {t: {when: speed == 0, once: true, steps: [{open: m}]}}\n" +
                        lake_route("{press: m.x}, {expect: queued(quay)}, {expect: {that: memory > "
                                   "200, within: 0}}, {pause: 1}"));
    CHECK(outcomes(queued.record) == std::vector{Outcome::held, Outcome::held});
}

TEST_CASE("one that is never reached has failed, too") {
    const Walked stuck = expecting("{until: letters == 7}, {expect: letters == 0}");
    CHECK(stuck.record.stuck);
    CHECK(outcomes(stuck.record) == std::vector{Outcome::never_reached});
    CHECK(messages(stuck.record) ==
          Lines{"at 1.01 s \"letters == 0\" is expected, but the route never comes to that (r on "
                "box)"});
    CHECK(stuck.record.verdict == plan::Verdict::stuck);
}

TEST_CASE("expect: now tells what holds there, and holds where it is put") {
    const std::string now = "{go: b}, {pause: 5 s}, ";
    const Walked told = expecting(now + "{expect: now}");
    REQUIRE(outcomes(told.record) == std::vector{Outcome::kept});
    const std::string kept = tables::kept_text(told.plan, told.record.expectations.front());
    CHECK(kept == "at(b) and shown(hall) and shown(quay) and letters == 2 and bell == none");
    CHECK(told.record.verdict == plan::Verdict::fine);
    CHECK(outcomes(expecting(now + "{expect: " + kept + "}").record) == std::vector{Outcome::held});
}

TEST_CASE("bad expectations have their place inside the expression") {
    const auto findings = [](const std::string& steps) {
        return tests::findings_of(std::string(tests::plain_device) + lake + streams +
                                  lake_route(steps));
    };
    CHECK(
        findings("{expect: letters == 2 and shown(quey)}") ==
        Lines{"plan.yaml:14:76: error: in this condition no level is called \"quey\"; did you mean "
              "\"quay\"?  [unknown-name]"});
    CHECK(findings("{expect: {that: letters == 2, within: -1}}").size() == 1);
    CHECK(findings("{expect: {within: 1}}").size() == 1);
    CHECK(findings("{launch: twice}").size() == 1);
    const Lines asked = tests::findings_of(
        std::string(tests::plain_device) + lake +
        "triggers: {t: {when: memory > 3, steps: []}, u: {when: not queued(hall), steps: []}}\n" +
        lake_route(""));
    CHECK(
        asked ==
        Lines{"plan.yaml:12:22: error: in this condition only a route may ask for memory: it hangs "
              "on time and device  [wrong-value]",
              "plan.yaml:12:60: error: in this condition only a route may ask for what is queued: "
              "it hangs on time and device  [wrong-value]"});
}
