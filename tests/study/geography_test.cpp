// Where paths lead: what they pass through.

#include "study/geography.hpp"

#include "study/road.hpp"

#include <algorithm>

using namespace hestrel;
using plan::PathId;
using plan::TriggerId;
using plan::WaypointId;

namespace {

constexpr PathId first{std::size_t{0}}, second{std::size_t{1}};
constexpr WaypointId b{std::size_t{1}};
constexpr TriggerId crossed{std::size_t{0}}, at_b{std::size_t{2}};
constexpr plan::LevelId there{std::size_t{0}};

} // namespace

TEST_CASE("geography: stretches of paths inside shapes and areas, in metres") {
    const plan::Plan plan = tests::short_road();
    const study::Geography map(plan);
    CHECK(map.lengths[first] == Approx(50));
    REQUIRE(map.meetings[crossed].size() == 1);
    CHECK(map.meetings[crossed][0].path == first);
    CHECK(map.meetings[crossed][0].from == Approx(10));
    CHECK(map.meetings[crossed][0].to == Approx(20));
    REQUIRE(map.meetings_on(first, at_b).size() == 1);
    CHECK(map.meetings_on(first, at_b)[0].from == Approx(48)); // into the sphere around b
    CHECK(map.meetings_on(first, at_b)[0].to == Approx(50));
    CHECK(map.meetings_on(second, crossed).empty());
    CHECK(map.paths_through(at_b) == std::vector<PathId>{first, second});
    REQUIRE(map.needs_on(second, there).size() == 2);
    CHECK(map.needs_on(second, there)[0].area);
    CHECK(map.needs_on(second, there)[0].from == Approx(30));
    CHECK_FALSE(map.needs_on(second, there)[1].area);
    CHECK(map.needs_on(first, there).empty());
    CHECK(map.around[b] == std::vector<TriggerId>{at_b});
    CHECK(map.legs_from[b].size() == 2);
    CHECK(map.legs_to[b].size() == 1); // nobody comes back from c
    CHECK(map.paths_into(there) == std::vector<PathId>{second});
    // Backwards the other end comes first.
    const auto part = map.on_leg({first, false}, 10, 20);
    CHECK(part.from == Approx(30));
    CHECK(part.to == Approx(40));
}

TEST_CASE("geography: a shape that spans a corner is one stretch") {
    const plan::Plan plan = tests::plan_from(R"(hestrel: 1
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [{from: a, to: b, via: [[50, 0, 0]]}]
triggers: {t: {box: {min: [40, -1, -1], max: [60, 1, 1]}, steps: []}}
)");
    const study::Geography map(plan);
    REQUIRE(map.meetings[crossed].size() == 1);
    CHECK(map.meetings[crossed][0].from == Approx(40));
    CHECK(map.meetings[crossed][0].to == Approx(60));
}

TEST_CASE("geography: the areas around a place, whichever began first and lie over each other") {
    const plan::Plan plan = tests::plan_from(R"(hestrel: 1
levels:
  long: {area: {min: [10, -1, -1], max: [90, 1, 1]}}
  early: {area: {min: [0, -1, -1], max: [30, 1, 1]}}
  two: {area: [{min: [20, -1, -1], max: [40, 1, 1]}, {min: [50, -1, -1], max: [60, 1, 1]}]}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
)");
    const study::Geography map(plan);
    const auto at = [&](double metres) {
        std::vector<std::string> names;
        for (const study::Area* area : map.areas_at(first, metres))
            names.push_back(plan.levels[area->level].name);
        std::sort(names.begin(), names.end());
        return names;
    };
    using Names = std::vector<std::string>;
    CHECK(at(5) == Names{"early"});
    CHECK(at(25) == Names{"early", "long", "two"});
    CHECK(at(30) == Names{"early", "long", "two"}); // its edge is in it
    CHECK(at(45) == Names{"long"});
    CHECK(at(55) == Names{"long", "two"});
    CHECK(at(95).empty());
}
