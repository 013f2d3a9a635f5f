#include "geometry/crossing.hpp"

#include "geometry/shape_index.hpp"
#include "support/printing.hpp"

#include <cmath>
#include <random>

using namespace hestrel;
using plan::Micros;
using plan::Vec3;

TEST_CASE("a segment through a box: the stretch inside it, boundary included") {
    const plan::Box box{{2, 0, 0}, {4, 1, 1}};
    SECTION("right through") {
        const auto inside = geometry::crossing(box, {0, 0.5, 0.5}, {10, 0.5, 0.5});
        REQUIRE(inside);
        CHECK(std::abs(static_cast<double>(inside->from - 0.2L)) < 1e-15);
        CHECK(std::abs(static_cast<double>(inside->to - 0.4L)) < 1e-15);
    }
    SECTION("beginning and ending inside") {
        const auto inside = geometry::crossing(box, {3, 0, 0}, {3.5, 1, 1});
        REQUIRE(inside);
        CHECK(inside->from == 0);
        CHECK(inside->to == 1);
    }
    SECTION("a touch of one edge enters and leaves in one point") {
        const auto inside = geometry::crossing(box, {1, 0, 0}, {3, 2, 0}); // touches (2, 1, 0)
        REQUIRE(inside);
        CHECK(inside->from == inside->to);
    }
    SECTION("past it") {
        CHECK_FALSE(geometry::crossing(box, {0, 2, 0}, {10, 2, 0}));
    }
    SECTION("short of it") {
        CHECK_FALSE(geometry::crossing(box, {0, 0, 0}, {1.999, 0, 0}));
    }
    SECTION("standing still inside and outside") {
        CHECK(geometry::crossing(box, {4, 1, 1}, {4, 1, 1}));
        CHECK_FALSE(geometry::crossing(box, {4.001, 1, 1}, {4.001, 1, 1}));
    }
}

TEST_CASE("a touch whose decimals are exact is a touch") {
    // 18.37 - 15.37 is not 3 as computers count; nor is the centre of this turned box where it is.
    const plan::Sphere sphere{{10, 0, 15.37}, 3};
    const auto touch = geometry::crossing(sphere, {0, 0, 18.37}, {20, 0, 18.37});
    REQUIRE(touch);
    CHECK(touch->from == touch->to);
    CHECK(static_cast<double>(touch->from) == Approx(0.5));
    CHECK(geometry::contains(sphere, {10, 0, 18.37}));
    CHECK_FALSE(geometry::crossing(sphere, {0, 0, 18.370001}, {20, 0, 18.370001}));
    CHECK_FALSE(geometry::contains(sphere, {10, 0, 18.370001}));
    // 6 m by 2 m about (13.1, 7.7), turned: from z = 4.7 to z = 10.7.
    const plan::Box box{{10.1, 0, 6.7}, {16.1, 3, 8.7}, 90};
    const auto along = geometry::crossing(box, {0, 1, 10.7}, {26.2, 1, 10.7});
    REQUIRE(along);
    CHECK(static_cast<double>(along->from) * 26.2 == Approx(12.1));
    CHECK(static_cast<double>(along->to) * 26.2 == Approx(14.1));
    CHECK(geometry::contains(box, {14.1, 1, 10.7}));
    // Past a corner, at 45 degrees: one point.
    const auto corner =
        geometry::crossing(plan::Box{{0.1, 0, 0.1}, {0.3, 3, 0.3}, 0}, {0, 1, 0.6}, {0.6, 1, 0});
    REQUIRE(corner);
    CHECK(corner->from == corner->to);
    CHECK_FALSE(geometry::crossing(plan::Box{{0.1, 0, 0.1}, {0.3, 3, 0.3}, 0}, {0, 1, 0.601},
                                   {0.601, 1, 0}));
    const auto near =
        geometry::crossing_near({{10, 0, 10}, {20, 3, 15.37}, 0}, 3, {0, 1, 18.37}, {40, 1, 18.37});
    REQUIRE(near);
    CHECK(static_cast<double>(near->from) * 40 == Approx(10));
    CHECK(static_cast<double>(near->to) * 40 == Approx(20));
}

TEST_CASE("a segment that ends at a boundary ends inside, and the next one begins there") {
    const plan::Sphere sphere{{0, 0, 15.37}, 3};
    const plan::Vec3 boundary{0, 0, 18.37};
    const auto in = geometry::crossing(sphere, {0, 0, 28.37}, boundary);
    REQUIRE(in);
    CHECK(in->to == 1);
    const auto off = geometry::crossing(sphere, boundary, {0, 0, 28.37});
    REQUIRE(off);
    CHECK(off->from == 0);
    CHECK(static_cast<double>(off->to) == Approx(0).margin(1e-9));
}

TEST_CASE("travel times are rounded up, and rounding noise is no time") {
    CHECK(geometry::travel_time(9, 1.8) ==
          Micros{5'000'000}); // 9 / 1.8 is a little over 5 in binary
    CHECK(geometry::travel_time(1, 3) == Micros{333'334});
    CHECK(geometry::travel_time(0, 7) == Micros{0});
}

TEST_CASE("crossings agree with fine stepping on random segments and boxes") {
    std::mt19937 random(11);
    const auto coordinate = [&] { return static_cast<double>(random() % 2'001) / 100 - 10; };
    for (int round = 0; round < 400; ++round) {
        plan::Box box;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            const double one = coordinate();
            const double other = coordinate();
            box.min[axis] = std::min(one, other);
            box.max[axis] = std::max(one, other);
        }
        const Vec3 a{coordinate(), coordinate(), coordinate()};
        const Vec3 b{coordinate(), coordinate(), coordinate()};
        const auto inside = geometry::crossing(box, a, b);
        constexpr int steps = 2'000;
        for (int step = 0; step <= steps; ++step) {
            const double share = static_cast<double>(step) / steps;
            Vec3 at;
            for (std::size_t axis = 0; axis < 3; ++axis)
                at[axis] = a[axis] + share * (b[axis] - a[axis]);
            if (!geometry::contains(box, at)) continue;
            REQUIRE(inside);
            CHECK(share >= static_cast<double>(inside->from) - 1e-9);
            CHECK(share <= static_cast<double>(inside->to) + 1e-9);
        }
        if (!inside) continue;
        for (const long double share :
             {inside->from, (inside->from + inside->to) / 2, inside->to}) {
            for (std::size_t axis = 0; axis < 3; ++axis) {
                const double at = a[axis] + static_cast<double>(share) * (b[axis] - a[axis]);
                CHECK(at >= box.min[axis] - 1e-9);
                CHECK(at <= box.max[axis] + 1e-9);
            }
        }
    }
}

TEST_CASE("every shape, and the surroundings of a turned box, against fine stepping") {
    std::mt19937 random(11);
    const auto coordinate = [&] { return static_cast<double>(random() % 2'000) / 100 - 10; };
    const auto agree = [&](const auto& crossing, const auto& contains) {
        const Vec3 a{coordinate(), coordinate(), coordinate()};
        const Vec3 b{coordinate(), coordinate(), coordinate()};
        const auto inside = crossing(a, b);
        constexpr int steps = 1'000;
        constexpr double noise = 1e-9;
        for (int step = 0; step <= steps; ++step) {
            const double share = static_cast<double>(step) / steps;
            Vec3 at;
            for (std::size_t axis = 0; axis < 3; ++axis)
                at[axis] = a[axis] + share * (b[axis] - a[axis]);
            const bool in_stretch = inside && share >= static_cast<double>(inside->from) - noise &&
                                    share <= static_cast<double>(inside->to) + noise;
            const bool well_in = inside && share >= static_cast<double>(inside->from) + noise &&
                                 share <= static_cast<double>(inside->to) - noise;
            if (contains(at)) {
                CHECK(in_stretch);
            } else {
                CHECK_FALSE(well_in);
            }
        }
    };
    for (int round = 0; round < 300; ++round) {
        plan::Box box;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            const double one = coordinate();
            const double other = coordinate();
            box.min[axis] = std::min(one, other);
            box.max[axis] = std::max(one, other);
        }
        box.turn = static_cast<double>(random() % 360);
        const double margin = static_cast<double>(random() % 500) / 100;
        const plan::Sphere sphere{{coordinate(), coordinate(), coordinate()}, margin + 1};
        const plan::Beyond beyond{random() % 3, coordinate(), random() % 2 == 0};
        for (const plan::Shape& shape :
             {plan::Shape{box}, plan::Shape{sphere}, plan::Shape{beyond}}) {
            agree([&](const Vec3& a, const Vec3& b) { return geometry::crossing(shape, a, b); },
                  [&](const Vec3& at) { return geometry::contains(shape, at); });
        }
        agree([&](const Vec3& a,
                  const Vec3& b) { return geometry::crossing_near(box, margin, a, b); },
              [&](const Vec3& at) { return geometry::distance(box, at) <= margin; });
    }
}

TEST_CASE("the shape index finds every box that a segment crosses") {
    std::mt19937 random(5);
    const auto coordinate = [&] { return static_cast<double>(random() % 1'000); };
    std::vector<std::pair<plan::Box, std::uint32_t>> boxes;
    for (std::uint32_t i = 0; i < 300; ++i) {
        const Vec3 min{coordinate(), coordinate(), coordinate()};
        boxes.push_back({{min, {min[0] + 60, min[1] + 60, min[2] + 60}}, i});
    }
    const geometry::ShapeIndex index(boxes);
    for (int round = 0; round < 100; ++round) {
        const Vec3 a{coordinate(), coordinate(), coordinate()};
        const Vec3 b{coordinate(), coordinate(), coordinate()};
        const auto near = index.near(a, b);
        CHECK(std::is_sorted(near.begin(), near.end()));
        for (const auto& [box, number] : boxes) {
            if (geometry::crossing(box, a, b))
                CHECK(std::binary_search(near.begin(), near.end(), number));
        }
    }
}
