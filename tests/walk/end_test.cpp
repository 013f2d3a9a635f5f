// Where a stuck walk ends, and what a `go`, a veil and a pause come to when players are placed
// (docs/model.md sections 5 and 7), worked out by hand.

#include "walk/lake.hpp"

using namespace hestrel;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;
using tests::at_x;
using tests::lake;
using tests::lake_route;
using tests::Walked;

namespace {

/// From a a gate on the path behind m, 10 m away, needs what nothing loads; n is 40 m the other
/// way.
const std::string gated = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}}
  sea: {memory: {texture: 1000}}
waypoints: {a: [0, 0, 0], m: [10, 0, 0], b: [100, 0, 0], n: [-40, 0, 0]}
paths: [[a, m], {from: m, to: b, gate: g}, [a, n]]
gates: {g: {needs: [quay]}}
players: {carrier: {speeds: {walk: 2}}}
)";

/// Nothing of a record lies after its end.
void check_nothing_after_end(const walk::Record& record) {
    const Micros end = record.end;
    for (const walk::Event& each : record.events) CHECK(each.at <= end);
    for (const walk::Spell& each : record.spells) CHECK(each.to <= end);
    for (const walk::Gap& each : record.gaps) CHECK(each.to <= end);
    for (const walk::Needed& each : record.needed) CHECK(each.to <= end);
    for (const walk::Track& each : record.tracks) CHECK(each.to <= end);
    for (const loading::MemoryRow& each : record.memory) CHECK(each.at <= end);
    for (const loading::Hitch& each : record.hitches) CHECK(each.at <= end);
    for (const loading::Holding& each : record.holdings) CHECK(each.to <= end);
    for (const loading::LoadRecord& each : record.loads)
        CHECK(each.read_end.value_or(Micros{}) <= end);
    for (const walk::TransitionOutcome& each : record.transition_outcomes)
        CHECK(each.settled <= end);
}

} // namespace

TEST_CASE("a stuck walk ends at the gate, and not when the go began") {
    const Walked walked(gated + lake_route("{go: b}"));
    REQUIRE(walked.record.stuck);
    CHECK(walked.record.end == at_x(10));
    CHECK(walked.record.shares.moving == seconds(5));
    CHECK(walked.record.shares.stalled == Micros{});
    check_nothing_after_end(walked.record);
}

TEST_CASE("a stuck walk ends when another player's steps are over") {
    const Walked walked(gated + R"(routes: {r: {start: {level: hall}, players: {
  ada: {as: carrier, steps: [{go: b}]},
  ben: {as: carrier, steps: [{go: n}]}}}}
)");
    REQUIRE(walked.record.stuck);
    CHECK(walked.record.end == milliseconds(21'010));
    CHECK(walked.record.shares_of[0].stalled == seconds(15));
    CHECK(walked.record.shares_of[1].moving == seconds(20));
    check_nothing_after_end(walked.record);
}

TEST_CASE("a stuck walk ends where a trigger freezes the player on the way") {
    const Walked walked = tests::past_one("box: {min: [50, -1, -1], max: [60, 1, 1]}, steps: "
                                          "[{freeze: players}]");
    CHECK(walked.stuck().ends_with("the player is frozen, and nothing thaws it"));
    CHECK(walked.record.end == at_x(50));
    CHECK(walked.record.shares.moving == seconds(25));
    check_nothing_after_end(walked.record);
}

TEST_CASE("what a stuck walk would still have loaded is left out") {
    const Walked walked(
        gated +
        "triggers: {t: {box: {min: [2, -1, -1], max: [3, 1, 1]}, steps: [{load: [sea]}]}}\n" +
        lake_route("{go: b}"));
    CHECK(walked.record.end == at_x(10)); // sea would be there 10 s after x = 2
    CHECK(walked.when("ready", "sea") == tests::never);
    REQUIRE(walked.record.loads.size() == 2);
    CHECK(walked.record.loads[1].read_start == at_x(2));
    CHECK_FALSE(walked.record.loads[1].read_end);
    check_nothing_after_end(walked.record);
}

TEST_CASE("a gap that is open when limits.walk is over ends there") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, area: [{min: [40, -1, -1], max: [60, 1, 1]}]}
waypoints: {a: [0, 0, 0], b: [50, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
limits: {walk: 40 s, gap: 5 s}
routes: {r: {start: {level: hall}, steps: [{go: b}, {pause: 1000 s}]}}
)");
    REQUIRE(walked.record.gaps.size() == 1);
    CHECK(walked.record.gaps[0].from == at_x(40));
    CHECK(walked.record.gaps[0].to == seconds(40));
    CHECK(walked.record.needed[0].to == seconds(40));
    CHECK(std::any_of(walked.record.findings.begin(), walked.record.findings.end(),
                      [](const auto& each) { return each.name == "stood-in-gap"; }));
    CHECK(walked.record.shares.pausing == seconds(40) - at_x(50));
    check_nothing_after_end(walked.record);
}

TEST_CASE("a walk without an end says what goes on: who is placed, how often and by what") {
    const Walked placed(lake + R"(limits: {walk: 200 s}
facts: {n: {initial: 0, range: [0, 9]}}
menus: {m: {in: hall, items: {}, after: {delay: 1 s, steps: [{place: {at: hall.door}, who: all}, {open: m}]}}}
)" + lake_route("{go: b}, {until: n == 1}"));
    CHECK(placed.stuck().ends_with("\"n == 1\" never comes true; placed 198 times by after m"));
    CHECK(placed.record.end == seconds(200));
}

TEST_CASE("an until that never comes true says which part of it does not hold") {
    const Walked walked(lake + "facts: {n: {initial: 0, range: [0, 9]}}\n" +
                        lake_route("{until: shown(hall) and (n == 1 or n == 2) and not veiled}"));
    CHECK(walked.stuck().ends_with(": \"n == 1 or n == 2\" does not hold"));
}

TEST_CASE("veiled comes before pausing") {
    // The boot ends at 1.01 s; the menu opens then, and its after comes 2 s later.
    const Walked walked(lake + R"(veils: {mist: {min: 1 s}}
menus: {m: {in: hall, items: {}, after: {delay: 2 s, steps: [{veil: mist}, {unveil: mist}]}}}
)" + lake_route("{pause: 5 s}"));
    CHECK(walked.record.shares.veiled == seconds(1));
    CHECK(walked.record.shares.pausing == seconds(4));
}

TEST_CASE("a go ends once, however often its player is placed in one instant") {
    const Walked walked = tests::past_one(
        "once: true, box: {min: [50, -1, -1], max: [60, 1, 1]}, steps: [{place: {at: quay.end}}, "
        "{place: {at: hall.door}}]",
        "{go: b}, {pause: 1 s}, {go: b}");
    CHECK_FALSE(walked.record.stuck);
    CHECK(walked.all("go-ended", "player").size() == 1);
    CHECK(walked.when("arrived", "player") == at_x(50) + seconds(51));
}

TEST_CASE("a go at a gate that is placed where it stands ends, too") {
    std::string text = gated;
    text.replace(text.find("{door: a}"), 9, "{door: a, gate: m}");
    // At m, before the gate, at 6.01 s; the trigger fired half a second before.
    const Walked walked(text +
                        "triggers: {t: {once: true, box: {min: [9, -1, -1], max: [11, 1, 1]}, "
                        "steps: [{wait: 3 s}, {place: {at: hall.gate}}]}}\n" +
                        lake_route("{go: b}, {pause: 1 s}"));
    CHECK_FALSE(walked.record.stuck);
    CHECK(walked.when("go-ended", "player") == milliseconds(8'510));
    CHECK(walked.record.end == milliseconds(9'510));
}

TEST_CASE("a go that is not under way begins where its player is placed") {
    // Frozen at x = 0 when the go's turn comes; placed at c, thawed, it goes from there: 50 m.
    const Walked walked(lake + R"(
menus: {m: {in: hall, items: {}, after: {delay: 1 s, steps: [{freeze: players}, {wait: 1 s}, {place: {at: quay.end}, who: all}, {wait: 1 s}, {thaw: players}]}}}
)" + lake_route("{pause: 1500 ms}, {go: b}"));
    CHECK(walked.when("go-ended", "player") == tests::never);
    CHECK(walked.when("set-out", "player") == milliseconds(4'010));
    CHECK(walked.when("arrived", "player") == milliseconds(4'010 + 25'000));
}
