// Walks as they are played: waits, several players, what goes wrong, delivery, worked out by hand.

#include "walk/lake.hpp"

#include <fmt/format.h>
#include <map>

using namespace hestrel;
using plan::mebibytes;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;
using tests::at_x;
using tests::lake;
using tests::lake_route;
using tests::never;
using tests::past_one;
using tests::Walked;

// --- waits, freezes, places, veils -------------------------------------------

TEST_CASE("wait until a condition, and at-most beside it") {
    const std::string steps =
        "[{show: [quay]}, {wait: {until: shown(quay) and not veiled}AT}, {hide: [quay]}]";
    const auto with = [&](const std::string& at_most) {
        std::string text = steps;
        text.replace(text.find("AT"), 2, at_most);
        return past_one("box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: " + text);
    };
    CHECK(with("").when("hidden", "quay") == at_x(20) + milliseconds(2'010));
    const Walked hasty = with(", at-most: 1 s");
    CHECK(hasty.when("gave-up-waiting", "trigger t") == at_x(20) + seconds(1));
    const Walked stuck =
        past_one("box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{wait: {until: veiled}}]");
    CHECK(stuck.stuck() ==
          "trigger t (plan.yaml:13:58) waits until \"veiled\", which never comes true");
}

TEST_CASE("freeze and thaw: one freeze however often, apart from that of a menu") {
    const Walked walked(
        lake +
        "menus: {m: {pauses: true, items: {x: {steps: []}}}}\ntriggers: {t: {box: {min: [20, "
        "-1, -1], max: [30, 1, 1]}, steps: [{freeze: players}, {freeze: players}, {open: m}, "
        "{wait: 3 s}, {thaw: players}, {wait: 2 s}, {close: m}]}}\n" +
        lake_route("{go: b}"));
    CHECK(walked.when("arrived", "player") == at_x(100) + seconds(5));
    CHECK(walked.all("players-frozen", "").size() == 2);
}

TEST_CASE("place: the player who fired, or everyone; the go ends there") {
    const std::string two = R"(routes: {r: {start: {level: hall}, players: {
  ada: {as: carrier, steps: [{go: b}, {go: b}]},
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
    CHECK(firer.when("go-ended", "ada") == at_x(50));
    CHECK(firer.when("arrived", "ada") == at_x(150)); // its next step goes there: 100 m again
    REQUIRE(firer.record.findings.size() == 1);
    CHECK(firer.record.findings[0].name == "go-ended-early");
    CHECK(firer.record.findings[0].message ==
          "at 26.01 s ada's go to b ends: trigger t places it, and b can still be reached from "
          "there (r on box)");
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

// --- what goes wrong ---------------------------------------------------------

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
            lake_route("{go: b}"));
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
)" + lake_route("{go: b}"));
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
        std::string text = plan + limited + lake_route("{go: b}");
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
)" + lake_route("{pause: 1 s}"));
    CHECK(walked.stuck().find("runs over and over, and there is no end to it") !=
          std::string::npos);
}

namespace {

/// Why a walk that goes round in a circle is stuck.
std::string circle(const std::string& text) {
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + text);
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    CHECK(record.transitions.size() < 2'000);
    REQUIRE(record.stuck);
    return tables::stuck_text(plan, record);
}

} // namespace

TEST_CASE("triggers that go on for ever in tiny steps of time end the walk, too") {
    const std::string stuck = circle(lake + R"(facts: {n: {initial: 0}}
triggers:
  t: {when: n == 0, steps: [{wait: 1 us}, {set: {n: 1}}]}
  u: {when: n == 1, steps: [{wait: 1 us}, {set: {n: 0}}]}
)" + lake_route("{pause: 1 s}, {pause: 1000 s}"));
    CHECK(stuck.find("runs over and over, and there is no end to it") != std::string::npos);
}

TEST_CASE("a menu that opens itself again and again ends the walk, too") {
    for (const char* delay : {"0", "1 us"}) {
        const std::string stuck =
            circle(lake + "menus: {m: {in: hall, items: {}, after: {delay: " + delay +
                   ", steps: [{open: m}]}}}\n" + lake_route("{pause: 1000 s}"));
        CHECK(stuck == "after m runs over and over, and there is no end to it; after m ran 501 "
                       "times");
    }
}

TEST_CASE("a list that goes on for ever more slowly than any game draws is none of those") {
    // Each runs 600 times in 2.4 s, and stops before the route does.
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + lake +
                                             R"(facts: {n: {initial: 0}, k: {initial: 0}}
triggers:
  t: {when: n == 0 and k < 600, steps: [{wait: 2 ms}, {set: {n: 1}}]}
  u: {when: n == 1, steps: [{wait: 2 ms}, {set: {n: 0, k: +1}}]}
)" + lake_route("{pause: 4 s}"));
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    CHECK_FALSE(record.stuck);
    CHECK(record.transitions.size() > 1'000);
    walk::Options few;
    few.most_transitions = 900; // in all
    CHECK(walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, few).stuck);
}

TEST_CASE("a level that is still being attached at the end is told as such") {
    // 5,000 s of attaching in slices of 1 ms, one in each frame of 10 ms.
    const plan::Plan plan = tests::plan_from(R"(hestrel: 1
devices: {box: {memory: {total: 900}, read: {rate: 100}, frame: {fps: 100, attach: 1 ms}, attach: {fixed: 5000 s}}}
levels: {hall: {memory: {texture: 100}}}
limits: {walk: 1000 s}
routes: {r: {start: {level: hall}, steps: []}}
)");
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    CHECK(tables::stuck_text(plan, record) ==
          "it is not done after 1000.00 s; the boot waits for hall to be shown; hall is still "
          "being attached");
}

TEST_CASE("once routes are done, a list that goes on for ever is one, however slowly it does") {
    const std::string stuck = circle(lake + R"(facts: {n: {initial: 0}}
triggers:
  t: {when: n == 0, steps: [{wait: 1 s}, {set: {n: 1}}]}
  u: {when: n == 1, steps: [{wait: 1 s}, {set: {n: 0}}]}
)" + lake_route("{pause: 1 s}"));
    CHECK(stuck == "trigger t runs over and over, and there is no end to it; trigger t ran 501 "
                   "times");
}

TEST_CASE("limits.walk: says what was waited for") {
    const Walked walked(
        lake +
        "limits: {walk: 30 s}\nmenus: {m: {in: hall, items: {x: {stays: true, steps: []}}}}\n"
        "triggers: {t: {box: {min: [-1, -1, -1], max: [1, 1, 1]}, steps: [{wait: 60 s}]}}\n" +
        lake_route("{until: veiled}"));
    CHECK(walked.record.end == seconds(30));
    CHECK(walked.stuck().starts_with("it is not done after 30.00 s; "));
}

// --- delivery ----------------------------------------------------------------

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
        const auto words = tables::event_words(plan, record, event);
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

// --- transitions -------------------------------------------------------------

TEST_CASE("what a transition did as a whole: settled, stall, peak and overlap") {
    const Walked walked = past_one(
        "in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{switch: {to: quay}}]");
    REQUIRE(walked.record.transition_outcomes.size() == 1);
    const walk::TransitionOutcome& outcome = walked.record.transition_outcomes[0];
    CHECK(outcome.settled == at_x(20) + milliseconds(2'010));
    CHECK(outcome.stall == milliseconds(2'010));
    // Without unpacking memory is taken when the read starts: hall and quay together.
    CHECK(outcome.peak == mebibytes(300));
    CHECK(outcome.overlap == mebibytes(300));
    const Walked free_first =
        past_one("in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: "
                 "[{switch: {to: quay, order: free-first}}]");
    CHECK(free_first.record.transition_outcomes[0].overlap == plan::Bytes{});
    CHECK(free_first.record.transition_outcomes[0].peak == mebibytes(200));
}
