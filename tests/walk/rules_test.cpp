// Rules in time (docs/model.md section 7): stretches in which one is broken, worked out by hand.

#include "walk/lake.hpp"

using namespace hestrel;
using plan::milliseconds;
using plan::seconds;
using tests::at_x;
using tests::lake_route;
using tests::Walked;

namespace {

/// A hall and a quay with a camera each. At x = 10, at 6.01 s, a trigger runs `steps`; the quay is
/// shown 2.01 s after it is asked for.
Walked with_rule(const std::string& rule, const std::string& steps,
                 const std::string& route = "{go: b}") {
    return Walked(
        "levels:\n  hall: {memory: {texture: 100}, provides: [camera], entries: {door: "
        "a}}\n  quay: {memory: {texture: 200}, provides: [camera], entries: {steps: b}}\n"
        "waypoints: {a: [0, 0, 0], b: [100, 0, 0]}\npaths: [[a, b]]\n"
        "players: {carrier: {speeds: {walk: 2}}}\nfacts: {n: {initial: 0, range: [0, 9]}}\n"
        "triggers: {t: {box: {min: [10, -1, -1], max: [11, 1, 1]}, steps: [" +
        steps + "]}}\nrules: [{" + rule + "}]\n" + lake_route(route));
}

std::vector<std::string> messages_of(const Walked& walked) {
    std::vector<std::string> messages;
    for (const plan::Finding& each : walked.record.findings) {
        if (each.name == "rule-broken") messages.push_back(each.message);
    }
    return messages;
}

const std::string both_for_a_moment =
    "{show: [quay]}, {wait: {shown: [quay]}}, {wait: 300 ms}, {hide: [hall]}";

} // namespace

TEST_CASE("a rule is broken from when to when, with what was counted") {
    const Walked walked = with_rule("exactly: 1, of: camera", both_for_a_moment);
    REQUIRE(walked.record.breaches.size() == 1);
    CHECK(walked.record.breaches[0].from == at_x(10) + milliseconds(2'010));
    CHECK(walked.record.breaches[0].to == at_x(10) + milliseconds(2'310));
    CHECK(messages_of(walked) ==
          tests::Lines{"at 8.02 s for 300 ms \"exactly: 1, of: camera\" does not hold: 2 are "
                       "provided (hall, quay) (r on box)"});
    CHECK(walked.record.verdict == plan::Verdict::breaks_rule);
}

TEST_CASE("what is broken for no longer than a rule allows does not count") {
    CHECK(messages_of(with_rule("exactly: 1, of: camera, longer-than: 300 ms", both_for_a_moment))
              .empty());
    CHECK(messages_of(with_rule("exactly: 1, of: camera, longer-than: 299 ms", both_for_a_moment))
              .size() == 1);
}

TEST_CASE("a rule of what has settled is not asked while a list runs") {
    CHECK(
        messages_of(with_rule("exactly: 1, of: camera, settled: true", both_for_a_moment)).empty());
    // The quay stays: all has settled once it is shown, until the walk's end.
    const Walked walked = with_rule("exactly: 1, of: camera, settled: true", "{show: [quay]}");
    REQUIRE(walked.record.breaches.size() == 1);
    CHECK(walked.record.breaches[0].from == at_x(10) + milliseconds(2'010));
    CHECK(walked.record.breaches[0].to == walked.record.end);
}

TEST_CASE("rules of exactly and at-least rest while a switch has not placed its players") {
    // The hall leaves when the quay is ready; a frame later that is shown.
    const std::string leave = "{switch: {to: quay}}";
    CHECK(messages_of(with_rule("at-least: 1, of: camera", leave)).empty());
    const Walked walked = with_rule("at-least: 1, of: camera, during-switches: true", leave);
    REQUIRE(walked.record.breaches.size() == 1);
    CHECK(walked.record.breaches[0].from == at_x(10) + seconds(2));
    CHECK(walked.record.breaches[0].to == at_x(10) + milliseconds(2'010));
    CHECK(messages_of(walked)[0].find("nothing that is shown provides camera") !=
          std::string::npos);
    // Others do not rest.
    const Walked never = with_rule("never: not shown(hall) and not shown(quay)", leave);
    REQUIRE(never.record.breaches.size() == 1);
}

TEST_CASE("a condition that must never hold: which part of it did") {
    const Walked walked = with_rule("never: n == 1 or inside(t)", "{set: {n: 2}}");
    CHECK(messages_of(walked) ==
          tests::Lines{"at 6.01 s for 500 ms \"never: n == 1 or inside(t)\" does not hold: "
                       "\"inside(t)\" is so (r on box)"});
}

TEST_CASE("never together: which are shown") {
    const Walked walked = with_rule("never-together: [hall, quay]", both_for_a_moment);
    CHECK(messages_of(walked) ==
          tests::Lines{"at 8.02 s for 300 ms \"never-together: [hall, quay]\" does not hold: hall, "
                       "quay are shown together (r on box)"});
}
