// Walks against figures worked out by hand (docs/model.md sections 3 and 5 to 7).

#include "support/plan_text.hpp"

using namespace hestrel;
using plan::mebibytes;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;
using tests::Walked;

namespace {

using tests::never;

/// A hall of 100 MiB from the start, a quay of 200 MiB, a straight way of 100 m at 2 m/s.
const std::string two_levels = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: b}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [100, 0, 50]}
paths: [[a, b, c]]
players: {carrier: {speeds: {walk: 2, run: 5}}}
)";

} // namespace

TEST_CASE("the boot ends when the start level is shown; then the route begins") {
    // 100 MiB at 100 MiB/s: ready at 1 s, a whole multiple of the 10 ms frame; shown one frame
    // later.
    const Walked walked(two_levels + R"(
routes: {r: {start: {level: hall}, steps: [{go: b}, {pause: 3 s}]}}
)");
    CHECK(walked.record.boot == milliseconds(1'010));
    CHECK(walked.when("shown", "hall") == milliseconds(1'010));
    CHECK(walked.when("arrived", "player") == milliseconds(51'010));
    CHECK(walked.record.end == milliseconds(54'010));
    CHECK(walked.record.shares.moving == seconds(50));
    CHECK(walked.record.shares.pausing == seconds(3));
    CHECK(walked.record.shares.stalled == Micros{});
    CHECK_FALSE(walked.record.stuck);
}

TEST_CASE("a persisting level is part of the boot") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}}
  sky: {memory: {texture: 50}, persist: true}
routes: {r: {start: {level: hall}, steps: []}}
)");
    // Two reads share until the sky is there at 1.0 s, the hall at 1.5 s; parallel is 1: hall 1.0,
    // sky 1.5 s.
    CHECK(walked.when("ready", "hall") == seconds(1));
    CHECK(walked.when("ready", "sky") == milliseconds(1'500));
    CHECK(walked.record.boot == milliseconds(1'510));
}

TEST_CASE("a trigger fires when the player gets inside, and its level streams in") {
    // In at x = 20 m: 10 s after the boot. 200 MiB: 2 s. Shown a frame later.
    const Walked walked(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: [quay]}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    CHECK(walked.when("entered", "t") == milliseconds(11'010));
    CHECK(walked.when("fired", "t") == milliseconds(11'010));
    CHECK(walked.when("left", "t") == milliseconds(16'010));
    CHECK(walked.when("ready", "quay") == milliseconds(13'010));
    CHECK(walked.when("shown", "quay") == milliseconds(13'020));
    REQUIRE(walked.record.transitions.size() == 1);
    CHECK(walked.record.transitions[0].fired == milliseconds(11'010));
    CHECK(walked.record.loads[1].transition == 1);
}

TEST_CASE("who stands inside when a trigger becomes live fires it") {
    const Walked at_boot(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [-1, -1, -1], max: [1, 1, 1]}, steps: [{load: [quay]}]}
  free: {box: {min: [-1, -1, -1], max: [1, 1, 1]}, steps: []}
routes: {r: {start: {level: hall}, steps: []}}
)");
    CHECK(at_boot.when("fired", "t") == milliseconds(1'010));
    CHECK(at_boot.when("fired", "free") == milliseconds(1'010));

    // Standing at b when the quay is shown there.
    const Walked later(two_levels + R"(
triggers:
  on-the-way: {in: hall, box: {min: [98, -1, -1], max: [99, 1, 1]}, steps: [{show: [quay]}]}
  at-b: {in: quay, box: {min: [99, -1, -1], max: [101, 1, 1]}, steps: []}
routes: {r: {start: {level: hall}, steps: [{go: b}, {pause: 10 s}]}}
)");
    CHECK(later.when("entered", "at-b") < later.when("shown", "quay"));
    CHECK(later.when("fired", "at-b") == later.when("shown", "quay"));
}

TEST_CASE("while its steps are running a trigger does not fire again, and the firing is lost") {
    const Walked walked(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{wait: 100 s}]}
routes: {r: {start: {level: hall}, steps: [{go: b}, {go: a}]}}
)");
    CHECK(walked.all("fired", "t").size() == 1);
    CHECK(walked.all("firing-lost", "t").size() == 1);
}

TEST_CASE("a wait goes on when all its levels are ready, or when it gives up") {
    const std::string triggers = R"(
triggers:
  t:
    in: hall
    box: {min: [20, -1, -1], max: [30, 1, 1]}
    steps:
      - load: [quay]
      - wait: {ready: [quay, hall]}
        at-most: AT_MOST
      - show: [quay]
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)";
    const auto with = [&](const std::string& at_most) {
        std::string text = two_levels + triggers;
        return Walked(text.replace(text.find("AT_MOST"), 7, at_most));
    };
    const Walked patient = with("5 s");
    CHECK(patient.when("shown", "quay") == milliseconds(13'020));
    CHECK(patient.when("gave-up-waiting", "trigger t") == never);
    const Walked hasty = with("0.5 s");
    CHECK(hasty.when("gave-up-waiting", "trigger t") == milliseconds(11'510));
    CHECK(hasty.when("shown", "quay") ==
          milliseconds(13'020)); // wanted shown while still being read
}

TEST_CASE("a list is abandoned when its level leaves, but what it switched to goes on") {
    const Walked walked(two_levels + R"(
triggers:
  t:
    in: hall
    box: {min: [20, -1, -1], max: [30, 1, 1]}
    steps:
      - switch: {to: quay}
      - load: [hall]
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    CHECK(walked.when("list-abandoned", "hall") == milliseconds(13'010));
    CHECK(walked.when("switch-ended", "quay") == milliseconds(13'020));
    CHECK(walked.all("queued", "hall").size() == 1); // the rest of the list never ran
    CHECK(walked.record.transitions[0].abandoned);
}

TEST_CASE("unloading its own level ends a list there, unless that was its last step") {
    const auto with = [](const std::string& steps) {
        return Walked(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: )" +
                      steps + R"(}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    };
    CHECK(with("[{unload: [hall]}, {load: [quay]}]").when("list-abandoned", "hall") ==
          milliseconds(11'010));
    CHECK(with("[{unload: [hall]}, {load: [quay]}]").when("queued", "quay") == never);
    CHECK(with("[{unload: [hall]}]").when("list-abandoned", "hall") == never);
}

TEST_CASE("switch, load-first: the old levels leave when the new one is ready; free-first: before "
          "it is asked for") {
    const auto with = [](const std::string& order) {
        return Walked(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: quay, order: )" +
                      order + R"(}}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    };
    const Walked load_first = with("load-first");
    CHECK(load_first.when("hidden", "hall") == milliseconds(13'010));
    CHECK(load_first.when("shown", "quay") == milliseconds(13'020));
    CHECK(load_first.record.peak == mebibytes(300));
    const Walked free_first = with("free-first");
    CHECK(free_first.when("hidden", "hall") == milliseconds(11'010));
    CHECK(free_first.when("shown", "quay") == milliseconds(13'020));
    CHECK(free_first.record.peak == mebibytes(200));
    // Frozen and without a veil the player is stalled, then placed at the target's first entry, and
    // there.
    for (const Walked* walked : {&load_first, &free_first}) {
        CHECK(walked->when("placed", "player") == milliseconds(13'020));
        CHECK(walked->record.shares.stalled == milliseconds(2'010));
        CHECK(walked->record.end == milliseconds(13'020));
    }
}

TEST_CASE("a switch's veil and freeze last until its min") {
    const Walked walked(two_levels + R"(
veils: {dawn: {min: 5 s, memory: {texture: 7}}}
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: quay, veil: dawn}}]}
routes: {r: {start: {level: hall}, steps: [{go: c}, {go: c}]}}
)");
    CHECK(walked.when("veil-up", "dawn") == milliseconds(11'010));
    CHECK(walked.when("placed", "player") == milliseconds(13'020));
    CHECK(walked.when("veil-down", "dawn") == milliseconds(16'010));
    CHECK(walked.when("switch-ended", "quay") == milliseconds(16'010));
    CHECK(walked.record.shares.veiled == seconds(5));
    CHECK(walked.when("arrived", "player") == milliseconds(41'010)); // 50 m from b to c
    CHECK(walked.record.peak == mebibytes(307));
}

TEST_CASE("what a switch leaves is released at once, whatever the sweep") {
    Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, kits: [wood], entries: {door: a}}
  quay: {memory: {texture: 200}, kits: [wood]}
  sky: {memory: {texture: 10}, persist: true}
kits: {wood: {memory: {texture: 30}}, brass: {memory: {texture: 5}}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
triggers:
  t: {in: hall, box: {min: [4, -1, -1], max: [6, 1, 1]}, steps: [{switch: {to: quay}}]}
routes: {r: {start: {level: hall}, steps: [{go: b}, {pause: 1 s}]}}
)");
    CHECK(walked.all("queued", "wood").size() == 1); // the target's family needs it: kept
    CHECK(walked.when("released", "wood") == never);
    CHECK(walked.when("released", "hall") == walked.when("ready", "quay"));
    CHECK(walked.when("released", "sky") == never);
    // The quay has no entries: the player is nowhere, and its way is dropped.
    CHECK(walked.when("go-dropped", "player") == walked.when("shown", "quay"));
}

TEST_CASE(
    "a target that was loaded already leaves and comes back without reading, unless it is reused") {
    const auto with = [](const std::string& extra) {
        return Walked(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: hall)" +
                      extra + R"(}}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    };
    const Walked fresh = with("");
    CHECK(fresh.all("hidden", "hall").size() >= 1);
    CHECK(fresh.all("queued", "hall").size() == 1);
    CHECK(fresh.all("shown", "hall").size() == fresh.all("hidden", "hall").size() + 1);
    const Walked reused = with(", reuse: true");
    CHECK(reused.when("hidden", "hall") == never);
    CHECK(reused.when("switch-ended", "hall") == milliseconds(11'010));
}

TEST_CASE("a blocking switch is one hitch from the asking to shown") {
    const Walked walked(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: quay, blocking: true}}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    CHECK(walked.when("shown", "quay") ==
          milliseconds(13'010)); // no attach cost, no frame to wait for
    REQUIRE(walked.record.hitches.size() == 1);
    CHECK(walked.record.hitches[0].at == milliseconds(11'010));
    CHECK(walked.record.hitches[0].length == seconds(2));
}

TEST_CASE("a second switch before the end of the first is refused, and nobody unloads the first "
          "one's family") {
    const Walked walked(two_levels + R"(
triggers:
  one: {box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: quay, at: steps}}]}
  two: {box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: hall}}, {unload: [quay]}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    CHECK(walked.when("switch-refused", "hall") == milliseconds(11'010));
    CHECK(walked.when("leave-refused", "quay") == milliseconds(11'010));
    CHECK(walked.when("switch-ended", "quay") == milliseconds(13'020));
}

TEST_CASE("triggers of the target's family become live only when the players are placed") {
    const Walked walked(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: quay, at: steps}}]}
  old-place: {in: quay, box: {min: [15, -1, -1], max: [25, 1, 1]}, steps: []}
  new-place: {in: quay, box: {min: [99, -1, -1], max: [101, 1, 1]}, steps: []}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    CHECK(walked.when("fired", "old-place") == never);
    CHECK(walked.when("fired", "new-place") == milliseconds(13'020));
}

TEST_CASE("keep-only spares what it names, ancestors, with-parent sublevels and what persists") {
    const Walked walked(R"(
levels:
  sky: {memory: {texture: 10}, persist: true}
  hall:
    memory: {texture: 10}
    entries: {door: a}
    sublevels:
      room: {memory: {texture: 10}, sublevels: {shelf: {with-parent: true, memory: {texture: 10}}}}
      loft: {memory: {texture: 10}}
  quay: {memory: {texture: 10}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 1}}}
triggers:
  fill: {box: {min: [1, -1, -1], max: [2, 1, 1]}, steps: [{show: [room, loft, quay]}]}
  tidy: {box: {min: [8, -1, -1], max: [9, 1, 1]}, steps: [{keep-only: [room]}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    for (const auto* kept : {"sky", "hall", "room", "shelf"})
        CHECK(walked.when("unloaded", kept) == never);
    for (const auto* left : {"loft", "quay"}) CHECK(walked.when("unloaded", left) != never);
}

TEST_CASE("a menu opens with its level, a press closes it and runs the item") {
    const Walked walked(R"(
levels:
  title: {memory: {texture: 50}}
  hall: {memory: {texture: 100}, entries: {door: a}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
veils: {dawn: {}}
menus:
  desk: {in: title, items: {begin: {steps: [{switch: {to: hall, veil: dawn}}]}}}
routes: {r: {start: {level: title}, steps: [{pause: 1 s}, {press: desk.begin}, {go: b}]}}
)");
    CHECK(walked.when("menu-opened", "desk") == milliseconds(510));
    CHECK(walked.when("pressed", "desk.begin") == milliseconds(1'510));
    CHECK(walked.when("menu-closed", "desk") == milliseconds(1'510));
    CHECK(walked.when("veil-down", "dawn") == milliseconds(2'520));
    CHECK(walked.when("arrived", "player") == milliseconds(7'520));
    CHECK(walked.record.shares.veiled == milliseconds(1'010));
}

TEST_CASE("unveil waits until the veil's min has passed; raised twice it is one") {
    const Walked walked(two_levels + R"(
veils: {lift: {min: 4 s}}
triggers:
  t:
    in: hall
    box: {min: [20, -1, -1], max: [30, 1, 1]}
    steps: [{veil: lift}, {wait: 1 s}, {veil: lift}, {unveil: lift}, {load: [quay]}]
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    CHECK(walked.all("veil-up", "lift").size() == 1);
    CHECK(walked.when("veil-down", "lift") == milliseconds(15'010));
    CHECK(walked.when("queued", "quay") == milliseconds(15'010));
    CHECK(walked.record.shares.moving == seconds(50)); // a veil alone holds nobody
}

TEST_CASE("a path's speed caps the player's, and each straight piece is rounded up by itself") {
    const Walked walked(R"(
levels: {hall: {memory: {texture: 100}, entries: {door: a}}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [20, 0, 0]}
paths:
  - {from: a, to: b, via: [[5, 0, 0]], speed: 3}
  - [b, c]
players: {carrier: {speeds: {run: 5}}}
routes: {r: {start: {level: hall}, steps: [{go: c}]}}
)");
    // 5 m at 3 m/s: 1.666667 s, twice; 10 m at 5 m/s: 2 s.
    CHECK(walked.when("arrived", "player") == Micros{1'010'000 + 2 * 1'666'667 + 2'000'000});
}

TEST_CASE("a walk that can't go on says why, as of when it could no longer go on") {
    const auto stuck = [](const std::string& rest) { return Walked(two_levels + rest); };
    SECTION("a wait for a level that nothing has asked for") {
        const Walked walked = stuck(R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{wait: {shown: [quay]}}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
        CHECK(
            walked.stuck() ==
            "trigger t (plan.yaml:14:68) waits for quay to be shown, which nothing has asked for");
        CHECK(walked.record.end == milliseconds(51'010)); // the player walks on to b
    }
    SECTION("a wait for a level that is loaded, but never shown") {
        const Walked walked = stuck(R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{load: [quay]}, {wait: {shown: [quay]}}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
        CHECK(walked.stuck() == "trigger t (plan.yaml:14:84) waits for quay to be shown; quay is "
                                "loaded, but nothing shows it");
    }
}

TEST_CASE("a route that presses a menu which never opens is stuck") {
    const Walked walked(R"(
levels: {hall: {memory: {texture: 100}}, title: {memory: {texture: 10}}}
menus: {desk: {in: title, items: {begin: {steps: []}}}}
routes: {r: {start: {level: hall}, steps: [{press: desk.begin}]}}
)");
    CHECK(walked.stuck() == "route r (plan.yaml:8:44) can't press desk.begin: the menu is not "
                            "open, and nothing opens it");
    CHECK(walked.record.end == walked.record.boot);
}

TEST_CASE("a route to a waypoint without paths is stuck, and so is one that starts nowhere") {
    const std::string text = R"(
levels: {hall: {memory: {texture: 100}}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
players: {carrier: {speeds: {walk: 2}}}
routes: {r: {start: {level: hallWHERE}, steps: [{go: b}]}}
)";
    const auto with = [&](const std::string& where) {
        std::string changed = text;
        return Walked(changed.replace(changed.find("WHERE"), 5, where)).stuck();
    };
    CHECK(with(", waypoint: a").ends_with("can't go to b: no path leads there"));
    CHECK(with("").ends_with("can't go to b: the player is nowhere, and nothing places it"));
}

TEST_CASE("a walk that takes longer than limits.walk is stuck then") {
    const Walked walked(two_levels + R"(
limits: {walk: 20 s}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    CHECK(walked.stuck() == "it is not done after 20.00 s");
    CHECK(walked.record.end == seconds(20));
    CHECK(walked.record.shares.moving == milliseconds(18'990));
}

TEST_CASE("the peak, with what was held then, largest first") {
    const Walked walked(two_levels + R"(
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: [quay]}, {wait: {shown: [quay]}}, {unload: [hall]}]}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)");
    CHECK(walked.record.peak == mebibytes(300));
    CHECK(walked.record.peak_at == milliseconds(11'010));
    REQUIRE(walked.record.at_peak.size() == 2);
    CHECK(tables::holder_name(walked.plan, walked.record.at_peak[0]) == "quay");
    CHECK(tables::holder_name(walked.plan, walked.record.at_peak[1]) == "hall");
    CHECK(walked.record.memory.back().total == mebibytes(200));
}
