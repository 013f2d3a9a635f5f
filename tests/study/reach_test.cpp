// Where players can get to, against looking at every way.

#include "study/reach.hpp"

#include "support/dice.hpp"
#include "support/plan_text.hpp"

#include <set>

using namespace hestrel;
using geometry::Leg;
using plan::PathId;
using plan::WaypointId;
using study::Ancestry;
using study::Reach;

namespace {

WaypointId waypoint(std::size_t number) {
    return WaypointId{number};
}

/// Waypoints that can be got to from `origins` without going along any of `without`.
std::set<WaypointId> got_to(const plan::Plan& plan, const study::Geography& map,
                            const std::vector<WaypointId>& origins,
                            const std::vector<Leg>& without) {
    std::set<WaypointId> there(origins.begin(), origins.end());
    std::vector<WaypointId> open(there.begin(), there.end());
    while (!open.empty()) {
        const WaypointId from = open.back();
        open.pop_back();
        for (const Leg leg : map.legs_from[from]) {
            const bool is_out = std::find(without.begin(), without.end(), leg) != without.end();
            if (!is_out && there.insert(geometry::end_of(plan, leg)).second)
                open.push_back(geometry::end_of(plan, leg));
        }
    }
    return there;
}

/// A few waypoints, and paths between them, some of them one-way.
plan::Plan random_map(tests::Dice& dice) {
    plan::Plan plan;
    plan.worlds.push({});
    const int waypoints = 2 + dice.below(9);
    for (int i = 0; i < waypoints; ++i) {
        plan::Waypoint each;
        each.at = {static_cast<double>(i), 0, 0};
        each.world = plan::WorldId{0U};
        plan.waypoints.push(each);
    }
    for (int i = dice.below(2 * waypoints); i >= 0; --i) {
        plan::Path path;
        path.from = waypoint(static_cast<std::size_t>(dice.below(waypoints)));
        path.to = waypoint(static_cast<std::size_t>(dice.below(waypoints)));
        path.one_way = dice.one_in(3);
        if (path.from != path.to) plan.paths.push(path);
    }
    return plan;
}

} // namespace

TEST_CASE("ancestry: what stands above what, and beside") {
    // 0 above 1 and 2; 3 above 4, and in another tree.
    const Ancestry tree({Ancestry::none, 0, 0, Ancestry::none, 3});
    CHECK(tree.is_above(0, 0));
    CHECK(tree.is_above(0, 1));
    CHECK(tree.is_above(0, 2));
    CHECK_FALSE(tree.is_above(1, 0));
    CHECK_FALSE(tree.is_above(1, 2));
    CHECK(tree.is_above(3, 4));
    CHECK_FALSE(tree.is_above(0, 4));
}

TEST_CASE("reach: around a pond there are two ways, and one over the bridge behind it") {
    // a to b and c, both to d, and d to e; nobody gets back to a, and none to f.
    const plan::Plan plan = tests::plan_from(R"(hestrel: 1
waypoints: {a: [0, 0, 0], b: [9, 0, 0], c: [0, 0, 9], d: [9, 0, 9], e: [20, 0, 9], f: [0, 0, 50]}
paths: [{from: a, to: b, one-way: true}, {from: a, to: c, one-way: true}, [b, d], [c, d], [d, e], {from: f, to: a, one-way: true}]
)");
    const study::Geography map(plan);
    const Reach reach(plan, map, {waypoint(0)});
    const auto leg = [](std::size_t path, bool forward = true) {
        return Leg{PathId{path}, forward};
    };
    CHECK(reach.leads_to(waypoint(0)));
    CHECK(reach.leads_to(waypoint(4)));
    CHECK_FALSE(reach.leads_to(waypoint(5)));
    CHECK(reach.must_take(waypoint(4), {leg(4)}));
    CHECK_FALSE(reach.must_take(waypoint(4), {leg(4, false)}));
    CHECK_FALSE(reach.must_take(waypoint(4), {leg(0)}));
    CHECK(reach.must_take(waypoint(5), {})); // there is none that could
    CHECK(reach.avoids(waypoint(3), {leg(4)}));
    CHECK_FALSE(reach.avoids(waypoint(4), {leg(4)}));
    // Only one of the two is the shortest.
    CHECK(reach.avoids(waypoint(3), {leg(0)}) != reach.avoids(waypoint(3), {leg(1)}));
}

TEST_CASE("reach: on random maps, as if every way was looked at") {
    tests::Dice dice(3);
    for (std::uint32_t round = 0; round < tests::seeds(300); ++round) {
        const plan::Plan plan = random_map(dice);
        const study::Geography map(plan);
        std::vector<WaypointId> origins;
        for (int i = dice.below(3); i >= 0; --i)
            origins.push_back(waypoint(
                static_cast<std::size_t>(dice.below(static_cast<int>(plan.waypoints.size())))));
        const Reach reach(plan, map, origins);
        const auto everywhere = got_to(plan, map, origins, {});
        for (const WaypointId there : plan.waypoints.ids())
            CHECK(reach.leads_to(there) == (everywhere.count(there) > 0));
        std::vector<Leg> some;
        for (const PathId path : plan.paths.ids()) {
            for (const Leg leg : study::legs_of(plan, path)) {
                const auto without = got_to(plan, map, origins, {leg});
                for (const WaypointId there : plan.waypoints.ids())
                    CHECK(reach.must_take(there, {leg}) == (without.count(there) == 0));
                if (dice.one_in(3)) some.push_back(leg);
            }
        }
        const auto without = got_to(plan, map, origins, some);
        for (const WaypointId there : plan.waypoints.ids()) {
            if (reach.avoids(there, some)) CHECK(without.count(there) == 1);
            if (reach.must_take(there, some)) CHECK(without.count(there) == 0);
        }
    }
}
