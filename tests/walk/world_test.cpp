// Walks in the world: shapes and firings, gates, worlds, near rules, worked out by hand.

#include "walk/lake.hpp"

using namespace hestrel;
using plan::Micros;
using plan::milliseconds;
using tests::at_x;
using tests::lake;
using tests::lake_route;
using tests::never;
using tests::past_one;
using tests::Walked;

// --- shapes and firings ------------------------------------------------------

TEST_CASE("a sphere, a half-space and a turned box are entered and left where they are cut") {
    const Walked sphere = past_one("sphere: {at: [50, 0, 0], radius: 10}, steps: []");
    CHECK(sphere.when("entered", "t") == at_x(40));
    CHECK(sphere.when("left", "t") == at_x(60));
    // 6 m beside its centre: half a chord of 8 m.
    const Walked beside = past_one("sphere: {at: [50, 0, 6], radius: 10}, steps: []");
    CHECK(beside.when("entered", "t") == at_x(42));
    CHECK(beside.when("left", "t") == at_x(58));
    const Walked touched = past_one("sphere: {at: [50, 0, 10], radius: 10}, steps: []");
    CHECK(touched.when("entered", "t") == at_x(50));
    CHECK(touched.when("left", "t") == at_x(50));
    const Walked beyond = past_one("beyond: {axis: x, over: 80}, steps: []");
    CHECK(beyond.when("entered", "t") == at_x(80));
    CHECK(beyond.when("left", "t") == never);
    const Walked under = past_one("beyond: {axis: x, under: 20}, steps: []");
    CHECK(under.when("entered", "t") == Micros{}); // it begins there
    CHECK(under.when("left", "t") == at_x(20));
    // 20 m by 10 m, turned by a quarter about its centre (50, 0).
    const Walked turned =
        past_one("box: {min: [40, -1, -5], max: [60, 1, 5], turn: 90}, steps: []");
    CHECK(turned.when("entered", "t") == at_x(45));
    CHECK(turned.when("left", "t") == at_x(55));
}

TEST_CASE("on-exit fires for who was inside while it was live") {
    const std::string box = "box: {min: [40, -1, -1], max: [60, 1, 1]}, fires: on-exit, steps: []";
    CHECK(past_one("in: hall, " + box).when("fired", "t") == at_x(60));
    // Of a level that is shown only once the player has left: at x = 58 the quay is asked for, and
    // shown at 32.02 s, when the player is at x = 62.02.
    const Walked late =
        past_one("in: quay, " + box, "{go: b}",
                 "menus: {m: {in: hall, items: {}, after: {delay: 29 s, steps: [{show: "
                 "[quay]}]}}}\n");
    CHECK(late.when("shown", "quay") == milliseconds(1'010 + 29'000 + 2'010));
    CHECK(late.when("left", "t") == at_x(60));
    CHECK(late.when("fired", "t") == never);
}

TEST_CASE("while-inside fires when being inside, live and its condition come together") {
    const std::string facts = "facts: {n: {initial: 0, range: [0, 9]}}\n";
    const std::string bump =
        "  s: {box: {min: [50, -1, -1], max: [52, 1, 1]}, steps: [{set: {n: +1}}]}\n";
    const Walked walked(lake + facts +
                        "triggers:\n  t: {box: {min: [40, -1, -1], max: [60, 1, 1]}, fires: "
                        "while-inside, when: n == 1, steps: []}\n" +
                        bump + lake_route("{go: b}"));
    CHECK(walked.when("entered", "t") == at_x(40));
    CHECK(walked.when("fired", "t") == at_x(50));
    CHECK(walked.all("fired", "t").size() == 1);
    // Becoming true again fires again: out and back in.
    const Walked twice(lake + facts +
                       "triggers:\n  t: {box: {min: [40, -1, -1], max: [60, 1, 1]}, fires: "
                       "while-inside, when: n >= 0, steps: []}\n" +
                       lake_route("{go: b}, {go: a}"));
    CHECK(twice.all("fired", "t") == std::vector<Micros>{at_x(40), at_x(140)});
}

TEST_CASE("a trigger without a shape fires when its condition becomes true, each time") {
    const Walked walked(
        lake +
        "facts: {n: {initial: 0, range: [0, 9]}}\ntriggers:\n"
        "  t: {when: n == 1, steps: [{wait: 1 s}]}\n"
        "  boot: {when: shown(hall), steps: []}\n" +
        lake_route("{pause: 2 s}, {set: {n: 1}}, {pause: 2 s}, {set: {n: 0}}, {pause: 1 s}, "
                   "{set: {n: {to: 1}}}"));
    CHECK(walked.when("fired", "boot") == milliseconds(1'010));
    CHECK(walked.all("fired", "t") ==
          std::vector<Micros>{milliseconds(3'010), milliseconds(6'010)});
}

TEST_CASE("what a list sets and takes back without waiting is never seen") {
    const Walked walked(lake +
                        "facts: {n: {initial: 0, range: [0, 9]}}\ntriggers:\n"
                        "  t: {when: n == 1, steps: []}\n"
                        "  s: {box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: [{set: {n: 1}}, "
                        "{set: {n: 0}}]}\n" +
                        lake_route("{go: b}"));
    CHECK(walked.all("fact-set", "n").size() == 2);
    CHECK(walked.when("fired", "t") == never);
}

TEST_CASE("for: only players with one of the tags") {
    const std::string box = "box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: []";
    CHECK(past_one("for: [guest], " + box).when("fired", "t") == never);
    CHECK(past_one("for: [guest, carrier], " + box).when("fired", "t") == at_x(40));
}

TEST_CASE("once and rearm: there and back through x = 40 to 60") {
    const auto fired = [](const std::string& rule) {
        return past_one(rule + "box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: []",
                        "{go: b}, {go: a}")
            .all("fired", "t");
    };
    // Entered at x = 40 after 20 s of walking, and coming back at x = 60, 50 s later.
    CHECK(fired("") == std::vector<Micros>{at_x(40), at_x(140)});
    CHECK(fired("once: true, ") == std::vector<Micros>{at_x(40)});
    CHECK(fired("rearm: 50 s, ") == std::vector<Micros>{at_x(40), at_x(140)});
    CHECK(fired("rearm: 50.1 s, ") == std::vector<Micros>{at_x(40)});
    const Walked lost = past_one(
        "rearm: 60 s, box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: []", "{go: b}, {go: a}");
    CHECK(lost.all("firing-lost", "t") == std::vector<Micros>{at_x(140)});
    // reset: session arms what fired once.
    const Walked armed(lake +
                       "triggers:\n  t: {once: true, box: {min: [40, -1, -1], max: [60, 1, 1]}, "
                       "steps: []}\n  s: {box: {min: [80, -1, -1], max: [90, 1, 1]}, steps: "
                       "[{reset: session}]}\n" +
                       lake_route("{go: b}, {go: a}"));
    CHECK(armed.all("fired", "t").size() == 2);
}

TEST_CASE("when: the firing player's speed, 0 when standing") {
    const std::string fast =
        "box: {min: [40, -1, -1], max: [60, 1, 1]}, when: speed >= 3, steps: []";
    CHECK(past_one(fast).when("fired", "t") == never);
    CHECK(past_one(fast, "{go: b, speed: run}").when("fired", "t") == milliseconds(9'010));
    // Stopping inside makes a condition on speed true.
    const Walked stops =
        past_one("box: {min: [90, -1, -1], max: [110, 1, 1]}, fires: while-inside, "
                 "when: speed == 0, steps: []",
                 "{go: b}, {pause: 1 s}");
    CHECK(stops.when("fired", "t") == at_x(100));
}

// --- gates and ways ----------------------------------------------------------

TEST_CASE("a closed gate holds the player at the path's start until its levels are shown") {
    const std::string gated = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}}
waypoints: {a: [0, 0, 0], m: [10, 0, 0], b: [100, 0, 0]}
paths: [[a, m], {from: m, to: b, gate: g}]
gates: {g: {needs: [quay]}}
players: {carrier: {speeds: {walk: 2}}}
)";
    const Walked walked(gated +
                        "triggers: {t: {box: {min: [9, -1, -1], max: [11, 1, 1]}, steps: [{show: "
                        "[quay]}]}}\n" +
                        lake_route("{go: b}"));
    // Fired at x = 9 (5.51 s); shown 2.01 s later; the player is at m from 6.01 s on.
    CHECK(walked.when("at-gate", "player") == milliseconds(6'010));
    CHECK(walked.when("through-gate", "player") == milliseconds(7'520));
    CHECK(walked.when("arrived", "player") == milliseconds(7'520 + 45'000));
    CHECK(walked.record.shares.stalled == milliseconds(1'510));
    REQUIRE(walked.record.outcomes.size() == 1);

    const Walked stuck(gated + lake_route("{go: b}"));
    CHECK(stuck.stuck() == "route r (plan.yaml:13:44) waits at gate g for quay to be shown, which "
                           "nothing has asked for");
    CHECK(stuck.record.end == milliseconds(6'010));
    // Once through, a gate that closes behind is no matter.
    const Walked closes(
        gated +
        "triggers:\n  t: {box: {min: [9, -1, -1], max: [11, 1, 1]}, steps: [{show: "
        "[quay]}]}\n  u: {box: {min: [20, -1, -1], max: [21, 1, 1]}, steps: [{unload: "
        "[quay]}]}\n" +
        lake_route("{go: b}"));
    CHECK(closes.when("arrived", "player") == milliseconds(7'520 + 45'000));
}

TEST_CASE("levels in different worlds never see each other") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  tunnel: {world: below, memory: {texture: 100}, area: {min: [-1, -1, -1], max: [200, 1, 1]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
triggers: {t: {in: tunnel, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: []}}
)" + lake_route("{go: b}"));
    CHECK(walked.when("entered", "t") == never);
    CHECK(walked.record.gaps.empty());
}

// --- near --------------------------------------------------------------------

TEST_CASE("near: loaded within reach of the area, unloaded when everybody is far") {
    // 10 m beside the way; 26 m from the box is 24 m before its edge (10, 24, 26), 39 m is
    // sqrt(39^2 - 10^2) = 37.69 m behind it.
    const std::string near = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  boats: {memory: {texture: 50}, area: {min: [40, -1, 10], max: [44, 1, 20]}, near: {load: 26, unload: 39}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
)";
    const Walked streamed(near + lake_route("{go: b}, {go: a}"));
    CHECK(streamed.when("came-near", "boats") == at_x(16));
    CHECK(streamed.when("shown", "boats") == at_x(16) + milliseconds(510));
    // 44 + 37.696154 m at 2 m/s, rounded up to the microsecond.
    CHECK(streamed.when("went-far", "boats") == Micros{1'010'000 + 40'848'077});
    CHECK(streamed.all("came-near", "boats").size() == 2);
    // It was near at the end of the boot already.
    const Walked at_once(
        near + "routes: {r: {start: {level: hall, waypoint: a}, steps: [{pause: 1 s}]}}\n" +
        "# \n");
    CHECK(at_once.when("came-near", "boats") == never); // 41.2 m away
}

TEST_CASE("near: judged anew when a player is placed; the last instruction wins") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a, far: b}}
  boats: {memory: {texture: 50}, area: {min: [0, -1, 3], max: [4, 1, 9]}, near: {load: 5, unload: 50}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
menus: {m: {in: hall, items: {away: {steps: [{place: {at: hall.far}}]}, back: {steps: [{place: {at: hall.door}}]},
  no: {steps: [{unload: [boats]}]}}}}
)" + std::string("routes: {r: {start: {level: hall}, steps: [{pause: 2 s}, {press: m.no}]}}\n"));
    CHECK(walked.when("came-near", "boats") == milliseconds(1'010));
    CHECK(walked.when("unloaded", "boats") == milliseconds(3'010));
    CHECK(walked.all("came-near", "boats").size() == 1);
}
