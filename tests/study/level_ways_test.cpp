// Where lists are met, and from which level to which they lead.

#include "study/level_ways.hpp"

#include "plan/names.hpp"
#include "support/plan_text.hpp"

#include <fmt/format.h>

#include <set>

using namespace hestrel;

TEST_CASE("ways lead from where a list is met to what it brings") {
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + R"(
levels:
  desk: {memory: {t: 1}}
  hall: {memory: {t: 1}, entries: {in: a}, area: {min: [0, -1, -1], max: [9, 1, 1]}}
  quay: {memory: {t: 1}, sublevels: {shed: {memory: {t: 1}}}, arrive: [{open: ask}]}
  attic: {memory: {t: 1}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
triggers:
  owned: {in: quay, box: {min: [1, -1, -1], max: [2, 1, 1]}, steps: [{load: [attic]}]}
  met: {box: {min: [3, -1, -1], max: [4, 1, 1]}, steps: [{show: [shed]}, {show: [hall]}]}
  anywhere: {when: open, steps: [{load: [attic]}]}
menus:
  main: {in: desk, items: {on: {steps: [{next: {}}]}, choose: {steps: [{choose: {one: [{load: [quay]}], two: [{load: [hall]}]}}]}}}
  ask: {items: {yes: {steps: [{switch: {to: desk}}]}}}
facts: {open: {initial: false}}
editions: {full: {levels: [desk, hall, quay, attic]}}
routes: {r: {start: {level: desk}, steps: [{press: main.on}, {set: {open: true}}]}}
)");
    std::set<std::string> ways;
    for (const study::LevelWay& way : study::level_ways(plan)) {
        ways.insert(fmt::format("{} > {} by {}{}", way.from ? plan.levels[way.from].name : "?",
                                plan.levels[way.to].name, plan::list_name(plan, way.list),
                                way.switches ? ", leaving" : ""));
    }
    CHECK(ways == std::set<std::string>{
                      "quay > attic by trigger owned", "hall > shed by trigger met",
                      "hall > quay by trigger met", "? > attic by trigger anywhere",
                      "desk > hall by item main.on, leaving", "desk > quay by item main.choose",
                      "desk > hall by item main.choose", "quay > desk by item ask.yes, leaving"});
}

TEST_CASE("next and back count from the level that players were last switched to") {
    // Players are switched to the hall, walk on to the tower and its loft, and go `next` up there:
    // past the hall. The cellar, that nobody comes to on foot, counts from itself.
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + R"(
levels:
  desk: {memory: {t: 1}}
  hall: {memory: {t: 1}}
  bridge: {memory: {t: 1}}
  tower: {memory: {t: 1}, sublevels: {loft: {memory: {t: 1}}}}
  cellar: {memory: {t: 1}}
  shore: {memory: {t: 1}}
triggers:
  stairs: {in: hall, box: {min: [1, -1, -1], max: [2, 1, 1]}, steps: [{load: [tower]}]}
  lift: {in: loft, box: {min: [3, -1, -1], max: [4, 1, 1]}, steps: [{next: {}}]}
  slide: {in: tower, box: {min: [5, -1, -1], max: [6, 1, 1]}, steps: [{back: {}}]}
  hatch: {in: cellar, box: {min: [7, -1, -1], max: [8, 1, 1]}, steps: [{next: {}}]}
menus:
  main: {in: desk, items: {on: {steps: [{next: {}}]}}}
editions: {full: {levels: [desk, hall, bridge, tower, cellar, shore]}}
routes: {r: {start: {level: desk}, steps: [{press: main.on}]}}
)");
    std::set<std::string> ways;
    for (const study::LevelWay& way : study::level_ways(plan)) {
        if (way.switches)
            ways.insert(
                fmt::format("{} > {}", plan.levels[way.from].name, plan.levels[way.to].name));
    }
    CHECK(ways ==
          std::set<std::string>{"desk > hall", "loft > bridge", "tower > desk", "cellar > shore"});
}
