// What stands inside a level: its names there and elsewhere, its space, its order.

#include "plan/names.hpp"
#include "support/plan_text.hpp"
#include "support/random_row.hpp"
#include "tables/walk_tables.hpp"

#include <algorithm>

using namespace hestrel;
using tests::findings_of;
using tests::Lines;
using tests::plan_from;

namespace {

/// The text of a plan whose level `hall` has so much more inside.
std::string hall_with(const std::string& more, const std::string& outside = "") {
    return "hestrel: 1\nlevels:\n  hall:\n    waypoints: {door: [0, 0, 0], desk: [9, 0, 0]}\n" +
           more + outside;
}

std::string replaced_all(std::string text, const std::string& from, const std::string& to) {
    for (std::size_t at = text.find(from); at != std::string::npos; at = text.find(from, at))
        text.replace(at, from.size(), to);
    return text;
}

/// Its events as lines.
std::string events_of(const plan::Plan& plan, const walk::Record& record) {
    std::string text;
    for (const walk::Event& each : record.events) {
        const tables::EventWords words = tables::event_words(plan, record, each);
        text +=
            fmt::format("{} {} {} {}\n", each.at.count, words.event, words.subject, words.detail);
    }
    return text;
}

} // namespace

TEST_CASE("inside a level and its sublevels names are plain, elsewhere level.name") {
    const plan::Plan plan = plan_from(R"(
hestrel: 1
facts: {round: {initial: 0}}
levels:
  hall:
    entries: {front: door}
    waypoints: {door: [0, 0, 0], desk: [9, 0, 0]}
    paths: [[door, desk], [desk, loft.top]]
    facts: {bells: {initial: 0, lifetime: level}, seen: {initial: false}}
    gates: {g: {needs: [loft]}}
    menus: {stop: {items: {go: {steps: [{close: stop}]}}}}
    triggers: {t: {sphere: {at: [9, 0, 0], radius: 1}, when: bells < 2 and at(desk), steps: [{set: {bells: +1, round: +1}}]}}
    sublevels:
      loft:
        waypoints: {top: [9, 5, 0]}
        triggers: {u: {when: bells == 2 and inside(t) and hall.seen, steps: [{open: stop}]}}
  yard:
    arrive: [{set: {hall.bells: 0}}, {open: hall.stop}]
triggers: {outside: {when: hall.bells == 1 and at(loft.top), steps: []}}
routes: {r: {start: {level: hall, waypoint: hall.desk}, steps: [{press: hall.stop.go}]}}
)");
    using tests::named;
    const auto hall = named(plan.levels, "hall");
    const auto loft = named(plan.levels, "loft");
    CHECK(plan.levels[hall].entries.front().waypoint == named(plan.waypoints, "hall.door"));
    CHECK(plan.waypoints[named(plan.waypoints, "hall.desk")].home == hall);
    CHECK(plan.paths[plan::PathId{1}].to == named(plan.waypoints, "loft.top"));
    CHECK(plan.facts[named(plan.facts, "hall.bells")].of == hall);
    CHECK_FALSE(plan.facts[named(plan.facts, "hall.seen")].of); // not of lifetime level
    CHECK(plan.triggers[named(plan.triggers, "hall.t")].in == std::vector{hall});
    CHECK(plan.triggers[named(plan.triggers, "loft.u")].in == std::vector{loft});
    CHECK(plan.menus[named(plan.menus, "hall.stop")].in == std::vector{hall});
    CHECK(plan.routes[plan::RouteId{0}].start.at == named(plan.waypoints, "hall.desk"));
    // What stands outside comes first, then level by level.
    CHECK(plan.triggers[plan::TriggerId{0}].name == "outside");
    CHECK(plan.triggers[plan::TriggerId{1}].name == "hall.t");
    CHECK(plan.facts[plan::FactId{0}].name == "round");
    CHECK(plan::item_name(plan, plan::ItemId{0}) == "hall.stop.go");
}

TEST_CASE("names inside win, and it is told which is hidden") {
    const std::string text =
        hall_with("    sublevels: {loft: {waypoints: {door: [0, 5, 0]}, paths: [[door, desk]]}}\n"
                  "    paths: [[door, desk]]\n",
                  "waypoints: {desk: [1, 1, 1]}\n");
    CHECK(findings_of(text) ==
          Lines{"plan.yaml:4:34: note: inside this level \"desk\" means this waypoint, not the one "
                "defined at plan.yaml:7:13  [name-hidden]",
                "plan.yaml:5:36: note: inside this level \"door\" means this waypoint, not the one "
                "defined at plan.yaml:4:17  [name-hidden]"});
    const plan::Plan plan = tests::read_text(text).plan;
    REQUIRE(plan.paths.size() == 2);
    CHECK(plan.waypoints[plan.paths[plan::PathId{0}].from].name == "hall.door");
    CHECK(plan.waypoints[plan.paths[plan::PathId{1}].from].name == "loft.door");
    CHECK(plan.waypoints[plan.paths[plan::PathId{1}].to].name == "hall.desk");
}

TEST_CASE("a name that is another level's is told in full") {
    CHECK(findings_of(hall_with("", "routes: {r: {start: {level: hall, waypoint: desk}, steps: "
                                    "[{go: hall.dsek}, {go: hal.desk}, {go: hall.Desk}]}}\n"
                                    "players: {p: {speeds: {walk: 1}}}\n")) ==
          Lines{"plan.yaml:5:45: error: no waypoint is called \"desk\"; did you mean "
                "\"hall.desk\"?  [unknown-name]",
                "plan.yaml:5:65: error: no waypoint is called \"hall.dsek\"; did you mean "
                "\"hall.desk\"?  [unknown-name]",
                "plan.yaml:5:82: error: no waypoint is called \"hal.desk\"; did you mean "
                "\"hall.desk\"?  [unknown-name]",
                "plan.yaml:5:98: error: no waypoint is called \"hall.Desk\"; it differs from "
                "\"hall.desk\" only in capitals  [unknown-name]"});
    CHECK(findings_of(hall_with("    paths: [[door, dsek]]\n")) ==
          Lines{"plan.yaml:5:20: error: no waypoint is called \"dsek\"; did you mean "
                "\"hall.desk\"?  [unknown-name]"});
}

TEST_CASE("what stands inside a level belongs to it and is in its world") {
    CHECK(findings_of(hall_with("    triggers: {t: {in: yard, when: veiled, steps: []}}\n"
                                "    menus: {m: {in: hall, items: {}}}\n  yard:\n"
                                "    waypoints: {w: {at: [0, 0, 0], world: far}}\n")) ==
          Lines{"plan.yaml:5:24: error: what stands inside hall belongs to it, to no other  "
                "[wrong-value]",
                "plan.yaml:6:21: error: what stands inside hall belongs to it, to no other  "
                "[wrong-value]",
                "plan.yaml:8:43: error: what stands inside a level is in that level's world  "
                "[wrong-value]"});
    CHECK(findings_of(hall_with("", "  yard: {waypoints: {door: [0, 0, 0]}, world: own, paths: "
                                    "[[door, hall.door]]}\n")) ==
          Lines{"plan.yaml:5:60: error: a path can't lead from yard.door to hall.door: they are in "
                "different worlds  [path-across-worlds]"});
}

TEST_CASE("a level's own space: everything inside it is turned, then moved") {
    const plan::Plan plan = plan_from(R"(
hestrel: 1
waypoints: {outside: {at: [1, 2, 3], world: hall}}
levels:
  hall:
    world: own
    origin: [100, 0, 0]
    turn: 90
    area: {min: [0, 0, -2], max: [10, 4, 2]}
    waypoints: {door: [10, 0, 0], far: [20, 0, 0]}
    paths: [{from: door, to: far, via: [[15, 0, 1]]}]
    triggers:
      box: {box: {min: [0, 0, -2], max: [10, 4, 2], turn: 5}, steps: []}
      fall: {beyond: {axis: x, over: 7}, steps: []}
    sublevels: {loft: {origin: [1, 5, 0], waypoints: {top: [0, 0, 2]}}}
)");
    using plan::Vec3;
    using tests::named;
    const auto hall = named(plan.levels, "hall");
    CHECK(plan.worlds[plan.levels[hall].world] == "hall");
    CHECK(plan.waypoints[named(plan.waypoints, "outside")].world == plan.levels[hall].world);
    CHECK(plan.waypoints[named(plan.waypoints, "outside")].at == Vec3{1, 2, 3});
    CHECK(plan.waypoints[named(plan.waypoints, "hall.door")].at == Vec3{100, 0, -10});
    CHECK(plan.waypoints[named(plan.waypoints, "loft.top")].at == Vec3{102, 5, -1});
    CHECK(plan.paths[plan::PathId{0}].via.front() == Vec3{101, 0, -15});
    CHECK(plan.levels[hall].area.front().turn == 90);
    CHECK(plan.levels[hall].area.front().min == Vec3{95, 0, -7}); // about its centre 100, 2, -5
    CHECK(std::get<plan::Box>(plan.triggers[named(plan.triggers, "hall.box")].shape).turn == 95);
    const auto fall =
        std::get<plan::Beyond>(plan.triggers[named(plan.triggers, "hall.fall")].shape);
    CHECK(fall.axis == 2);
    CHECK_FALSE(fall.over);
    CHECK(fall.limit == -7);
}

TEST_CASE("a space that can't be: a turn of which no plane comes out, a turn out of bounds") {
    CHECK(
        findings_of("hestrel: 1\nlevels:\n  hall:\n    turn: 30\n    triggers: {t: {beyond: {axis: "
                    "z, under: 1}, steps: []}, u: {beyond: {axis: y, under: 1}, steps: []}}\n"
                    "  yard: {turn: 5000, world: own, sublevels: {shed: {world: own}}}\n") ==
        Lines{"plan.yaml:5:28: error: beyond along z can't be said in a level that is turned by "
              "30 degrees: only by multiples of 90  [wrong-value]",
              "plan.yaml:6:16: error: \"5000\" must be from -3600 to 3600 degrees  [wrong-value]",
              "plan.yaml:6:60: error: a sublevel is in its parent's world  [wrong-value]"});
}

TEST_CASE("a row of twelve levels takes less than forty lines") {
    std::string text = R"(hestrel: 1
devices: {box: {memory: {total: 900}, read: {rate: 100}, frame: {fps: 60}}}
players: {walker: {speeds: {walk: 2}}}
veils: {fade: {min: 1 s}}
lists: {go-on: {steps: [{next: {at: start, veil: fade}}]}}
levels:
  l1: &row
    world: own
    memory: {texture: 50}
    area: {min: [-2, -2, -5], max: [62, 8, 5]}
    waypoints: {start: [0, 0, 0], edge: [30, 0, 0], pit: [30, -40, 0], end: [60, 0, 0]}
    paths: [[start, edge, end], {from: edge, to: pit, one-way: true}]
    entries: {start: start}
    arrive: [{mark: l1.start}]
    facts: {rung: {initial: 0, range: [0, 9], lifetime: level}}
    triggers:
      fall: {beyond: {axis: y, under: -30}, steps: [{return: checkpoint}]}
      bell: {box: {min: [10, -1, -5], max: [14, 4, 5]}, when: rung < 2, steps: [{set: {rung: +1}}]}
      end: {box: {min: [54, -1, -5], max: [62, 4, 5]}, steps: [{do: go-on, when: rung > 0}]}
    menus: {ready: {pauses: true, items: {go: {steps: []}}}}
)";
    for (int i = 2; i <= 12; ++i)
        text += fmt::format("  l{0}: {{<<: *row, arrive: [{{mark: l{0}.start}}]}}\n", i);
    text += "editions: {full: {levels: [l1, l2, l3, l4, l5, l6, l7, l8, l9, l10, l11, l12]}}\n";
    CHECK(std::count(text.begin(), text.end(), '\n') < 40);
    const plan::Plan plan = plan_from(
        text + "routes: {r: {steps: [{press: l1.ready.go}, {go: l1.pit}, {go: l1.end}, {until: "
               "shown(l2) and not veiled}, {expect: l1.rung == 0}, {press: l2.ready.go}, {go: "
               "l2.end}, {until: shown(l3) and not veiled}]}}\n");
    CHECK(plan.levels.size() == 12);
    CHECK(plan.triggers.size() == 36);
    CHECK(walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}).verdict == plan::Verdict::fine);
}

TEST_CASE("what a plan says does not hang on where it stands: inside levels or outside") {
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        INFO("seed " << seed);
        const tests::RandomRow row(seed);
        const plan::Plan inside = plan_from(row.inside());
        const plan::Plan outside = plan_from(row.outside());
        for (const plan::RouteId route : inside.routes.ids()) {
            const auto one = walk::walk(inside, route, plan::DeviceId{0});
            const auto other = walk::walk(outside, route, plan::DeviceId{0});
            std::string events = events_of(inside, one);
            for (const plan::Level& level : inside.levels)
                events = replaced_all(events, level.name + ".", level.name + "-");
            CHECK(events == events_of(outside, other));
        }
    }
}
