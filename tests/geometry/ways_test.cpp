#include "geometry/ways.hpp"

#include "geometry/crossing.hpp"

#include <catch2/catch.hpp>
#include <random>

using namespace hestrel;
using geometry::Leg;
using plan::PathId;
using plan::WaypointId;

namespace {

plan::Plan plan_with(const std::vector<plan::Vec3>& points,
                     const std::vector<std::pair<int, int>>& paths) {
    plan::Plan plan;
    plan.worlds.push("main");
    for (const plan::Vec3& at : points) plan.waypoints.push({{}, at, plan::WorldId{0}});
    for (const auto& [from, to] : paths) {
        plan::Path path;
        path.from = WaypointId{static_cast<std::size_t>(from)};
        path.to = WaypointId{static_cast<std::size_t>(to)};
        plan.paths.push(path);
    }
    return plan;
}

double length_of(geometry::WayFinder& ways, const std::vector<Leg>& legs) {
    double length = 0;
    for (const Leg leg : legs) length += ways.length(leg.path);
    return length;
}

} // namespace

TEST_CASE("the shortest way by length, not by number of paths") {
    const plan::Plan plan =
        plan_with({{0, 0, 0}, {10, 0, 0}, {5, 0, 9}, {5, 0, 0}}, {{0, 2}, {2, 1}, {0, 3}, {3, 1}});
    geometry::WayFinder ways(plan);
    CHECK(ways.shortest(WaypointId{0}, WaypointId{1}) ==
          std::vector{Leg{PathId{2}, true}, Leg{PathId{3}, true}});
    CHECK(ways.shortest(WaypointId{1}, WaypointId{0}) ==
          std::vector{Leg{PathId{3}, false}, Leg{PathId{2}, false}});
    CHECK(ways.shortest(WaypointId{1}, WaypointId{1}) == std::vector<Leg>{});
}

TEST_CASE("of equally long ways the one whose first differing path stands first in the plan") {
    // A square: two ways round, both 20 m. The second corner's paths stand first.
    const plan::Plan plan = plan_with({{0, 0, 0}, {10, 0, 0}, {0, 0, 10}, {10, 0, 10}},
                                      {{1, 3}, {0, 2}, {0, 1}, {2, 3}});
    geometry::WayFinder ways(plan);
    CHECK(ways.shortest(WaypointId{0}, WaypointId{3}) ==
          std::vector{Leg{PathId{1}, true}, Leg{PathId{3}, true}});
}

TEST_CASE("one-way paths are not walked backwards, and what can't be reached has no way") {
    plan::Plan plan = plan_with({{0, 0, 0}, {10, 0, 0}}, {{0, 1}});
    plan.paths[PathId{0}].one_way = true;
    geometry::WayFinder ways(plan);
    CHECK(ways.shortest(WaypointId{0}, WaypointId{1}));
    CHECK_FALSE(ways.shortest(WaypointId{1}, WaypointId{0}));
}

TEST_CASE("a path's corners count, and waypoints at one place do not make it go in circles") {
    plan::Plan plan = plan_with({{0, 0, 0}, {0, 0, 0}, {3, 0, 0}}, {{0, 1}, {1, 0}, {1, 2}});
    plan.paths[PathId{2}].via = {{0, 0, 4}};
    geometry::WayFinder ways(plan);
    CHECK(ways.length(PathId{2}) == 4 + 5);
    CHECK(ways.shortest(WaypointId{0}, WaypointId{2}) ==
          std::vector{Leg{PathId{0}, true}, Leg{PathId{2}, true}});
    CHECK(geometry::corners_of(plan, {PathId{2}, false}).front() == plan::Vec3{3, 0, 0});
}

TEST_CASE("ways are as long as those of a plain all-pairs search") {
    std::mt19937 random(3);
    for (int round = 0; round < 30; ++round) {
        const std::size_t count = 2 + random() % 12;
        std::vector<plan::Vec3> points;
        std::vector<std::pair<int, int>> paths;
        for (std::size_t i = 0; i < count; ++i) {
            points.push_back(
                {static_cast<double>(random() % 20), 0, static_cast<double>(random() % 20)});
        }
        for (std::size_t i = 0; i < 2 * count; ++i) {
            paths.emplace_back(static_cast<int>(random() % count),
                               static_cast<int>(random() % count));
        }
        plan::Plan plan = plan_with(points, paths);
        for (plan::Path& path : plan.paths) path.one_way = random() % 3 == 0;
        geometry::WayFinder ways(plan);
        std::vector<std::vector<double>> best(count, std::vector<double>(count, 1e9));
        for (std::size_t i = 0; i < count; ++i) best[i][i] = 0;
        for (const PathId id : plan.paths.ids()) {
            const plan::Path& path = plan.paths[id];
            auto& there = best[path.from.value][path.to.value];
            auto& back = best[path.to.value][path.from.value];
            there = std::min(there, ways.length(id));
            if (!path.one_way) back = std::min(back, ways.length(id));
        }
        for (std::size_t k = 0; k < count; ++k) {
            for (std::size_t i = 0; i < count; ++i) {
                for (std::size_t j = 0; j < count; ++j)
                    best[i][j] = std::min(best[i][j], best[i][k] + best[k][j]);
            }
        }
        for (std::size_t i = 0; i < count; ++i) {
            for (std::size_t j = 0; j < count; ++j) {
                const auto legs = ways.shortest(WaypointId{i}, WaypointId{j});
                CHECK(legs.has_value() == (best[i][j] < 1e9));
                if (legs) CHECK(length_of(ways, *legs) == Approx(best[i][j]));
            }
        }
    }
}
