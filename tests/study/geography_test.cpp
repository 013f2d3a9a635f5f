// Where paths lead: what they pass through, and where players can come from.

#include "study/geography.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;
using plan::PathId;
using plan::TriggerId;
using plan::WaypointId;
using study::ComingFrom;

namespace {

/// A road a-b-c of 50 m each with a corner at (50, 0, 10), one-way from b to c, and three triggers.
plan::Plan road() {
    return tests::plan_from(R"(hestrel: 1
levels: {quay: {area: {min: [80, -1, -1], max: [100, 1, 1]}, seen-from: {min: [70, -1, -1], max: [75, 1, 1]}}}
waypoints: {a: [0, 0, 0], b: [50, 0, 0], c: [100, 0, 0]}
paths: [[a, b], {from: b, to: c, one-way: true}]
triggers:
  t: {box: {min: [10, -1, -1], max: [20, 1, 1]}, steps: []}
  u: {box: {min: [60, -1, -1], max: [65, 1, 1]}, fires: on-exit, steps: []}
  at-b: {sphere: {at: [50, 0, 0], radius: 2}, steps: []}
)");
}

constexpr PathId first{std::size_t{0}}, second{std::size_t{1}};
constexpr WaypointId a{std::size_t{0}}, b{std::size_t{1}};

} // namespace

TEST_CASE("geography: stretches of paths inside shapes and areas, in metres") {
    const plan::Plan plan = road();
    const study::Geography map(plan);
    CHECK(map.lengths[first] == Approx(50));
    REQUIRE(map.meetings[first].size() == 2);
    CHECK(map.meetings[first][0].from == Approx(10));
    CHECK(map.meetings[first][0].to == Approx(20));
    CHECK(map.meetings[first][1].from == Approx(48)); // into the sphere around b
    CHECK(map.meetings[first][1].to == Approx(50));
    REQUIRE(map.needs[second].size() == 2);
    CHECK(map.needs[second][0].area);
    CHECK(map.needs[second][0].from == Approx(30));
    CHECK_FALSE(map.needs[second][1].area);
    CHECK(map.around[b] == std::vector<TriggerId>{TriggerId{std::size_t{2}}});
    CHECK(map.legs_from[b].size() == 2);
    CHECK(map.legs_to[b].size() == 1); // nobody comes back from c
    CHECK(map.paths_into[plan::LevelId{std::size_t{0}}] == std::vector<PathId>{second});
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
    REQUIRE(map.meetings[first].size() == 1);
    CHECK(map.meetings[first][0].from == Approx(40));
    CHECK(map.meetings[first][0].to == Approx(60));
}

TEST_CASE("coming from: stops at what it is told to, and finds the nearest beginning") {
    const plan::Plan plan = road();
    const study::Geography map(plan);
    ComingFrom search(plan, map);
    search.crossed = [](TriggerId) { return ComingFrom::Crossed::nothing; };
    search.standing = [](WaypointId at) {
        return at == a ? ComingFrom::Crossed::found : ComingFrom::Crossed::nothing;
    };
    const auto from_start = search.search({second, true}, 30);
    REQUIRE(from_start);
    CHECK(from_start->waypoint == a);
    // t is crossed between a and b.
    search.crossed = [](TriggerId trigger) {
        return trigger.value == 0 ? ComingFrom::Crossed::stops : ComingFrom::Crossed::nothing;
    };
    CHECK_FALSE(search.search({second, true}, 30));
    CHECK(search.search({first, true}, 9)); // before it
    // u fires on the way out, at 15 m from b: someone at 14 m has not fired it.
    search.crossed = [](TriggerId trigger) {
        return trigger.value == 1 ? ComingFrom::Crossed::found : ComingFrom::Crossed::nothing;
    };
    search.standing = [](WaypointId) { return ComingFrom::Crossed::nothing; };
    CHECK_FALSE(search.search({second, true}, 14));
    const auto through_u = search.search({second, true}, 16);
    REQUIRE(through_u);
    CHECK(through_u->trigger == TriggerId{std::size_t{1}});
    // A leg that nobody comes along.
    search.standing = [](WaypointId at) {
        return at == a ? ComingFrom::Crossed::found : ComingFrom::Crossed::nothing;
    };
    search.crossed = [](TriggerId) { return ComingFrom::Crossed::nothing; };
    search.closed = [](geometry::Leg leg) { return leg.path == first; };
    CHECK_FALSE(search.search({second, true}, 30));
}
