// Switches, near rules and placing in their rarer forms (docs/model.md sections 4 to 6), worked
// out by hand: 100 MiB/s, frames of 10 ms.

#include "walk/findings.hpp"
#include "walk/lake.hpp"

using namespace hestrel;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;
using tests::at_x;
using tests::lake_route;
using tests::Walked;

namespace {

/// A hall, shown at 1.01 s; a quay of 200 MiB and a sea of 300 MiB; a way of 100 m at 2 m/s past a
/// trigger at x = 10, fired at 6.01 s.
std::string lake_with(const std::string& steps, const std::string& more = "",
                      const std::string& hall = "", const std::string& quay = "") {
    return "levels:\n  hall: {memory: {texture: 100}, entries: {door: a}" + hall +
           "}\n  quay: {memory: {texture: 200}, entries: {steps: b}" + quay +
           "}\n  sea: {memory: {texture: 300}, kits: [wood]}\n  isle: {memory: {texture: 50}, "
           "kits: "
           "[wood]}\nkits: {wood: {memory: {texture: 100}}}\n"
           "waypoints: {a: [0, 0, 0], b: [100, 0, 0]}\npaths: [[a, b]]\n"
           "players: {carrier: {speeds: {walk: 2}}}\nfacts: {n: {initial: 0, range: [0, 9]}}\n"
           "triggers:\n  t: {once: true, box: {min: [10, -1, -1], max: [11, 1, 1]}, steps: [" +
           steps + "]}\n" + more;
}

const std::string device_that_attaches = R"(
hestrel: 1
devices:
  box: {memory: {total: 10000}, read: {rate: 100}, frame: {fps: 100}, attach: {fixed: 30 ms}}
)";

} // namespace

TEST_CASE("what a switch shows before players are placed arrives with them") {
    // The quay is there 2 s after the asking, and shown at once, since it was wanted; the isle and
    // its kit need 1.5 s more. Attaching takes a frame.
    const Walked walked(
        lake_with("{show: [quay]}, {switch: {to: quay, with: [isle]}}",
                  "  in-quay: {in: quay, when: not veiled, steps: [{set: {n: +1}}]}\n"
                  "menus: {m: {in: quay, items: {}}}\n",
                  "", ", arrive: [{set: {n: 5}}]") +
        lake_route("{go: b}, {pause: 5 s}"));
    CHECK(walked.when("shown", "quay") == milliseconds(6'010 + 2'010));
    CHECK(walked.when("placed", "player") == milliseconds(6'010 + 3'500 + 10));
    CHECK(walked.when("fact-set", "n") == walked.when("placed", "player"));
    CHECK(walked.when("menu-opened", "m") == walked.when("placed", "player"));
    CHECK(walked.when("fired", "in-quay") == walked.when("placed", "player"));
}

TEST_CASE("a blocking switch to the level one is in costs its attaching") {
    const plan::Plan plan =
        tests::plan_from(device_that_attaches + lake_with("{switch: {to: hall, blocking: true}}") +
                         lake_route("{go: b}"));
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    // The boot's frame from 1 s to 1.03 s is 20 ms too long, too; the trigger fires 5 s later.
    REQUIRE(record.hitches.size() == 2);
    CHECK(record.hitches.back().at == milliseconds(1'030) + seconds(5));
    CHECK(record.hitches.back().length == milliseconds(30));
}

TEST_CASE("one switch's standstill never shows what a later switch has just hidden") {
    // The isle's frame lasts 30 ms when the trigger fires; the first switch has nothing to attach.
    const plan::Plan plan = tests::plan_from(
        device_that_attaches +
        lake_with(
            "{show: [isle]}, {wait: {ready: [isle]}}, {wait: 5 ms}, {switch: {to: hall, reuse: "
            "true, blocking: true, with: [isle]}}, {switch: {to: hall, order: free-first}}") +
        lake_route("{go: b}"));
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    const auto hall = tests::named(plan.levels, "hall");
    Micros hidden, shown;
    for (const walk::Event& event : record.events) {
        if (event.subject != hall.value) continue;
        if (event.kind == walk::EventKind::level_hidden) hidden = event.at;
        if (event.kind == walk::EventKind::level_shown) shown = event.at;
    }
    CHECK(hidden > seconds(1));
    CHECK(shown >= hidden + milliseconds(30)); // its attaching, done anew
}

TEST_CASE("a switch to the level one is in does not read it again, whatever its leave steps do") {
    const Walked walked(lake_with("{load: [isle]}, {wait: {ready: [isle]}}, {switch: {to: hall}}",
                                  "", ", leave: [{unload: [isle]}]") +
                        lake_route("{go: b}"));
    CHECK(walked.when("switch-ended", "hall") != tests::never);
    CHECK(walked.all("reading", "hall").size() == 1);
    CHECK(walked.all("released", "hall").empty());
    CHECK(walked.all("released", "isle").size() == 1);
}

TEST_CASE("free-first keeps what the target needs: a read in flight, a queued piece") {
    for (const char* wait : {"500 ms", "0 s"}) {
        const Walked walked(lake_with("{load: [isle]}, {wait: " + std::string(wait) +
                                      "}, {switch: {to: sea, order: free-first}}") +
                            lake_route("{go: b}"));
        CAPTURE(wait);
        CHECK(walked.all("queued", "wood").size() == 1);
        CHECK(walked.all("given-up", "wood").empty());
        CHECK(walked.all("given-up", "isle").size() == 1);
        CHECK(walked.when("resident", "wood") == milliseconds(6'010 + 1'000));
        CHECK(walked.when("ready", "sea") == milliseconds(6'010 + 4'000));
    }
}

TEST_CASE(
    "a trigger does not fire for a second player once the first one's list let its level go") {
    const Walked walked(lake_with("{place: {at: quay.steps}, who: all}",
                                  "  gone: {in: hall, box: {min: [90, -1, -1], max: [110, 1, 1]}, "
                                  "steps: [{unload: [hall]}]}\n") +
                        R"(routes: {r: {start: {level: hall, waypoint: a}, players: {
  ada: {as: carrier, steps: [{go: b}]}, ben: {as: carrier, steps: [{go: b}]}}}}
)");
    CHECK(walked.all("fired", "gone").size() == 1);
}

TEST_CASE("a level of several boxes is near once, not once a box") {
    const std::string near =
        ", area: [{min: [30, -1, -1], max: [32, 1, 1]}, {min: [33, -1, -1], max: [40, 1, 1]}], "
        "near: {load: 10, unload: 50}";
    const Walked walked(lake_with("{set: {n: 1}}",
                                  "  away: {box: {min: [21, -1, -1], max: [22, 1, 1]}, steps: "
                                  "[{hide: [quay]}]}\n",
                                  "", near) +
                        lake_route("{go: b}"));
    CHECK(walked.all("came-near", "quay") == std::vector{at_x(20)});
    CHECK(walked.all("shown", "quay").empty()); // hidden while it was read, and nobody came anew
}

TEST_CASE("coming near makes sooner what was asked for later") {
    const std::string near = ", area: [{min: [30, -1, -1], max: [32, 1, 1]}], near: {load: 16, "
                             "unload: 50}";
    // Reading the sea's kit from 6.01 s; near the quay 2 s later, at x = 14.
    const Walked walked(
        lake_with("{load: [sea]}, {load: [quay], priority: later}, {load: [isle]}", "", "", near) +
        lake_route("{go: b}"));
    CHECK(walked.when("came-near", "quay") == at_x(14));
    CHECK(walked.when("reading", "quay") < walked.when("reading", "isle"));
}

TEST_CASE("nothing happens after the end of the session") {
    const std::string near = ", area: [{min: [90, -1, -1], max: [110, 1, 1]}], near: {load: 5, "
                             "unload: 50}";
    const Walked walked(
        lake_with("{load: [isle]}, {place: {at: quay.steps}}, {end: session}",
                  "  more: {box: {min: [90, -1, -1], max: [110, 1, 1]}, steps: [{set: {n: 1}}]}\n",
                  "", near) +
        lake_route("{go: b}"));
    CHECK(walked.record.end == at_x(10));
    CHECK(walked.when("came-near", "quay") == tests::never);
    CHECK(walked.when("fired", "more") == tests::never);
    CHECK(walked.when("reading", "wood") == tests::never); // no read begins any more
}

TEST_CASE("placed into a shape and out of it without waiting, nobody was in it") {
    const std::string shape = "box: {min: [90, -1, -1], max: [110, 1, 1]}, ";
    const std::string both = "  on: {" + shape + "steps: [{set: {n: +1}}]}\n  off: {" + shape +
                             "fires: on-exit, steps: [{set: {n: +1}}]}\n";
    const Walked at_once(
        lake_with("{place: {at: quay.steps}}, {place: {at: hall.door}}, {end: session}", both) +
        lake_route("{go: b}"));
    CHECK(at_once.when("fired", "on") == tests::never);
    CHECK(at_once.when("fired", "off") == tests::never);
    const Walked waits(lake_with("{place: {at: quay.steps}}, {wait: 1 s}, {place: {at: "
                                 "hall.door}}, {wait: 1 s}, {end: session}",
                                 both) +
                       lake_route("{go: b}"));
    CHECK(waits.when("fired", "on") == at_x(10));
    CHECK(waits.when("fired", "off") == at_x(12));
}

TEST_CASE("conditions ask where players are, which menus are open, and whether they are frozen") {
    const Walked walked(lake_with("{set: {n: 1}}",
                                  "  at-b: {when: at(b), steps: [{open: m}]}\n"
                                  "  in-t: {when: inside(t) and n == 1, steps: []}\n"
                                  "  in-quay: {when: inside(quay), steps: []}\n"
                                  "  held: {when: frozen, steps: []}\n"
                                  "  seen: {when: open(m), steps: []}\n"
                                  "menus: {m: {pauses: true, items: {}}}\n",
                                  "", ", area: [{min: [50, -1, -9], max: [60, 9, 9]}]") +
                        lake_route("{go: b}, {until: open(m) and frozen and at(b)}"));
    CHECK(walked.when("fired", "in-t") == at_x(10));
    CHECK(walked.when("fired", "in-quay") == at_x(50));
    CHECK(walked.when("fired", "at-b") == at_x(100));
    CHECK(walked.when("fired", "seen") == at_x(100));
    CHECK(walked.when("fired", "held") == at_x(100));
    CHECK_FALSE(walked.record.stuck);
}

TEST_CASE("where no variant of a place is shown a player meets one gap, the place's") {
    // Both variants lie from 20 to 40 m; the night is shown 10 s after the player is inside.
    const Walked walked(
        "levels:\n  hall: {memory: {texture: 100}, entries: {door: a}}\n"
        "  day: {area: {min: [20, -1, -9], max: [40, 3, 9]}}\n"
        "  night: {area: {min: [20, -1, -9], max: [40, 3, 9]}}\n"
        "groups: {village: {levels: [day, night], one-of: true}}\n"
        "waypoints: {a: [0, 0, 0], b: [100, 0, 0]}\npaths: [[a, b]]\n"
        "players: {carrier: {speeds: {walk: 2}}}\n"
        "triggers: {t: {box: {min: [30, -1, -9], max: [32, 3, 9]}, steps: [{show: [night]}]}}\n" +
        lake_route("{go: b}"));
    REQUIRE(walked.record.gaps.size() == 1);
    CHECK(walked.record.gaps.front().from == at_x(20));
    CHECK(walked.record.gaps.front().to == walked.when("shown", "night"));
    CHECK(walked.all("gap-began", "village") == std::vector{at_x(20)});
    // The need of each level is its own all the same.
    CHECK(walked.record.needed.size() == 2);
}

TEST_CASE("a variant asked for during a switch to another is refused, and said") {
    const Walked walked(
        "levels:\n  hall: {memory: {texture: 100}, entries: {door: a}}\n"
        "  day: {memory: {texture: 100}, entries: {gate: a}}\n  night: {memory: {texture: 9}}\n"
        "groups: {village: {levels: [day, night], one-of: true}}\nwaypoints: {a: [0, 0, 0]}\n"
        "menus: {m: {items: {go: {stays: true, steps: [{switch: {to: day}}]}, dark: {steps: "
        "[{load: "
        "[night]}]}}}}\n"
        "triggers: {t: {in: hall, when: not veiled, steps: [{open: m}]}}\n" +
        lake_route("{press: m.go}, {press: m.dark}"));
    CHECK(walked.all("variant-refused", "night").size() == 1);
    const auto findings = walk::findings(walked.plan, walked.record);
    CHECK(std::any_of(findings.begin(), findings.end(), [](const plan::Finding& each) {
        return each.name == "variant-refused" &&
               each.message.find("another variant of village") != std::string::npos;
    }));
}

TEST_CASE("of variants that a boot leads to only the first is there, and what comes with it") {
    const Walked walked(
        "levels:\n  day: {memory: {texture: 100}, entries: {gate: a}}\n"
        "  night: {persist: true, sublevels: {lamps: {with-parent: true}}}\n"
        "  dusk: {memory: {texture: 50}}\n  sea: {memory: {texture: 50}}\n"
        "groups: {village: {levels: [night, day, dusk], one-of: true}}\n"
        "waypoints: {a: [0, 0, 0]}\nplayers: {carrier: {speeds: {walk: 2}}}\n"
        "routes: {r: {start: {level: day, at: gate, loaded: [dusk, sea]}, steps: []}}\n");
    CHECK_FALSE(walked.record.stuck); // no waiting for lamps
    CHECK(walked.all("shown", "day").size() == 1);
    CHECK(walked.all("queued", "night").empty());
    CHECK(walked.all("queued", "lamps").empty());
    CHECK(walked.all("queued", "dusk").empty());
    CHECK(walked.all("ready", "sea").size() == 1);
}

TEST_CASE("a near rule with a condition acts only while that holds") {
    // The quay is near from x = 20 on, and far beyond x = 100; read in 1 s, a frame to attach.
    const auto walked = [](const std::string& steps, const std::string& day) {
        return Walked(
            "levels:\n  hall: {memory: {texture: 100}, entries: {door: a}}\n"
            "  quay: {memory: {texture: 100}, area: {min: [50, -1, -9], max: [60, 3, 9]}, near: "
            "{load: 30, unload: 40, when: day}}\n"
            "waypoints: {a: [0, 0, 0], m: [30, 0, 0], b: [150, 0, 0]}\npaths: [[a, m, b]]\n"
            "players: {carrier: {speeds: {walk: 2}}}\nfacts: {day: {initial: " +
            day + "}}\n" + lake_route(steps));
    };
    const Walked by_day = walked("{go: b}", "true");
    CHECK(by_day.all("came-near", "quay") == std::vector{at_x(20)});
    CHECK(by_day.all("went-far", "quay") == std::vector{at_x(100)});
    const Walked by_night = walked("{go: b}", "false");
    CHECK(by_night.all("came-near", "quay").empty());
    CHECK(by_night.all("went-far", "quay").empty()); // and nothing is let go
    // It changes while the player stands within 30 m: let go, and asked for as if just come.
    const Walked changes =
        walked("{go: m}, {set: {day: false}}, {pause: 3}, {set: {day: true}}, {pause: 3}", "true");
    const Micros there = at_x(30);
    CHECK(changes.all("went-far", "quay") == std::vector{there});
    CHECK(changes.all("came-near", "quay") == std::vector{at_x(20), there + seconds(3)});
    // Where nobody is within 40 m when it stops, nothing happens.
    const Walked stays = walked("{set: {day: false}}, {pause: 1}, {set: {day: true}}", "true");
    CHECK(stays.all("went-far", "quay").empty());
}

TEST_CASE("a near rule whose condition holds at the boot's end acts for who is there") {
    const Walked walked(
        "levels:\n  hall: {memory: {texture: 100}, entries: {door: a}}\n"
        "  quay: {memory: {texture: 100}, area: {min: [5, -1, -9], max: [9, 3, 9]}, near: "
        "{load: 30, unload: 40, when: day and shown(hall)}}\n"
        "waypoints: {a: [0, 0, 0]}\nplayers: {carrier: {speeds: {walk: 2}}}\n"
        "facts: {day: {initial: true}}\n" +
        lake_route("{pause: 4}"));
    CHECK(walked.all("came-near", "quay") == std::vector{milliseconds(1'010)});
}
