// Rules about ways, gates and times: each broken alone, at its place, and kept. Figures by hand.

#include "check/check.hpp"

#include "support/checked.hpp"

using namespace hestrel;
using namespace hestrel::tests;

namespace {

/// A hall from x=0 to 50 and a quay from x=60 to 140; the quay is brought by a trigger at x=20..30
/// of the way a-b and taken away by one at x=50..60. 100 MiB at 90 MiB/s take 1.112 s: frames of
/// 33.334 ms begin at 1.133356 s at the latest, and the quay is shown a frame later.
const std::string lake = R"(hestrel: 1
devices: {d: {memory: {total: 900}, read: {rate: 90}, frame: {fps: 30}}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [100, 0, 50]}
paths: [[a, b], {from: a, to: c}]
players: {carrier: {speeds: {walk: 2, run: 10}}}
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 100}, area: {min: [60, -1, -1], max: [140, 1, 90]}}
routes: {r: {start: {level: hall}, steps: []}}
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 90]}, steps: [{show: [quay]}]}
  u: {in: hall, box: {min: [5, -1, -1], max: [10, 1, 90]}, steps: [{unload: [quay]}]}
)";

std::string lake_with(const std::string& from, const std::string& to) {
    std::string text = lake;
    const std::size_t at = text.find(from);
    REQUIRE(at != std::string::npos);
    return text.replace(at, from.size(), to);
}

/// The messages of what check finds.
std::vector<std::string> said(const std::string& text) {
    std::vector<std::string> messages;
    for (const plan::Finding& finding : check::check(plan_from(text)))
        messages.push_back(finding.message);
    return messages;
}

} // namespace

TEST_CASE("rules: the lake the others start from is clean") {
    keeps(lake);
}

TEST_CASE("way-around: a path into a level that misses the shape that loads it") {
    // The second path runs from (0,0) to (100,50); the trigger reaches only to z = 1 now.
    breaks(lake_with("max: [30, 1, 90]", "max: [30, 1, 1]"), "4:17 way-around");
    CHECK(
        said(lake_with("max: [30, 1, 90]", "max: [30, 1, 1]")) ==
        std::vector<std::string>{"players who come from the trigger u, which lets it go, get into "
                                 "quay on this path without crossing what brings it (t)"});
    // From where the game begins, without the unloading trigger on the way.
    const std::string narrow =
        "triggers:\n  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, "
        "steps: [{show: [quay]}, {wait: 9 s}, {unload: [quay]}]}\n";
    const std::string from_start = lake.substr(0, lake.find("triggers:")) + narrow;
    CHECK(said(from_start) ==
          std::vector<std::string>{"players who come from a get into quay on this path without "
                                   "crossing what brings it (t)"});
    // A gate that waits for the quay lets nobody in too early.
    std::string gated = lake_with("max: [30, 1, 90]", "max: [30, 1, 1]");
    gated.replace(gated.find("{from: a, to: c}"), 16, "{from: a, to: c, gate: g}");
    keeps(gated + "gates: {g: {needs: [quay]}}\n");
    // One way only, out of the quay.
    std::string out = lake_with("max: [30, 1, 90]", "max: [30, 1, 1]");
    out.replace(out.find("{from: a, to: c}"), 16, "{from: c, to: a, one-way: true}");
    keeps(out);
}

TEST_CASE("switch-before-gate: players are gone before they reach the gate") {
    const auto gated = [](const std::string& box, const std::string& path) {
        return fmt::format(R"(hestrel: 1
waypoints: {{a: [0, 0, 0], b: [50, 0, 0], c: [100, 0, 0]}}
paths: [[a, b], {{{}, gate: g}}]
gates: {{g: {{needs: [shed]}}}}
players: {{carrier: {{speeds: {{walk: 2}}}}}}
levels:
  hall: {{memory: {{texture: 100}}, entries: {{door: a}}, arrive: [{{show: [shed]}}]}}
  shed: {{memory: {{texture: 100}}}}
  quay: {{memory: {{texture: 100}}, entries: {{end: c}}}}
veils: {{dawn: {{}}}}
routes: {{r: {{start: {{level: hall}}, steps: []}}}}
triggers:
  t: {{in: hall, box: {}, steps: [{{switch: {{to: quay, veil: dawn}}}}]}}
)",
                           path, box);
    };
    const std::string before = "{min: [20, -1, -1], max: [30, 1, 1]}";
    const std::string around_the_start = "{min: [45, -1, -1], max: [55, 1, 1]}";
    const std::string behind = "{min: [60, -1, -1], max: [70, 1, 1]}";
    breaks(gated(before, "from: b, to: c, one-way: true"), "13:3 switch-before-gate");
    breaks(gated(around_the_start, "from: b, to: c, one-way: true"), "13:3 switch-before-gate");
    keeps(gated(behind, "from: b, to: c, one-way: true"));
    // One that brings what the gate needs is no way past it.
    std::string brings = gated(before, "from: b, to: c, one-way: true");
    brings.replace(brings.find("to: quay, veil"), 14, "to: quay, with: [shed], veil");
    keeps(brings);
    // A return leads away as well.
    std::string returns = gated(before, "from: b, to: c, one-way: true");
    returns.replace(returns.find("{switch: {to: quay, veil: dawn}}"), 32,
                    "{mark: quay.end}, {return: checkpoint}");
    CHECK(found(returns) ==
          std::vector<std::string>{"10:9 unused-definition", "13:3 switch-before-gate"});
}

TEST_CASE("arrival-in-trigger: a warning, and an error where it loops") {
    const auto arriving = [](const std::string& steps) {
        std::string text = clean;
        text.replace(text.find("[{unload: [quay]}]"), 18, steps);
        return text.replace(text.find("levels:"), 7,
                            "levels:\n  dock: {memory: {texture: 9}, entries: {side: s}}") +
               "  w: {in: dock, box: {min: [190, -1, -1], max: [210, 1, 1]}, steps: [{unload: "
               "[quay]}]}\n";
    };
    const auto placed = [&](const std::string& steps, int x) {
        std::string text = arriving(steps);
        return text.replace(text.find("waypoints: {"), 12,
                            fmt::format("waypoints: {{s: [{}, 0, 0], ", x));
    };
    // w is live once dock is shown, and s is inside it.
    const std::string to_dock = "[{unload: [quay]}, {switch: {to: dock, veil: dawn}}]";
    breaks(placed(to_dock, 200), "15:86 arrival-in-trigger");
    CHECK(check::check(plan_from(placed(to_dock, 200))).front().severity ==
          plan::Severity::warning);
    CHECK(found(placed(to_dock, 211)) == std::vector<std::string>{"16:3 trigger-off-paths"});

    // u itself goes where it stands: over and over.
    std::string loop = with("[{unload: [quay]}]", "[{unload: [quay]}, {place: {at: hall.middle}}]");
    loop.replace(loop.find("entries: {door: a}"), 18, "entries: {door: a, middle: m}");
    loop.replace(loop.find("waypoints: {"), 12, "waypoints: {m: [55, 0, 0], ");
    breaks(loop, "14:86 arrival-in-trigger");
    CHECK(check::check(plan_from(loop)).front().severity == plan::Severity::error);
    std::string judged = loop;
    judged.replace(judged.find("u: {in: hall,"), 13, "u: {in: hall, when: speed > 0,");
    keeps(judged);
    std::string once = loop;
    once.replace(once.find("u: {in: hall,"), 13, "u: {in: hall, once: true,");
    CHECK(check::check(plan_from(once)).front().severity == plan::Severity::warning);
}

TEST_CASE("catch-too-small: under the level, and narrower than it") {
    const auto caught = [](const std::string& shape) {
        std::string text =
            with("hall: {memory: {texture: 100},",
                 "hall: {memory: {texture: 100}, area: {min: [0, -1, -9], max: [100, 5, 9]},");
        text.replace(text.find("b: [100, 0, 0]}"), 15, "b: [100, 0, 0], low: [50, -40, 0]}");
        text.replace(text.find("[[a, b]]"), 8, "[[a, b], [b, low]]");
        return text + "  v: {in: hall, " + shape + ", steps: [{place: {at: hall.door}}]}\n";
    };
    breaks(caught("box: {min: [0, -30, -9], max: [98.5, -20, 9]}"), "15:3 catch-too-small");
    CHECK(said(caught("box: {min: [0, -30, -9], max: [98.5, -20, 9]}"))
              .front()
              .ends_with("but does not reach as far: 2 m are missing"));
    keeps(caught("box: {min: [0, -30, -9], max: [100, -20, 9]}"));
    keeps(caught("beyond: {axis: y, under: -20}"));
    // Whoever falls is returned, or switched.
    for (const char* step :
         {"{mark: hall.door}, {return: checkpoint}", "{switch: {to: quay, veil: dawn}}"}) {
        std::string other = caught("box: {min: [0, -30, -9], max: [98.5, -20, 9]}");
        other.replace(other.rfind("{place: {at: hall.door}}"), 24, step);
        breaks(other, "15:3 catch-too-small");
    }
    // A box that is turned away from the level's corners.
    breaks(caught("box: {min: [0, -30, -9], max: [100, -20, 9], turn: 30}"),
           "15:3 catch-too-small");
    // Beside the level, not under it: it catches nobody who falls.
    keeps(caught("box: {min: [90, -30, -9], max: [99, 0, 9]}"));
}

TEST_CASE("trigger-too-late: the way is shorter than the load") {
    // Entered at x=20 and needed at x=60: 4 s at 10 m/s, and the load is over long before.
    keeps(lake);
    // Needed at x=31: 1.1 s. Shown: read in 1.111112 s, attached in the frame from 1.133356 s to
    // 1.16669 s. (1.16669 - 1.1) * 10 m/s is two thirds of a metre.
    const std::string near = lake_with("min: [60, -1, -1]", "min: [31, -1, -1]");
    breaks(near, "11:3 trigger-too-late");
    CHECK(said(near) ==
          std::vector<std::string>{
              "at top speed quay is needed 1.10 s after this fires, but is shown only "
              "after 1.17 s on d: it stands 1 m too near"});
    keeps(lake_with("min: [60, -1, -1]", "min: [32, -1, -1]"));
    // A path that slows players down gives the time that is missing.
    std::string slow = near;
    slow.replace(slow.find("[[a, b], {from: a, to: c}]"), 26,
                 "[{from: a, to: b, speed: 9}, {from: a, to: c, speed: 9}]");
    keeps(slow);
    // Seen earlier than entered.
    breaks(lake_with("area: {", "seen-from: {min: [31, -1, -1], max: [33, 1, 9]}, area: {"),
           "11:3 trigger-too-late");
    // Brought already by another trigger on the way.
    keeps(near +
          "  s: {in: hall, box: {min: [12, -1, -1], max: [14, 1, 90]}, steps: [{show: [quay]}]}\n");
    // Held at a gate until it is shown.
    std::string gated = near;
    gated.replace(gated.find("[[a, b], {from: a, to: c}]"), 26,
                  "[{from: a, to: b, gate: g}, {from: a, to: c, gate: g}]");
    breaks(gated + "gates: {g: {needs: [quay]}}\n", "13:9 gate-from-behind");
}

TEST_CASE("fixed-wait-for-load: a warning, and an error where it is too short") {
    const auto waiting = [](const std::string& time) {
        return lake_with("[{show: [quay]}]",
                         fmt::format("[{{load: [quay]}}, {{wait: {}}}, {{show: [quay]}}]", time));
    };
    // Ready after 1.111112 s.
    breaks(waiting("1.2 s"), "11:85 fixed-wait-for-load");
    CHECK(check::check(plan_from(waiting("1.2 s"))).front().severity == plan::Severity::warning);
    const auto too_short = check::check(plan_from(waiting("1.1 s")));
    REQUIRE(too_short.size() == 1);
    CHECK(too_short.front().severity == plan::Severity::error);
    CHECK(too_short.front().message ==
          "this waits 1.10 s for quay, but until it is ready it takes 1.11 s on d");
    keeps(
        lake_with("[{show: [quay]}]", "[{load: [quay]}, {wait: {ready: [quay]}}, {show: [quay]}]"));
    keeps(lake_with("[{show: [quay]}]", "[{show: [quay]}, {wait: 1.2 s}]"));
    // What stands in for two waits is as long as both.
    CHECK(check::check(plan_from(waiting("0.6 s}, {wait: 0.6 s"))).front().severity ==
          plan::Severity::warning);
}

TEST_CASE("items-alike: copied, and the target forgotten") {
    const auto menu = [](const std::string& items) {
        return with("{go: {steps: [{veil: dawn}, {unveil: dawn}]}}", items);
    };
    const std::string steps = "steps: [{veil: dawn}, {unveil: dawn}]";
    breaks(menu("{go: {" + steps + "}, stay: {" + steps + "}}"), "10:79 items-alike");
    keeps(menu("{go: {" + steps + "}, stay: {when: veiled, " + steps + "}}"));
    keeps(menu("{go: {" + steps + "}, stay: {steps: [{veil: dawn}, {unveil: dawn, who: firer}]}}"));
}

TEST_CASE("what can't be read does not hide the rest, nor is it blamed for what it may hold") {
    // An unknown name in one trigger, a broken size in a level; two rules broken elsewhere.
    std::string text = with("[{show: [quay]}]", "[{show: [quai]}]");
    text.replace(text.find("[{unload: [quay]}]"), 18,
                 "[{unload: [quay]}, {unload: [hall]}, {wait: 1 s}]");
    const source::PlanReading reading =
        read_text(text + "  v: {in: hall, when: 1 < 2, box: 3, steps: []}\n");
    std::vector<std::string> lines;
    for (const plan::Finding& finding : check::check(reading.plan, reading.findings))
        lines.push_back(fmt::format("{} {}", finding.place.line, finding.name));
    CHECK(lines == std::vector<std::string>{"13 unknown-name", "14 steps-after-own-unload",
                                            "15 constant-condition", "15 wrong-value"});
}
