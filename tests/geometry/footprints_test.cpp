// How areas lie on a map: on one spot beside each other, on floors above one another.

#include "geometry/footprints.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;

namespace {

plan::Plan with_levels(const std::string& levels) {
    return tests::plan_from(std::string(tests::plain_device) + "levels:\n" + levels);
}

const geometry::Footprint&
footprint(const plan::Table<plan::LevelId, std::vector<geometry::Footprint>>& all,
          std::size_t level) {
    return all[plan::LevelId{level}].front();
}

using Corners = std::array<std::array<double, 2>, 4>;

} // namespace

TEST_CASE("levels on one spot lie beside each other, along the longer side") {
    const plan::Plan plan = with_levels(
        "  north: {memory: {t: 1}, area: {min: [0, 0, 0], max: [30, 4, 10]}}\n"
        "  south: {memory: {t: 1}, area: {min: [0, 0, 0], max: [30, 4, 10]}}\n"
        "  made: {memory: {t: 1}, area: {min: [0, 0, 0.2], max: [30, 4, 10]}}\n" // almost the same
        "  above: {memory: {t: 1}, area: {min: [0, 4, 0], max: [30, 8, 10]}}\n"
        "  deep: {memory: {t: 1}, area: {min: [100, 0, 0], max: [110, 4, 40], turn: 90}}\n");
    const auto all = geometry::footprints_of(plan);
    CHECK(footprint(all, 0).corners == Corners{{{0, 0}, {10, 0}, {10, 10}, {0, 10}}});
    CHECK(footprint(all, 1).corners == Corners{{{10, 0}, {20, 0}, {20, 10}, {10, 10}}});
    CHECK(footprint(all, 2).corners == Corners{{{20, 0.2}, {30, 0.2}, {30, 10}, {20, 10}}});
    CHECK(footprint(all, 3).corners == Corners{{{0, 0}, {30, 0}, {30, 10}, {0, 10}}});
    CHECK(footprint(all, 3).low == 4);
    CHECK(footprint(all, 3).high == 8);
    for (const auto& corner : footprint(all, 4).corners) {
        CHECK(std::abs(corner[0] - 105) == Approx(20));
        CHECK(std::abs(corner[1] - 20) == Approx(5));
    }
}

TEST_CASE("a floor ends where an area stands over another") {
    const plan::Plan plan = with_levels(
        "  cellar: {memory: {t: 1}, area: {min: [0, -4, 0], max: [10, 0, 10]}}\n"
        "  hall: {memory: {t: 1}, area: {min: [0, 0, 0], max: [30, 4, 10]}}\n"
        "  loft: {memory: {t: 1}, area: {min: [20, 4.05, 0], max: [30, 8, 10]}}\n"
        "  shelf: {memory: {t: 1}, area: {min: [0, 4.5, 0], max: [9, 5, 10]}}\n" // no floor of its
                                                                                 // own
        "  tower: {memory: {t: 1}, area: {min: [50, 30, 0], max: [60, 40, 10]}}\n"); // over nothing
    CHECK(geometry::floors_of(plan, plan::WorldId{0}) == std::vector<double>{0, 4.05});
    const plan::Plan flat =
        with_levels("  hall: {memory: {t: 1}, area: {min: [0, 0, 0], max: [9, 4, 9]}}\n"
                    "  yard: {memory: {t: 1}, area: {min: [5, 1, 0], max: [15, 4, 9]}}\n");
    CHECK(geometry::floors_of(flat, plan::WorldId{0}).empty());
}
