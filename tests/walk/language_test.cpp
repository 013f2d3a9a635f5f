// Each step, shape, firing and condition of a walk, against figures worked out by hand.

#include "support/plan_text.hpp"

#include <fmt/format.h>
#include <map>

using namespace hestrel;
using plan::mebibytes;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;
using tests::Walked;

namespace {

using tests::never;

/// A hall of 100 MiB (shown at 1.01 s, the end of the boot), a quay of 200 MiB (2 s, and 10 ms to
/// attach), and a straight way of 100 m at 2 m/s, 5 m/s at a run.
const std::string lake = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: b, end: c}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [100, 0, 50]}
paths: [[a, b, c]]
players: {carrier: {tags: [carrier], speeds: {walk: 2, run: 5}}, guest: {tags: [guest], speeds: {walk: 2}}}
)";

std::string route(const std::string& steps) {
    return "routes: {r: {start: {level: hall}, steps: [" + steps + "]}}\n";
}

/// Walks from a to b past one trigger.
Walked past(const std::string& trigger, const std::string& steps = "{go: b}",
            const std::string& more = "") {
    return Walked(lake + more + "triggers:\n  t: {" + trigger + "}\n" + route(steps));
}

/// The moment at which the player is at an x on its first way from a, at 2 m/s.
Micros at_x(int x) {
    return milliseconds(1'010 + 500 * x);
}

} // namespace

// --- shapes and firings
// ----------------------------------------------------------------------------

TEST_CASE("a sphere, a half-space and a turned box are entered and left where they are cut") {
    const Walked sphere = past("sphere: {at: [50, 0, 0], radius: 10}, steps: []");
    CHECK(sphere.when("entered", "t") == at_x(40));
    CHECK(sphere.when("left", "t") == at_x(60));
    // 6 m beside its centre: half a chord of 8 m.
    const Walked beside = past("sphere: {at: [50, 0, 6], radius: 10}, steps: []");
    CHECK(beside.when("entered", "t") == at_x(42));
    CHECK(beside.when("left", "t") == at_x(58));
    const Walked touched = past("sphere: {at: [50, 0, 10], radius: 10}, steps: []");
    CHECK(touched.when("entered", "t") == at_x(50));
    CHECK(touched.when("left", "t") == at_x(50));
    const Walked beyond = past("beyond: {axis: x, over: 80}, steps: []");
    CHECK(beyond.when("entered", "t") == at_x(80));
    CHECK(beyond.when("left", "t") == never);
    const Walked under = past("beyond: {axis: x, under: 20}, steps: []");
    CHECK(under.when("entered", "t") == Micros{}); // it begins there
    CHECK(under.when("left", "t") == at_x(20));
    // 20 m by 10 m, turned by a quarter about its centre (50, 0).
    const Walked turned = past("box: {min: [40, -1, -5], max: [60, 1, 5], turn: 90}, steps: []");
    CHECK(turned.when("entered", "t") == at_x(45));
    CHECK(turned.when("left", "t") == at_x(55));
}

TEST_CASE("on-exit fires for who was inside while it was live") {
    const std::string box = "box: {min: [40, -1, -1], max: [60, 1, 1]}, fires: on-exit, steps: []";
    CHECK(past("in: hall, " + box).when("fired", "t") == at_x(60));
    // Of a level that is shown only once the player has left: at x = 58 the quay is asked for, and
    // shown at 32.02 s, when the player is at x = 62.02.
    const Walked late = past("in: quay, " + box, "{go: b}",
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
                        bump + route("{go: b}"));
    CHECK(walked.when("entered", "t") == at_x(40));
    CHECK(walked.when("fired", "t") == at_x(50));
    CHECK(walked.all("fired", "t").size() == 1);
    // Becoming true again fires again: out and back in.
    const Walked twice(lake + facts +
                       "triggers:\n  t: {box: {min: [40, -1, -1], max: [60, 1, 1]}, fires: "
                       "while-inside, when: n >= 0, steps: []}\n" +
                       route("{go: b}, {go: a}"));
    CHECK(twice.all("fired", "t") == std::vector<Micros>{at_x(40), at_x(140)});
}

TEST_CASE("a trigger without a shape fires when its condition becomes true, each time") {
    const Walked walked(
        lake +
        "facts: {n: {initial: 0, range: [0, 9]}}\ntriggers:\n"
        "  t: {when: n == 1, steps: [{wait: 1 s}]}\n"
        "  boot: {when: shown(hall), steps: []}\n" +
        route("{pause: 2 s}, {set: {n: 1}}, {pause: 2 s}, {set: {n: 0}}, {pause: 1 s}, "
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
                        route("{go: b}"));
    CHECK(walked.all("fact-set", "n").size() == 2);
    CHECK(walked.when("fired", "t") == never);
}

TEST_CASE("for: only players with one of the tags") {
    const std::string box = "box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: []";
    CHECK(past("for: [guest], " + box).when("fired", "t") == never);
    CHECK(past("for: [guest, carrier], " + box).when("fired", "t") == at_x(40));
}

TEST_CASE("once and rearm: there and back through x = 40 to 60") {
    const auto fired = [](const std::string& rule) {
        return past(rule + "box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: []",
                    "{go: b}, {go: a}")
            .all("fired", "t");
    };
    // Entered at x = 40 after 20 s of walking, and coming back at x = 60, 50 s later.
    CHECK(fired("") == std::vector<Micros>{at_x(40), at_x(140)});
    CHECK(fired("once: true, ") == std::vector<Micros>{at_x(40)});
    CHECK(fired("rearm: 50 s, ") == std::vector<Micros>{at_x(40), at_x(140)});
    CHECK(fired("rearm: 50.1 s, ") == std::vector<Micros>{at_x(40)});
    const Walked lost = past("rearm: 60 s, box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: []",
                             "{go: b}, {go: a}");
    CHECK(lost.all("firing-lost", "t") == std::vector<Micros>{at_x(140)});
    // reset: session arms what fired once.
    const Walked armed(lake +
                       "triggers:\n  t: {once: true, box: {min: [40, -1, -1], max: [60, 1, 1]}, "
                       "steps: []}\n  s: {box: {min: [80, -1, -1], max: [90, 1, 1]}, steps: "
                       "[{reset: session}]}\n" +
                       route("{go: b}, {go: a}"));
    CHECK(armed.all("fired", "t").size() == 2);
}

TEST_CASE("when: the firing player's speed, 0 when standing") {
    const std::string fast =
        "box: {min: [40, -1, -1], max: [60, 1, 1]}, when: speed >= 3, steps: []";
    CHECK(past(fast).when("fired", "t") == never);
    CHECK(past(fast, "{go: b, speed: run}").when("fired", "t") == milliseconds(9'010));
    // Stopping inside makes a condition on speed true.
    const Walked stops = past("box: {min: [90, -1, -1], max: [110, 1, 1]}, fires: while-inside, "
                              "when: speed == 0, steps: []",
                              "{go: b}, {pause: 1 s}");
    CHECK(stops.when("fired", "t") == at_x(100));
}

// --- gates and ways
// -------------------------------------------------------------------------------

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
                        route("{go: b}"));
    // Fired at x = 9 (5.51 s); shown 2.01 s later; the player is at m from 6.01 s on.
    CHECK(walked.when("at-gate", "player") == milliseconds(6'010));
    CHECK(walked.when("through-gate", "player") == milliseconds(7'520));
    CHECK(walked.when("arrived", "player") == milliseconds(7'520 + 45'000));
    CHECK(walked.record.shares.stalled == milliseconds(1'510));
    REQUIRE(walked.record.outcomes.size() == 1);

    const Walked stuck(gated + route("{go: b}"));
    CHECK(stuck.stuck() == "route r (plan.yaml:13:44) waits at gate g for quay to be shown, which "
                           "nothing has asked for");
    CHECK(stuck.record.end == milliseconds(1'010));
    // Once through, a gate that closes behind is no matter.
    const Walked closes(
        gated +
        "triggers:\n  t: {box: {min: [9, -1, -1], max: [11, 1, 1]}, steps: [{show: "
        "[quay]}]}\n  u: {box: {min: [20, -1, -1], max: [21, 1, 1]}, steps: [{unload: "
        "[quay]}]}\n" +
        route("{go: b}"));
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
)" + route("{go: b}"));
    CHECK(walked.when("entered", "t") == never);
    CHECK(walked.record.gaps.empty());
}

// --- near
// -----------------------------------------------------------------------------------------

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
    const Walked streamed(near + route("{go: b}, {go: a}"));
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

// --- facts
// -----------------------------------------------------------------------------------------

TEST_CASE("facts: set, added to within their range, and reset") {
    const Walked walked(
        lake +
        R"(facts: {n: {initial: 2, range: [-1, 4]}, bells: {initial: none, values: [none, both]}}
menus: {m: {in: hall, items: {go: {steps: [{set: {n: +1}}, {set: {n: +5}}, {set: {n: -9}}, {set: {n: {to: -1}}},
  {set: {bells: both}}, {reset: [n]}]}}}}
)" + route("{press: m.go}"));
    std::vector<std::string> values;
    for (const walk::Event& event : walked.record.events) {
        const auto words = format::event_words(walked.plan, walked.record, event);
        if (words.event.starts_with("fact-")) values.push_back(words.subject + "=" + words.detail);
    }
    CHECK(values == std::vector<std::string>{"n=3", "n=4", "n=-1", "bells=both", "n=2"});
    CHECK(walked.all("out-of-range", "n").size() == 2);
}

TEST_CASE("facts of lifetime level end with a switch, or with the level they are of") {
    const Walked walked(lake + R"(facts:
  free: {initial: 0, lifetime: level}
  of_quay: {initial: 0, lifetime: level, of: quay}
  of_hall: {initial: 0, lifetime: level, of: hall}
  session: {initial: 0}
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: [quay]}, {set: {free: 1, of_quay: 1, of_hall: 1, session: 1}}]}
  u: {in: hall, box: {min: [60, -1, -1], max: [70, 1, 1]}, steps: [{unload: [quay]}]}
  s: {in: hall, box: {min: [80, -1, -1], max: [90, 1, 1]}, steps: [{switch: {to: quay}}]}
)" + route("{go: b}"));
    CHECK(walked.when("fact-reset", "of_quay") == at_x(60));
    const Micros left = at_x(80) + seconds(2); // the quay is ready, and the hall leaves
    CHECK(walked.when("fact-reset", "of_hall") == left);
    CHECK(walked.when("fact-reset", "free") == left);
    CHECK(walked.when("fact-reset", "session") == never);
    CHECK(walked.record.transitions[1].facts_reset == std::vector<plan::FactId>{plan::FactId{1}});
    CHECK(walked.record.transitions[2].facts_reset ==
          std::vector<plan::FactId>{plan::FactId{2}, plan::FactId{0}});
}

TEST_CASE("save and restore copy saved facts and the checkpoint; an empty store gives nothing") {
    const std::string menus = R"(facts: {round: {initial: 0, lifetime: saved}, hat: {initial: 0}}
menus:
  m:
    in: hall
    items:
      restore: {stays: true, steps: [{restore: all}]}
      save: {stays: true, steps: [{mark: quay.steps}, {set: {round: 3, hat: 1}}, {save: all}, {set: {round: 5}}]}
)";
    const Walked empty(lake + menus + route("{press: m.restore}"));
    CHECK(empty.all("nothing-saved", "transition 1").size() == 1);
    CHECK_FALSE(empty.record.saved);
    const Walked walked(lake + menus + route("{press: m.save}, {press: m.restore}"));
    REQUIRE(walked.record.saved);
    CHECK(walked.record.saved->facts == std::vector<flow::FactValue>{3, 0});
    CHECK(walked.record.saved->checkpoint->level == plan::LevelId{1});
    std::vector<std::string> rounds;
    for (const walk::Event& event : walked.record.events) {
        const auto words = format::event_words(walked.plan, walked.record, event);
        if (words.subject == "round") rounds.push_back(words.detail);
    }
    CHECK(rounds == std::vector<std::string>{"3", "5", "3"});
    // The next session begins with what was saved.
    walk::Options next;
    next.saved = walked.record.saved;
    const plan::Plan plan =
        tests::plan_from(std::string(tests::plain_device) + lake + menus +
                         "triggers: {t: {when: round == 3, steps: []}}\n" + route("{pause: 1 s}"));
    const walk::Record again = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, next);
    CHECK(again.transitions.size() == 1);
}

TEST_CASE(
    "return: places where the checkpoint's level is shown, else switches; without one nothing") {
    const std::string items = R"(
menus: {m: {items: {mark: {stays: true, steps: [{mark: quay.end}]}, back: {stays: true, steps: [{return: checkpoint}]}}}}
triggers: {o: {when: shown(hall), steps: [{open: m}]}}
)";
    const Walked none(lake + items + route("{press: m.back}"));
    CHECK(none.all("no-checkpoint", "transition 2").size() == 1);
    const Walked switches(lake + items +
                          route("{press: m.mark}, {press: m.back}, {until: shown(quay)}"));
    CHECK(switches.when("switch-began", "quay") == milliseconds(1'010));
    CHECK(switches.when("switch-ended", "quay") == milliseconds(3'020));
    CHECK(switches.all("placed", "player").size() == 1);
    const Walked places(lake + items + "# both are there\n" +
                        route("{press: m.mark}, {press: m.back}, {until: shown(quay)}, "
                              "{go: b}, {press: m.back}"));
    CHECK(places.all("placed", "player").size() == 2);
    CHECK(places.all("switch-began", "quay").size() == 1);
}

// --- menus
// -----------------------------------------------------------------------------------------

TEST_CASE("after: runs so long after the menu opened, once, and closes it first") {
    const Walked walked(
        lake +
        "menus: {m: {in: hall, items: {x: {steps: []}}, after: {delay: 20 s, steps: "
        "[{show: [quay]}]}}}\n" +
        route("{pause: 30 s}"));
    CHECK(walked.when("menu-closed", "m") == milliseconds(21'010));
    CHECK(walked.when("shown", "quay") == milliseconds(23'020));
}

TEST_CASE("stays: the menu stays open, and the delay of after starts anew") {
    const Walked walked(
        lake +
        "menus: {m: {in: hall, items: {x: {stays: true, steps: []}, y: {steps: []}}, "
        "after: {delay: 20 s, steps: [{show: [quay]}]}}}\n" +
        route("{pause: 15 s}, {press: m.x}, {pause: 15 s}, {press: m.x}, {pause: 30 s}"));
    CHECK(walked.when("menu-closed", "m") == milliseconds(1'010 + 30'000 + 20'000));
    const Walked pressed(
        lake +
        "menus: {m: {in: hall, items: {y: {steps: []}}, after: {delay: 20 s, steps: "
        "[{show: [quay]}]}}}\n" +
        route("{pause: 15 s}, {press: m.y}, {pause: 30 s}"));
    CHECK(pressed.when("shown", "quay") == never);
}

TEST_CASE("pauses: nobody moves while it is open; presses go on") {
    const Walked walked(
        lake +
        "menus: {m: {pauses: true, items: {x: {steps: []}}}}\ntriggers: {t: {box: {min: "
        "[20, -1, -1], max: [30, 1, 1]}, steps: [{open: m}, {wait: 5 s}, {close: m}]}}\n" +
        route("{go: b}"));
    CHECK(walked.when("players-frozen", "") == Micros{}); // by the boot
    CHECK(walked.all("players-frozen", "").back() == at_x(20));
    CHECK(walked.all("players-thawed", "").back() == at_x(20) + seconds(5));
    CHECK(walked.when("arrived", "player") == at_x(100) + seconds(5));
    CHECK(walked.record.shares.stalled == seconds(5));
    const Walked stuck(
        lake +
        "menus: {m: {pauses: true, items: {x: {steps: []}}}}\ntriggers: {t: {box: {min: [20, "
        "-1, -1], max: [30, 1, 1]}, steps: [{open: m}]}}\n" +
        route("{go: b}"));
    CHECK(stuck.stuck().ends_with(
        "can't go to b: the open menu m stops movement, and nothing closes it"));
}

TEST_CASE("a menu closes with its level, and can't be opened while that is hidden") {
    const Walked walked(lake + R"(menus: {m: {in: quay, items: {x: {steps: []}}}}
triggers:
  o: {box: {min: [10, -1, -1], max: [11, 1, 1]}, steps: [{open: m}]}
  s: {box: {min: [20, -1, -1], max: [21, 1, 1]}, steps: [{show: [quay]}]}
  h: {box: {min: [40, -1, -1], max: [41, 1, 1]}, steps: [{hide: [quay]}]}
)" + route("{go: b}"));
    CHECK(walked.when("menu-refused", "m") == at_x(10));
    CHECK(walked.when("menu-opened", "m") == at_x(20) + milliseconds(2'010));
    CHECK(walked.when("menu-closed", "m") == at_x(40));
}

TEST_CASE("an item's when: pressed only once it holds") {
    const std::string menu =
        "facts: {n: {initial: 0}}\nmenus: {m: {in: hall, items: {x: {when: n == 1, steps: "
        "[]}}}}\n";
    const Walked walked(
        lake + menu +
        "triggers: {t: {box: {min: [-1, -1, -1], max: [1, 1, 1]}, steps: [{wait: 3 s}, {set: {n: "
        "1}}]}}\n" +
        route("{press: m.x}"));
    CHECK(walked.when("pressed", "m.x") == milliseconds(4'010));
    const Walked stuck(lake + menu + route("{press: m.x}"));
    CHECK(stuck.stuck().ends_with("can't press m.x: its \"n == 1\" does not hold"));
}

// --- choices, editions, the end
// ----------------------------------------------------------------------

TEST_CASE("choose: the earliest pick not used yet, wherever it stands; else the first branch") {
    const auto chosen = [](const std::string& steps) {
        const Walked walked(lake + R"(facts: {n: {initial: 0}}
menus: {m: {in: hall, items: {x: {stays: true, steps: [{choose: {one: [{set: {n: 1}}, {wait: 1 s}], two: [{set: {n: 2}}]}}, {set: {n: 0}}]}}}}
)" + route(steps));
        std::vector<std::string> branches;
        for (const walk::Event& event : walked.record.events) {
            const auto words = format::event_words(walked.plan, walked.record, event);
            if (words.event == "chosen") branches.push_back(words.subject);
        }
        return branches;
    };
    using Branches = std::vector<std::string>;
    CHECK(chosen("{press: m.x}") == Branches{"one"});
    CHECK(chosen("{press: m.x}, {pause: 2 s}, {press: m.x}, {pick: two}") ==
          Branches{"two", "one"});
    CHECK(chosen("{pick: two}, {pick: one}, {pick: two}, {press: m.x}, {pause: 2 s}, {press: m.x}, "
                 "{pause: 2 s}, "
                 "{press: m.x}") == Branches{"two", "one", "two"});
    // The list goes on after the branch: n is 0 again a second later.
    const Walked walked(lake + R"(facts: {n: {initial: 0}}
menus: {m: {in: hall, items: {x: {steps: [{choose: {one: [{set: {n: 1}}, {wait: 1 s}]}}, {set: {n: 0}}]}}}}
)" + route("{press: m.x}"));
    CHECK(walked.all("fact-set", "n") ==
          std::vector<Micros>{milliseconds(1'010), milliseconds(2'010)});
}

TEST_CASE("next, back and positions lead through the edition being played") {
    const std::string edition = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: b, end: c}}
  shore: {memory: {texture: 100}, entries: {end: a}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [100, 0, 50]}
editions: {demo: {levels: [hall, shore]}, full: {levels: [hall, quay, shore]}}
menus: {m: {items: {next: {stays: true, steps: [{next: {at: end}}]}, back: {stays: true, steps: [{back: {}}]},
  two: {stays: true, steps: [{switch: {to: {position: 2}}}]}}}}
triggers: {o: {when: shown(hall), once: true, steps: [{open: m}]}}
)";
    const auto walked = [&](const std::string& steps, const std::string& which = "full") {
        return Walked(edition + "routes: {r: {edition: " + which + ", steps: [" + steps + "]}}\n");
    };
    const Walked on =
        walked("{press: m.next}, {until: shown(quay)}, {press: m.next}, {until: shown(shore)}, "
               "{press: m.next}");
    CHECK(on.when("switch-began", "quay") == milliseconds(1'010));
    CHECK(on.when("switch-ended", "quay") == milliseconds(3'020));
    CHECK(on.when("switch-began", "shore") == milliseconds(3'020));
    CHECK(on.all("beyond-edition", "transition 4").size() == 1);
    const Walked back =
        walked("{press: m.back}, {press: m.two}, {until: shown(shore)}, {press: m.back}");
    CHECK(back.all("beyond-edition", "transition 2").size() == 1);
    CHECK(back.all("switch-began", "shore").size() == 1);
    CHECK(back.all("switch-began", "quay").size() == 1);
    CHECK(walked("{press: m.next}", "demo").when("switch-began", "shore") == milliseconds(1'010));
    CHECK(walked("{press: m.two}", "demo").all("beyond-edition", "transition 2").size() == 1);
}

TEST_CASE("end: session: nothing comes after it") {
    const Walked walked =
        past("box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{end: session}, {show: [quay]}]");
    CHECK(walked.record.session_ended);
    CHECK(walked.record.end == at_x(20));
    CHECK(walked.when("queued", "quay") == never);
    CHECK_FALSE(walked.record.stuck);
}

// --- arrive and leave
// ------------------------------------------------------------------------------

TEST_CASE("arrive runs when a level is shown, outermost first; leave before its facts are reset") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay:
    memory: {texture: 100}
    entries: {steps: b}
    arrive: [{set: {n: +1}}]
    leave: [{set: {seen: +1}}, {wait: 1 s}, {set: {seen: +1}}]
    sublevels: {deck: {with-parent: true, memory: {texture: 100}, arrive: [{set: {n: +1}}]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
facts: {n: {initial: 0, lifetime: level, of: quay}, seen: {initial: 0}}
triggers:
  s: {box: {min: [20, -1, -1], max: [21, 1, 1]}, steps: [{show: [quay]}]}
  u: {box: {min: [40, -1, -1], max: [41, 1, 1]}, steps: [{unload: [quay]}]}
)" + route("{go: b}"));
    // Ready at +1 s and +2 s; each is attached in the frame that starts then.
    CHECK(walked.all("fact-set", "n") ==
          std::vector<Micros>{at_x(20) + milliseconds(1'010), at_x(20) + milliseconds(2'010)});
    CHECK(walked.all("fact-set", "seen") == std::vector<Micros>{at_x(40), at_x(40)});
    CHECK(walked.all("leave-cant-wait", "transition 5").size() == 1);
    CHECK(walked.when("fact-reset", "n") == at_x(40));
}

TEST_CASE("a switch holds arrive steps, triggers and menus back until everybody is there") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 100}, entries: {steps: b}, arrive: [{set: {n: 1}}], sublevels: {deck: {with-parent: true, memory: {texture: 100}}}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
facts: {n: {initial: 0}}
menus: {m: {in: hall, items: {go: {steps: [{switch: {to: quay}}]}}}, q: {in: quay, items: {x: {steps: []}}}}
triggers: {t: {in: quay, box: {min: [99, -1, -1], max: [101, 1, 1]}, steps: []}}
)" + route("{press: m.go}"));
    // Quay and deck are ready at 3.01 s, shown at 3.02 and 3.03 s.
    CHECK(walked.when("shown", "quay") == milliseconds(3'020));
    for (const auto& [event, subject] :
         {std::pair{"fact-set", "n"}, std::pair{"menu-opened", "q"}, std::pair{"fired", "t"}}) {
        CAPTURE(event);
        CHECK(walked.when(event, subject) == milliseconds(3'030));
    }
}

// --- waits, freezes, places, veils
// -------------------------------------------------------------------

TEST_CASE("wait until a condition, and at-most beside it") {
    const std::string steps =
        "[{show: [quay]}, {wait: {until: shown(quay) and not veiled}AT}, {hide: [quay]}]";
    const auto with = [&](const std::string& at_most) {
        std::string text = steps;
        text.replace(text.find("AT"), 2, at_most);
        return past("box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: " + text);
    };
    CHECK(with("").when("hidden", "quay") == at_x(20) + milliseconds(2'010));
    const Walked hasty = with(", at-most: 1 s");
    CHECK(hasty.when("gave-up-waiting", "trigger t") == at_x(20) + seconds(1));
    const Walked stuck =
        past("box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{wait: {until: veiled}}]");
    CHECK(stuck.stuck() ==
          "trigger t (plan.yaml:13:58) waits until \"veiled\", which never comes true");
}

TEST_CASE("freeze and thaw: one freeze however often, apart from that of a menu") {
    const Walked walked(
        lake +
        "menus: {m: {pauses: true, items: {x: {steps: []}}}}\ntriggers: {t: {box: {min: [20, "
        "-1, -1], max: [30, 1, 1]}, steps: [{freeze: players}, {freeze: players}, {open: m}, "
        "{wait: 3 s}, {thaw: players}, {wait: 2 s}, {close: m}]}}\n" +
        route("{go: b}"));
    CHECK(walked.when("arrived", "player") == at_x(100) + seconds(5));
    CHECK(walked.all("players-frozen", "").size() == 2);
}

TEST_CASE("place: the player who fired, or everyone; the go goes on from there") {
    const std::string two = R"(routes: {r: {start: {level: hall}, players: {
  ada: {as: carrier, steps: [{go: b}]},
  ben: {as: guest, steps: [{pause: 100 s}]}}}}
)";
    const auto placed = [&](const std::string& who) {
        return Walked(
            lake +
            "triggers: {t: {once: true, box: {min: [50, -1, -1], max: [60, 1, 1]}, steps: [{place: "
            "{at: hall.door}" +
            who + "}]}}\n" + two);
    };
    const Walked firer = placed("");
    CHECK(firer.when("placed", "ada") == at_x(50));
    CHECK(firer.when("placed", "ben") == never);
    CHECK(firer.when("arrived", "ada") == at_x(150)); // 50 m, and 100 m again
    CHECK(placed(", who: all").when("placed", "ben") == at_x(50));
}

TEST_CASE("a veil for the one who fired hides the game from that one only") {
    const Walked walked(lake + R"(veils: {mist: {min: 4 s, memory: {texture: 9}}}
triggers: {t: {for: [carrier], box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{freeze: players}, {veil: mist, who: firer}, {wait: 1 s},
  {unveil: mist, who: firer}, {thaw: players}]}}
routes: {r: {start: {level: hall}, players: {ada: {as: carrier, steps: [{go: b}]}, ben: {as: guest, steps: [{go: b}]}}}}
)");
    // Down no sooner than 4 s after it was raised.
    CHECK(walked.when("veil-down", "mist") == at_x(20) + seconds(4));
    CHECK(walked.record.shares_of[0].veiled == seconds(4));
    CHECK(walked.record.shares_of[0].stalled == Micros{});
    CHECK(walked.record.shares_of[1].veiled == Micros{});
    CHECK(walked.record.shares_of[1].stalled == seconds(4));
}

TEST_CASE("several players walk their own steps at the same time") {
    const Walked walked(
        lake + R"(triggers: {t: {box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: [{wait: 1 s}]}}
routes: {r: {start: {level: hall}, players: {ada: {as: carrier, steps: [{go: b, speed: run}]}, ben: {as: guest, steps: [{pause: 1 s}, {go: b}]}}}}
)");
    CHECK(walked.when("arrived", "ada") == milliseconds(21'010));
    CHECK(walked.when("arrived", "ben") == milliseconds(52'010));
    CHECK(walked.all("fired", "t") ==
          std::vector<Micros>{milliseconds(9'010), milliseconds(22'010)});
    CHECK(walked.record.shares_of[0].moving == seconds(20));
    CHECK(walked.record.shares_of[1].pausing == seconds(1));
    CHECK(walked.record.shares_of[1].moving == seconds(50));
    // Each one's memory counts: none here.
    CHECK(walked.record.peak == mebibytes(100));
}

// --- what goes wrong
// -------------------------------------------------------------------------------

TEST_CASE("gaps, need, slack and lead of a level that comes too late") {
    // Fired at x = 58, needed at x = 60 a second later, shown 2.01 s after the firing.
    const std::string areas = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, area: {min: [60, -1, -1], max: [99, 1, 1]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
veils: {mist: {}}
)";
    const auto with = [&](int x, const std::string& steps) {
        return Walked(
            areas +
            fmt::format("triggers: {{t: {{box: {{min: [{}, -1, -1], max: [99, 1, 1]}}, steps: "
                        "{}}}}}\n",
                        x, steps) +
            route("{go: b}"));
    };
    const Walked late = with(58, "[{show: [quay]}]");
    REQUIRE(late.record.gaps.size() == 1);
    CHECK(late.record.gaps[0].stood);
    CHECK(late.record.gaps[0].from == at_x(60));
    CHECK(late.record.gaps[0].to == at_x(58) + milliseconds(2'010));
    REQUIRE(late.record.outcomes.size() == 1);
    const walk::LevelOutcome& outcome = late.record.outcomes[0];
    CHECK(outcome.ready == at_x(58) + seconds(2));
    CHECK(outcome.shown == at_x(58) + milliseconds(2'010));
    CHECK(outcome.needed == at_x(60));
    CHECK(outcome.slack == milliseconds(-1'010));
    CHECK(*outcome.lead == Approx(2));
    CHECK(late.record.verdict == walk::Verdict::late);
    REQUIRE(late.record.findings.size() == 1);
    CHECK(late.record.findings[0].name == "stood-in-gap");
    CHECK(late.record.findings[0].message ==
          "at 31.01 s the player stands for 1.01 s in quay, which is not shown (r on box)");

    const Walked timely = with(50, "[{show: [quay]}]");
    CHECK(timely.record.gaps.empty());
    CHECK(timely.record.outcomes[0].slack == milliseconds(5'000 - 2'010));
    CHECK(timely.record.verdict == walk::Verdict::fine);
    // A veil hides it; one that comes down too early does not.
    CHECK(with(58, "[{veil: mist}, {show: [quay]}, {wait: {shown: [quay]}}, {unveil: mist}]")
              .record.gaps.empty());
    const Walked early = with(58, "[{veil: mist}, {show: [quay]}, {wait: 1.5 s}, {unveil: mist}]");
    REQUIRE(early.record.findings.size() == 1);
    CHECK(early.record.findings[0].name == "unveiled-too-early");
    CHECK(early.record.gaps[0].from == at_x(58) + milliseconds(1'500));
}

TEST_CASE("a level that could be seen is needed too; who stands in it does not count twice") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, area: {min: [60, -1, -1], max: [80, 1, 1]}, seen-from: {min: [40, -1, -1], max: [70, 1, 1]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
)" + route("{go: b}"));
    REQUIRE(walked.record.gaps.size() == 2);
    CHECK_FALSE(walked.record.gaps[0].stood);
    CHECK(walked.record.gaps[0].from == at_x(40));
    CHECK(walked.record.gaps[0].to == at_x(60));
    CHECK(walked.record.gaps[1].stood);
    CHECK(walked.record.gaps[1].to == at_x(80));
}

TEST_CASE("limits: what breaks them is a finding, and what is allowed is not") {
    const std::string limited = "limits: {stall: 1 s, slack: 3 s, headroom: 96%}\n";
    const std::string plan = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, area: {min: [60, -1, -1], max: [99, 1, 1]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
triggers: {t: {ALLOW box: {min: [50, -1, -1], max: [51, 1, 1]}, steps: [{show: [quay]}, {freeze: players}, {wait: 2 s}, {thaw: players}]}}
)";
    const auto names = [&](const std::string& allow) {
        std::string text = plan + limited + route("{go: b}");
        text.replace(text.find("ALLOW"), 5, allow);
        std::vector<std::string> found;
        for (const plan::Finding& finding : Walked(text).record.findings)
            found.push_back(finding.name);
        return found;
    };
    using Names = std::vector<std::string>;
    // 300 of 10,000 MiB are 3%: 97% stay free.
    CHECK(names("") == Names{"long-stall"});
    CHECK(names("allow: {long-stall: on purpose},").empty());
}

TEST_CASE("triggers that fire each other without end, and without time passing, are told apart "
          "from a hang") {
    const Walked walked(lake + R"(facts: {n: {initial: 0}}
triggers:
  v: {when: n == 2, steps: [{set: {n: 0}}]}
  u: {when: n == 1, steps: [{set: {n: 2}}]}
  t: {when: n == 0, steps: [{set: {n: 1}}]}
)" + route("{pause: 1 s}"));
    CHECK(walked.stuck().find("runs over and over, and there is no end to it") !=
          std::string::npos);
}

namespace {

/// Why a walk that goes round in a circle is stuck; it need not go round a million times for that.
std::string circle(const std::string& text) {
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + text);
    walk::Options options;
    options.most_transitions = 10'000;
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, options);
    CHECK(record.transitions.size() < 20'000);
    REQUIRE(record.stuck);
    return format::stuck_text(plan, record);
}

} // namespace

TEST_CASE("triggers that go on for ever in tiny steps of time end the walk, too") {
    const std::string stuck = circle(lake + R"(facts: {n: {initial: 0}}
triggers:
  t: {when: n == 0, steps: [{wait: 1 us}, {set: {n: 1}}]}
  u: {when: n == 1, steps: [{wait: 1 us}, {set: {n: 0}}]}
)" + route("{pause: 1 s}, {pause: 1000 s}"));
    CHECK(stuck.find("runs over and over, and there is no end to it") != std::string::npos);
}

TEST_CASE("a menu that opens itself again and again ends the walk, too") {
    for (const char* delay : {"0", "1 us"}) {
        const std::string stuck =
            circle(lake + "menus: {m: {in: hall, items: {}, after: {delay: " + delay +
                   ", steps: [{open: m}]}}}\n" + route("{pause: 1000 s}"));
        CHECK(stuck == "after m runs over and over, and there is no end to it");
    }
}

TEST_CASE("limits.walk: says what was waited for") {
    const Walked walked(
        lake +
        "limits: {walk: 30 s}\nmenus: {m: {in: hall, items: {x: {stays: true, steps: []}}}}\n"
        "triggers: {t: {box: {min: [-1, -1, -1], max: [1, 1, 1]}, steps: [{wait: 60 s}]}}\n" +
        route("{until: veiled}"));
    CHECK(walked.record.end == seconds(30));
    CHECK(walked.stuck().starts_with("it is not done after 30.00 s; "));
}

// --- delivery
// --------------------------------------------------------------------------------------

TEST_CASE("parcels arrive while the route is played; what has not arrived waits, others go past") {
    const std::string text = R"(hestrel: 1
devices:
  box: {memory: {total: 10000}, read: {rate: 100}, frame: {fps: 100}, download: {rate: 10}}
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}}
  shore: {memory: {texture: 100}}
waypoints: {a: [0, 0, 0]}
facts: {n: {initial: 0}}
editions: {full: {levels: [hall, quay, shore], parcels: [{core: [hall, shore]}, {coast: [quay]}]}}
triggers:
  t: {when: shown(hall), steps: [{show: [quay]}, {show: [shore]}]}
  d: {when: delivered(quay), steps: [{set: {n: 1}}]}
routes: {r: {start: {level: hall}, steps: [{until: shown(quay)}]}}
)";
    const plan::Plan plan = tests::plan_from(text);
    walk::Options delivery;
    delivery.delivery = true;
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, delivery);
    // 200 MiB at 10 MiB/s behind the first parcel: at 20 s. The shore, asked for later, is read
    // first.
    std::map<std::string, Micros> when;
    for (const walk::Event& event : record.events) {
        const auto words = format::event_words(plan, record, event);
        when.try_emplace(std::string(words.event) + " " + words.subject, event.at);
    }
    CHECK(when["parcel-arrived core"] == Micros{});
    CHECK(when["parcel-arrived coast"] == seconds(20));
    CHECK(when["reading shore"] == milliseconds(1'010));
    CHECK(when["reading quay"] == seconds(20));
    CHECK(when["shown quay"] == milliseconds(22'010));
    CHECK(when["fact-set n"] == seconds(20));
    REQUIRE_FALSE(record.findings.empty());
    CHECK(record.findings[0].name == "not-delivered");
    // Without it everything is there.
    const walk::Record whole = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    CHECK(whole.end == milliseconds(1'010 + 3'010)); // both, one read after the other
}

// --- transitions
// ----------------------------------------------------------------------------------

TEST_CASE("what a transition did as a whole: settled, stall, peak and overlap") {
    const Walked walked =
        past("in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: quay}}]");
    REQUIRE(walked.record.transition_outcomes.size() == 1);
    const walk::TransitionOutcome& outcome = walked.record.transition_outcomes[0];
    CHECK(outcome.settled == at_x(20) + milliseconds(2'010));
    CHECK(outcome.stall == milliseconds(2'010));
    // Without unpacking memory is taken when the read starts: hall and quay together.
    CHECK(outcome.peak == mebibytes(300));
    CHECK(outcome.overlap == mebibytes(300));
    const Walked free_first = past("in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: "
                                   "[{switch: {to: quay, order: free-first}}]");
    CHECK(free_first.record.transition_outcomes[0].overlap == plan::Bytes{});
    CHECK(free_first.record.transition_outcomes[0].peak == mebibytes(200));
}
