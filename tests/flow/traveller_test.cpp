// A player's way, piece by piece: how long each takes, and what it gets into and out of when.

#include "flow/traveller.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;
using flow::Traveller;
using flow::ZoneId;
using plan::milliseconds;
using plan::seconds;
using plan::WaypointId;

namespace {

/// a to b is 10 m with a corner at 6 m; b to c 20 m, capped at 1 m/s; back from c only round by d.
plan::Plan with_ways() {
    return tests::plan_from(
        "hestrel: 1\nlevels: {hall: }\n"
        "waypoints: {a: [0, 0, 0], b: [6, 0, 4], c: [26, 0, 4], d: [26, 0, 24], e: [90, 0, 0]}\n"
        "paths:\n  - {from: a, to: b, via: [[6, 0, 0]]}\n"
        "  - {from: b, to: c, one-way: true, speed: 1}\n"
        "  - [c, d]\n  - [d, a]\n"
        "triggers:\n"
        "  corner: {box: {min: [5, 0, 0], max: [7, 1, 1]}, steps: []}\n"
        "  sill: {box: {min: [2, 0, -1], max: [3, 1, 1]}, steps: []}\n");
}

constexpr WaypointId a{std::size_t{0}}, b{std::size_t{1}}, c{std::size_t{2}}, e{std::size_t{4}};
constexpr ZoneId corner{std::size_t{0}}, sill{std::size_t{1}};

} // namespace

TEST_CASE("travelling: pieces of way, their times, and what is crossed on each") {
    const plan::Plan plan = with_ways();
    const flow::Zones zones(plan);
    geometry::WayFinder ways(plan);
    Traveller traveller;
    traveller.at = a;
    flow::set_out(plan, ways.shortest(a, c).value(), traveller, c, 2);
    CHECK(traveller.on_the_way());
    CHECK(traveller.path() == plan::PathId{0});

    // a to its corner: 6 m at 2 m/s. Into the sill at 2 m, out at 3 m; into the corner's box at 5
    // m.
    flow::measure_piece(plan, zones, {}, traveller);
    CHECK(traveller.duration == seconds(3));
    REQUIRE(traveller.crossings.size() == 3);
    CHECK(traveller.crossings[0].after == seconds(1));
    CHECK(traveller.crossings[0].zone == sill);
    CHECK(traveller.crossings[0].enters);
    CHECK(traveller.crossings[1].after == milliseconds(1'500));
    CHECK_FALSE(traveller.crossings[1].enters);
    CHECK(traveller.crossings[2].after == milliseconds(2'500));
    CHECK(traveller.crossings[2].zone == corner);

    // 4 m on, inside of the corner's box for the first.
    REQUIRE(flow::next_piece(plan, traveller));
    flow::measure_piece(plan, zones, {corner}, traveller);
    CHECK(traveller.duration == seconds(2));
    REQUIRE(traveller.crossings.size() == 1);
    CHECK(traveller.crossings[0].after == milliseconds(500));
    CHECK_FALSE(traveller.crossings[0].enters);

    // b to c at the path's 1 m/s, not the player's 2.
    REQUIRE(flow::next_piece(plan, traveller));
    CHECK(traveller.path() == plan::PathId{1});
    flow::measure_piece(plan, zones, {}, traveller);
    CHECK(traveller.piece_speed == 1);
    CHECK(traveller.duration == seconds(20));
    CHECK(traveller.crossings.empty());
    CHECK_FALSE(flow::next_piece(plan, traveller)); // there
}

TEST_CASE("travelling: one way only, round by another, or not at all") {
    const plan::Plan plan = with_ways();
    const flow::Zones zones(plan);
    geometry::WayFinder ways(plan);
    Traveller traveller;
    traveller.at = c;
    flow::set_out(plan, ways.shortest(c, b).value(), traveller, b, 2);
    REQUIRE(traveller.legs.size() == 3); // c to d, d to a, a to b
    CHECK(traveller.legs[0].path == plan::PathId{2});
    CHECK(traveller.legs[1].path == plan::PathId{3});
    CHECK(traveller.legs[2].path == plan::PathId{0});
    CHECK(traveller.legs[2].forward);
    CHECK_FALSE(ways.shortest(a, e));
}

TEST_CASE("travelling: along one path, backwards, stopped in the middle") {
    const plan::Plan plan = with_ways();
    const flow::Zones zones(plan);
    Traveller traveller;
    traveller.at = b;
    flow::set_out_along(plan, traveller, {plan::PathId{0}, false}, 4);
    flow::measure_piece(plan, zones, {}, traveller);
    CHECK(traveller.duration == seconds(1)); // 4 m from b to the corner
    CHECK(traveller.goal == a);
    REQUIRE(traveller.crossings.size() == 1);
    CHECK(traveller.crossings[0].after == milliseconds(750));
    CHECK(traveller.crossings[0].enters);
    traveller.walked = milliseconds(250);
    CHECK(traveller.position()[0] == Approx(6));
    CHECK(traveller.position()[2] == Approx(3));
    CHECK(traveller.speed_now() == 0);
    traveller.going_since = seconds(7);
    CHECK(traveller.speed_now() == 4);
}

TEST_CASE("travelling: the zones around a waypoint, boundaries included") {
    const plan::Plan plan = tests::plan_from(
        "hestrel: 1\nlevels:\n  hall: {area: [{min: [0, 0, 0], max: [5, 2, 5]}, {min: [5, 0, 0], "
        "max: "
        "[9, 2, 5]}], near: {load: 3, unload: 6}}\n"
        "waypoints: {edge: [5, 0, 0], outside: [11, 0, 0], near: [13, 0, 0], far: [16, 0, 0]}\n"
        "triggers: {t: {box: {min: [5, 0, 0], max: [6, 1, 1]}, steps: []}}\n");
    const flow::Zones zones(plan);
    const auto kinds_at = [&](std::size_t waypoint) {
        std::map<flow::Zone::Kind, int> kinds;
        for (const ZoneId zone : zones.around(plan, WaypointId{waypoint}))
            ++kinds[zones[zone].kind];
        return kinds;
    };
    using Kind = flow::Zone::Kind;
    // Both boxes of the area hold their common side.
    CHECK(kinds_at(0) ==
          std::map<Kind, int>{
              {Kind::trigger, 1}, {Kind::area, 2}, {Kind::near_load, 2}, {Kind::near_unload, 2}});
    CHECK(kinds_at(1) == std::map<Kind, int>{{Kind::near_load, 1}, {Kind::near_unload, 2}});
    CHECK(kinds_at(2) == std::map<Kind, int>{{Kind::near_unload, 1}});
    CHECK(kinds_at(3).empty());
    CHECK(zones.around(plan, {}).empty());
}
