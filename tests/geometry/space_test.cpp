// Levels in spaces of their own: where their coordinates are in the world, and back.

#include "geometry/space.hpp"

#include "geometry/crossing.hpp"
#include "support/dice.hpp"

#include <catch2/catch.hpp>

using namespace hestrel;
using geometry::in_world;
using plan::Vec3;

namespace {

void check_near(const Vec3& one, const Vec3& other) {
    for (std::size_t axis = 0; axis < 3; ++axis)
        CHECK(one.at(axis) == Approx(other.at(axis)).margin(1e-9));
}

} // namespace

TEST_CASE("a quarter turn leads from along x to against z, then the origin moves it") {
    const plan::Space space{{100, 5, 7}, 90};
    CHECK(in_world(space, Vec3{10, 1, 0}) == Vec3{100, 6, -3});
    CHECK(in_world(space, Vec3{0, 0, 10}) == Vec3{110, 5, 7});
    CHECK(in_world({{1, 2, 3}, 0}, Vec3{0.1, 0.2, 0.3}) == Vec3{1.1, 2.2, 3.3});
}

TEST_CASE("spaces in spaces: the inner origin is a point of the outer one, turns add up") {
    const plan::Space both = geometry::within({{100, 0, 0}, 90}, {{10, 0, 0}, 90});
    CHECK(both == plan::Space{{100, 0, -10}, 180});
    CHECK(in_world(both, Vec3{1, 0, 2}) == Vec3{99, 0, -12});
}

TEST_CASE("a box is moved by its centre, and turned besides") {
    const plan::Box box =
        in_world(plan::Space{{50, 0, 0}, 90}, plan::Box{{8, 0, -1}, {12, 4, 1}, 10});
    CHECK(box.turn == 100);
    CHECK(box.min == Vec3{48, 0, -11}); // its centre was at 10, 2, 0
    CHECK(box.max == Vec3{52, 4, -9});
}

TEST_CASE("all beyond a plane: by right angles along another axis, else it can't be said") {
    const plan::Beyond ahead{0, 20, true};
    const auto there = in_world(plan::Space{{3, 0, 5}, 90}, ahead);
    REQUIRE(there);
    CHECK(there->axis == 2); // x over 20 is against z: under -20, and 5 further on
    CHECK_FALSE(there->over);
    CHECK(there->limit == -15);
    CHECK_FALSE(in_world(plan::Space{{}, 45}, ahead));
    const auto below = in_world(plan::Space{{0, 100, 0}, 45}, plan::Beyond{1, -30, false});
    REQUIRE(below);
    CHECK(below->axis == 1);
    CHECK(below->limit == 70);
    CHECK_FALSE(below->over);
}

TEST_CASE("what is seen from a space is where it is in the world") {
    tests::Dice dice(7);
    const auto any = [&] { return dice.below(2000) / 7.0 - 100; };
    for (int i = 0; i < 200; ++i) {
        const plan::Space space{{any(), any(), any()},
                                dice.one_in(2) ? 90.0 * dice.below(5) : any()};
        const Vec3 point{any(), any(), any()};
        check_near(geometry::seen_from(space, in_world(space, point)), point);
        // Whether a point is in a shape does not depend on the space in which both are told.
        const plan::Box box{{0, -100, 0}, {50, 100, 30}, any()};
        const Vec3 inner = geometry::seen_from(space, point);
        CHECK(geometry::contains(in_world(space, box), point) == geometry::contains(box, inner));
        const plan::Beyond beyond{static_cast<std::size_t>(dice.below(3)), any(), dice.one_in(2)};
        if (const auto there = in_world(space, beyond))
            CHECK(geometry::contains(*there, point) == geometry::contains(beyond, inner));
        const plan::Shape back = geometry::seen_from(space, in_world(space, box));
        check_near(std::get<plan::Box>(back).min, box.min);
        CHECK(std::get<plan::Box>(back).turn == Approx(box.turn));
    }
}
