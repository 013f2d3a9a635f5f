// How long loads take and how soon players need them, worked out by hand.

#include "advise/load_times.hpp"
#include "support/plan_text.hpp"
#include "tables/advice_words.hpp"

using namespace hestrel;
using advise::Load;
using plan::milliseconds;
using plan::seconds;

namespace {

/// A plan on the plain device (100 MiB/s, frames of 10 ms), and all its loads.
struct LoadsOf {
    explicit LoadsOf(const std::string& text)
        : plan(tests::plan_from(std::string(tests::plain_device) + text)), context(plan, {}),
          records(tests::walks_of(plan)),
          loads(advise::load_times(context, {plan::DeviceId{std::size_t{0}}}, records)) {}

    /// "trigger approach: quay".
    [[nodiscard]] const Load& of(const std::string& name) const {
        for (const Load& load : loads) {
            if (tables::cause_text(plan, load.cause) + ": " + plan.levels[load.level].name == name)
                return load;
        }
        FAIL("there is no load " << name);
        return loads.front();
    }
    [[nodiscard]] const advise::DeviceTime& time(const std::string& name) const {
        return of(name).times.front();
    }

    plan::Plan plan;
    study::Study context;
    std::vector<walk::Record> records;
    std::vector<Load> loads;
};

const std::string coast = R"(
waypoints: {a: [0, 0, 0], b: [50, 0, 0], c: [150, 0, 0]}
paths: [[a, b], [b, c]]
players: {carrier: {speeds: {walk: 2, run: 5}}}
levels:
  hall: {memory: {t: 10}, area: [{min: [-1, -1, -9], max: [39, 5, 9]}], entries: {door: a}}
  quay: {memory: {t: 100}, area: [{min: [40, -1, -9], max: [60, 5, 9]}], entries: {steps: b}}
  loft: {memory: {t: 200}}
  cove: {memory: {t: 50}, area: [{min: [100, -1, -9], max: [160, 5, 9]}]}
)";

} // namespace

TEST_CASE("load times: one after the other, and what waits between them") {
    const LoadsOf loads(coast + R"(
triggers:
  both: {in: hall, box: {min: [10, -1, -5], max: [12, 3, 5]}, steps: [{load: [quay]}, {show: [loft]}]}
  after: {in: hall, box: {min: [20, -1, -5], max: [22, 3, 5]}, steps: [{load: [loft]}, {wait: {ready: [loft]}}, {show: [quay]}]}
  timed: {in: hall, box: {min: [30, -1, -5], max: [32, 3, 5]}, steps: [{load: [quay]}, {wait: 3 s}, {show: [quay]}]}
)");
    // Read in order of asking; only what is shown is attached, in one frame.
    CHECK_FALSE(loads.of("trigger both: quay").shows);
    CHECK(loads.time("trigger both: quay").isolated.ready == seconds(1));
    CHECK(loads.time("trigger both: quay").isolated.shown == seconds(1));
    CHECK(loads.time("trigger both: loft").isolated.shown == milliseconds(3010));
    // The quay is asked for when the loft is there.
    CHECK(loads.time("trigger after: loft").isolated.ready == seconds(2));
    CHECK(loads.time("trigger after: quay").isolated.read == seconds(3));
    CHECK(loads.time("trigger after: quay").isolated.shown == milliseconds(3010));
    CHECK(loads.time("trigger after: quay").isolated.to_read == plan::mebibytes(100));
    // It is ready long before it is shown.
    CHECK(loads.time("trigger timed: quay").isolated.ready == seconds(1));
    CHECK(loads.time("trigger timed: quay").isolated.shown == milliseconds(3010));
    // 8 m at 5 m/s.
    CHECK(loads.of("trigger timed: quay").lead() == milliseconds(2000));
    CHECK(loads.time("trigger timed: quay").slack == milliseconds(2000 - 3010));
}

TEST_CASE("load times: veils and freezes put off the need, a wait for the level ends it") {
    const LoadsOf loads(coast + R"(
veils: {dusk: {min: 4 s}}
triggers:
  veiled: {in: hall, box: {min: [30, -1, -5], max: [32, 3, 5]}, steps: [{veil: dusk}, {show: [quay]}, {unveil: dusk}]}
  held: {in: hall, box: {min: [30, -1, -5], max: [32, 3, 5]}, steps: [{freeze: players}, {show: [quay]}, {wait: {shown: [quay]}}, {thaw: players}]}
)");
    CHECK(loads.of("trigger veiled: quay").hidden == seconds(4));
    CHECK(loads.of("trigger veiled: quay").lead() == seconds(4)); // 2 s of way
    CHECK(loads.time("trigger veiled: quay").slack == milliseconds(4000 - 1010));
    CHECK(loads.of("trigger held: quay").held);
    CHECK_FALSE(loads.of("trigger held: quay").lead());
    CHECK_FALSE(loads.time("trigger held: quay").slack);
}

TEST_CASE("load times: items, from wherever players can stand, and switches") {
    const LoadsOf loads(coast + R"(
veils: {dusk: {min: 1 s}}
menus:
  desk:
    in: hall
    items:
      look: {steps: [{show: [quay]}]}
      leave: {steps: [{switch: {to: cove, with: [loft], veil: dusk}}]}
routes: {r: {start: {level: hall}, steps: [{press: desk.leave}]}}
)");
    // From a, the one waypoint in the hall: 40 m at 5 m/s.
    const Load& look = loads.of("item desk.look: quay");
    REQUIRE(look.way);
    CHECK(look.way->metres == Approx(40));
    CHECK(loads.time("item desk.look: quay").slack == milliseconds(8000 - 1010));
    // A switch waits for all it asks for: 250 MiB, and two frames.
    const advise::DeviceTime& leave = loads.time("item desk.leave: cove");
    CHECK(loads.of("item desk.leave: cove").held);
    CHECK(leave.isolated.shown == milliseconds(2510));
    REQUIRE(leave.contended);
    CHECK(loads.plan.routes[leave.contended->route].name == "r");
    CHECK_FALSE(leave.slack);
}

TEST_CASE("load times: near rules, from where players come within reach") {
    const LoadsOf loads(R"(
waypoints: {a: [0, 0, 0], b: [200, 0, 0]}
paths: [{from: a, to: b, speed: 4}]
players: {carrier: {speeds: {run: 5}}}
levels:
  hall: {memory: {t: 10}, entries: {door: a}}
  boats: {memory: {t: 300}, area: [{min: [100, -1, -9], max: [120, 5, 9]}, {min: [90, -1, -9], max: [95, 5, 9]}], near: {load: 20, unload: 50}}
)");
    // Within 20 m of the nearer box, at 70 m; 20 m at the path's 4 m/s.
    const Load& boats = loads.of("near boats: boats");
    REQUIRE(boats.way);
    CHECK(boats.way->metres == Approx(20));
    CHECK(boats.way->seconds == Approx(5));
    CHECK(loads.time("near boats: boats").slack == milliseconds(5000 - 3010));
    CHECK(boats.first);
}

TEST_CASE("load times: positions lead along editions, and where routes found them to lead") {
    const LoadsOf loads(coast + R"(
editions: {full: {levels: [hall, quay, cove]}, short: {levels: [hall, loft]}}
menus: {desk: {in: hall, items: {go: {steps: [{next: {}}]}, third: {steps: [{switch: {to: {position: 2}}}]}}}}
)");
    CHECK(loads.time("item desk.go: quay").isolated.shown == milliseconds(1010));
    CHECK(loads.time("item desk.go: loft").isolated.shown == milliseconds(2010));
    CHECK(loads.time("item desk.third: cove").isolated.shown == milliseconds(510));
    CHECK(loads.loads.size() == 3);
}

TEST_CASE("load times: company is the longest that routes have seen") {
    const LoadsOf loads(coast + R"(
triggers:
  before: {in: hall, box: {min: [9, -1, -5], max: [10, 3, 5]}, steps: [{load: [loft]}]}
  approach: {in: hall, box: {min: [15, -1, -5], max: [17, 3, 5]}, steps: [{show: [quay]}]}
routes:
  slow: {start: {level: hall}, steps: [{go: b, speed: walk}]}
  fast: {start: {level: hall}, steps: [{go: b, speed: run}]}
)");
    const advise::DeviceTime& time = loads.time("trigger approach: quay");
    CHECK(time.isolated.shown == milliseconds(1010));
    // 6 m after the loft was asked for: 1.2 s at a run, with 0.8 s of it left to read.
    REQUIRE(time.contended);
    CHECK(time.contended->took == milliseconds(1810));
    CHECK(loads.plan.routes[time.contended->route].name == "fast");
    CHECK(time.longest() == milliseconds(1810));
    CHECK(time.slack == milliseconds(5000 - 1810)); // 25 m
    CHECK(time.seen_slack == milliseconds(5000 - 1810));
    CHECK_FALSE(loads.time("trigger before: loft").slack);
}
