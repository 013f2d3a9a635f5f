// Launching again, and where a route begins, worked out by hand (docs/model.md section 7).

#include "walk/lake.hpp"

using namespace hestrel;
using plan::mebibytes;
using plan::milliseconds;
using plan::seconds;
using tests::lake;
using tests::Lines;
using tests::Walked;
using Outcome = walk::Expectation::Outcome;

namespace {

/// The game begins in the hall (1.01 s); letters are saved, the key is not.
const std::string saves =
    "editions: {full: {levels: [hall, quay]}}\n"
    "facts: {letters: {initial: 0, range: [0, 9], lifetime: saved}, key: {initial: false}}\n"
    "veils: {dusk: {}}\n"
    "triggers:\n"
    "  t: {once: true, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{set: {letters: 2, key: "
    "true}}, {mark: hall.door}, {save: all}, {load: [quay]}, {veil: dusk}, {freeze: players}, "
    "{wait: 50 s}]}\n";

std::string route(const std::string& body) {
    return "routes: {r: {" + body + "}}\n";
}

} // namespace

TEST_CASE("a launch leaves nothing but the saved store, and boots as a walk of the edition") {
    // Fired at 11.01 s; launched 1 s later, while the quay is read, a veil is up and a list waits.
    const Walked launched(
        lake + saves +
        "routes: {r: {players: {ada: {steps: [{until: key}, {pause: 1 s}, {launch: again}, "
        "{expect: "
        "letters == 2 and not key and at(a) and not veiled and not frozen and not ready(quay)}, "
        "{go: "
        "b}]}, ben: {as: guest, steps: [{go: b}, {pause: 100 s}, {expect: at(a)}]}}}}\n");
    const walk::Record& record = launched.record;
    // Nobody walks to the trigger but ben, whose `go` the launch ends.
    const plan::Micros at = milliseconds(12'010);
    REQUIRE(record.launches == std::vector{at});
    CHECK(launched.all("fired", "t").size() == 2); // every `once` is armed again
    CHECK(launched.all("veil-down", "dusk").front() == at);
    CHECK(launched.all("boot-ended", "").size() == 2);
    CHECK(launched.all("boot-ended", "")[1] == at + milliseconds(1'010));
    CHECK(*record.boot == milliseconds(1'010));
    CHECK(record.expectations.front().outcome == Outcome::held);
    // What was in flight has gone at once: of the quay nothing is left, then the hall is read.
    for (const loading::MemoryRow& row : record.memory) {
        if (row.at == at) CHECK(row.total == mebibytes(100));
    }
    CHECK(launched.all("placed", "ben").empty());
}

TEST_CASE("where a launch follows, the end of the session leaves out what stands before it") {
    const Walked walked(
        lake + saves + "menus: {m: {in: hall, items: {quit: {steps: [{end: session}]}}}}\n" +
        "routes: {r: {steps: [{press: m.quit}, {go: b}, {expect: key}, {launch: again}, {pause: 1 "
        "s}]}}\n");
    const walk::Record& record = walked.record;
    CHECK_FALSE(record.stuck);
    CHECK_FALSE(record.session_ended);
    CHECK(walked.all("left-out", "player").size() == 2);
    CHECK(record.launches == std::vector{milliseconds(1'010)});
    CHECK(record.expectations.front().outcome == Outcome::never_reached);
    CHECK(record.end == milliseconds(3'020));
    CHECK(record.verdict == plan::Verdict::not_as_expected);
}

TEST_CASE("what a launch cuts short has failed; of two players one alone says when") {
    const std::string two = "routes: {r: {players: {ada: {steps: [{pause: 2 s}, {launch: again}]}, "
                            "ben: {as: guest, steps: [{expect: {that: key, within: 9 s}}, ";
    const Walked walked(lake + saves + two + "{pause: 1 s}]}}}}\n");
    REQUIRE(walked.record.expectations.size() == 1);
    CHECK(walked.record.expectations.front().outcome == Outcome::cut_short);
    CHECK(walked.record.end == milliseconds(3'010 + 1'010 + 1'000));
    const Lines both = tests::findings_of(std::string(tests::plain_device) + lake + saves + two +
                                          "{launch: again}]}}}}\n");
    REQUIRE(both.size() == 1);
    CHECK(both.front().find("ada launches the game again already") != std::string::npos);
}

TEST_CASE("a start with facts, a saved store, a checkpoint and loaded levels") {
    const std::string start =
        "start: {level: hall, facts: {letters: 3, key: true}, saved: {letters: "
        "5}, checkpoint: quay.end, loaded: [quay]}, steps: ";
    const Walked walked(lake + saves +
                        "menus: {m: {in: hall, items: {back: {steps: [{return: checkpoint}]}}}}\n" +
                        route(start + "[{expect: letters == 3 and key and ready(quay) and not "
                                      "shown(quay)}, {press: m.back}, {until: at(c)}, {launch: "
                                      "again}, {expect: letters == 5 and not key}]"));
    CHECK(walked.record.expectations.size() == 2);
    for (const walk::Expectation& each : walked.record.expectations)
        CHECK(each.outcome == Outcome::held);
    CHECK(*walked.record.boot == milliseconds(3'000)); // the quay is read after the hall
    CHECK_FALSE(walked.record.stuck);
    const auto wrong = [](const std::string& body) {
        return tests::findings_of(std::string(tests::plain_device) + lake + saves +
                                  route("start: {level: hall, " + body + "}, steps: []"));
    };
    CHECK(wrong("facts: {letters: 10}") ==
          Lines{"plan.yaml:17:43: error: letters is from 0 to 9, never 10  [wrong-value]"});
    CHECK(
        wrong("saved: {key: true}") ==
        Lines{
            "plan.yaml:17:43: error: key is never saved: its lifetime is another  [wrong-value]"});
    CHECK(wrong("checkpoint: quay.nowhere").size() == 1);
    CHECK(wrong("loaded: [quey]").size() == 1);
}
