// The quickest way from where something fires to where a level is needed.

#include "study/soonest_need.hpp"
#include "support/plan_text.hpp"

#include <cmath>

using namespace hestrel;
using plan::LevelId;
using plan::PathId;
using plan::TriggerId;
using study::OnLeg;
using study::soonest_need;

namespace {

constexpr LevelId quay{std::size_t{0}}, loft{std::size_t{1}};
constexpr TriggerId t{std::size_t{0}}, leaving{std::size_t{1}};

/// From a two ways lead to c, in which the quay is: straight, 100 m, on which nobody is faster than
/// 2 m/s; and over b, 130 m.
plan::Plan two_ways(const std::string& gate = "") {
    return tests::plan_from(R"(hestrel: 1
levels:
  quay: {memory: {t: 1}, area: [{min: [95, -1, -5], max: [110, 5, 5]}], seen-from: [{min: [80, -1, -1], max: [82, 5, 1]}]}
  loft: {memory: {t: 1}}
waypoints: {a: [0, 0, 0], b: [50, 0, 42], c: [100, 0, 0], far: [500, 0, 0]}
gates: {door: {needs: [quay]}}
paths:
  - {from: a, to: c, speed: 2)" +
                            gate + R"(}
  - [a, b, c]
  - [c, far]
triggers:
  t: {box: {min: [10, -1, -1], max: [20, 5, 1]}, steps: []}
  leaving: {box: {min: [10, -1, -1], max: [20, 5, 1]}, fires: on-exit, steps: []}
)");
}

} // namespace

TEST_CASE("soonest need: from the edge of a shape to the edge of a level, straight") {
    const plan::Plan plan = two_ways();
    const study::Geography map(plan);
    // Both ways through it, and both ways along the path.
    const auto starts = study::firings_of(plan, map, t);
    REQUIRE(starts.size() == 2);
    CHECK(starts[0].metres == Approx(10));
    CHECK(starts[1].metres == Approx(80)); // from c: 100 less 20
    const auto found = soonest_need(plan, map, {starts[0]}, {quay, {}, 7, 120});
    REQUIRE(found);
    // It is seen from 80 m on, by who comes into the shape at 10 m: 70 m at 2 m/s.
    CHECK(found->metres == Approx(70));
    CHECK(found->seconds == Approx(35));
    CHECK_FALSE(found->area);
    CHECK(found->legs.size() == 1);
    CHECK(found->to.metres == Approx(80));
    // Of several starts the one from which it is quicker, here 20 m back to a and round by b.
    CHECK(soonest_need(plan, map, starts, {quay, {}, 7, 120})->from.metres == Approx(80));
    // Who leaves the shape backwards, at 10 m, still comes from c: it was needed there.
    const auto exits = study::firings_of(plan, map, leaving);
    REQUIRE(exits.size() == 2);
    CHECK(exits[0].metres == Approx(20));
    CHECK(exits[1].metres == Approx(90));
}

TEST_CASE("soonest need: the quickest way, not the shortest") {
    const plan::Plan plan = two_ways();
    const study::Geography map(plan);
    const PathId straight{std::size_t{0}};
    // From c's side of the shape back to a, and round by b: 65.3 m each half, at 7 m/s.
    const auto found = soonest_need(plan, map, {{{straight, false}, 90}}, {quay, {}, 7, 120});
    REQUIRE(found);
    const double half = std::sqrt(50.0 * 50 + 42.0 * 42);
    CHECK(found->legs.size() == 3);
    CHECK(found->legs.front() == geometry::Leg{straight, false});
    CHECK(found->area);
    // Into the area's side at x = 95: a tenth of the second half before its end.
    CHECK(found->metres == Approx(10 + half + half * 0.9).epsilon(0.001));
    CHECK(found->seconds == Approx(10.0 / 2 + half * 1.9 / 7).epsilon(0.001));
    CHECK(found->from.metres == Approx(90));
}

TEST_CASE("soonest need: gates that wait for what is brought hold whoever comes too soon") {
    const plan::Plan plan = two_ways(", gate: door");
    const study::Geography map(plan);
    const auto starts = study::firings_of(plan, map, t);
    CHECK_FALSE(soonest_need(plan, map, starts, {quay, {quay}, 7, 120}));
    // For others it is no door.
    CHECK(soonest_need(plan, map, starts, {quay, {loft}, 7, 120}));
    CHECK(study::gated_for(plan, PathId{std::size_t{0}}, {quay}));
    CHECK_FALSE(study::gated_for(plan, PathId{std::size_t{1}}, {quay}));
}

TEST_CASE("soonest need: what is too late, or nowhere, is none") {
    const plan::Plan plan = two_ways();
    const study::Geography map(plan);
    const auto starts = study::firings_of(plan, map, t);
    CHECK_FALSE(soonest_need(plan, map, {starts[0]}, {quay, {}, 7, 34.9}));
    CHECK(soonest_need(plan, map, {starts[0]}, {quay, {}, 7, 35.1}));
    CHECK_FALSE(soonest_need(plan, map, starts, {loft, {}, 7, 120}));
    CHECK_FALSE(soonest_need(plan, map, {}, {quay, {}, 7, 120}));
    // Who is in it already needs it at once.
    const auto there =
        soonest_need(plan, map, {{{PathId{std::size_t{0}}, true}, 97}}, {quay, {}, 7, 120});
    REQUIRE(there);
    CHECK(there->seconds == 0);
}

TEST_CASE("geography: a trigger whose shape has changed is met where it now is") {
    plan::Plan plan = two_ways();
    study::Geography map(plan);
    plan.triggers[t].shape = plan::Box{{40, -1, -1}, {45, 5, 60}, 0};
    map.look_again(plan, t);
    const study::Geography anew(plan);
    REQUIRE(map.meetings[t].size() == anew.meetings[t].size());
    for (std::size_t i = 0; i < map.meetings[t].size(); ++i) {
        CHECK(map.meetings[t][i].path == anew.meetings[t][i].path);
        CHECK(map.meetings[t][i].from == anew.meetings[t][i].from);
        CHECK(map.meetings[t][i].to == anew.meetings[t][i].to);
    }
    CHECK(map.paths_through(t).size() == 2);
    // And around a waypoint.
    plan.triggers[t].shape = plan::Sphere{{500, 0, 0}, 3};
    map.look_again(plan, t);
    CHECK(map.around[plan::WaypointId{std::size_t{3}}] == std::vector<TriggerId>{t});
    CHECK(map.paths_through(t) == std::vector<PathId>{PathId{std::size_t{3}}});
}
