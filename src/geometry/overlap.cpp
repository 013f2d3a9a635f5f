#include "geometry/overlap.hpp"

#include "geometry/crossing.hpp"
#include "geometry/shape_index.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace hestrel::geometry {

namespace {

using Corner = std::array<double, 2>; ///< x and z
using Polygon = std::vector<Corner>;  ///< convex, its corners one way round

/// A box from above.
Polygon outline(const plan::Box& box) {
    const auto corners = corners_of(box);
    return {corners.begin(), corners.end()};
}

/// Left of the line from a to b, or on it: 0 or more.
double side(const Corner& a, const Corner& b, const Corner& point) {
    return (b[0] - a[0]) * (point[1] - a[1]) - (b[1] - a[1]) * (point[0] - a[0]);
}

double area_of(const Polygon& polygon) {
    double twice = 0;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const Corner& a = polygon[i];
        const Corner& b = polygon[(i + 1) % polygon.size()];
        twice += a[0] * b[1] - a[1] * b[0];
    }
    return std::abs(twice) / 2;
}

/// What of a polygon lies on the inner side of the line a-b (Sutherland and Hodgman's clipping).
Polygon clipped(const Polygon& polygon, const Corner& a, const Corner& b) {
    Polygon kept;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const Corner& from = polygon[i];
        const Corner& to = polygon[(i + 1) % polygon.size()];
        const double before = side(a, b, from);
        const double after = side(a, b, to);
        if (before >= 0) kept.push_back(from);
        if ((before < 0) == (after < 0)) continue;
        const double share = before / (before - after);
        kept.push_back({from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])});
    }
    return kept;
}

double shared_area(const plan::Box& one, const plan::Box& other) {
    Polygon rest = outline(one);
    Polygon by = outline(other);
    if (side(by[0], by[1], by[2]) < 0) std::reverse(by.begin(), by.end());
    for (std::size_t i = 0; i < by.size() && !rest.empty(); ++i)
        rest = clipped(rest, by[i], by[(i + 1) % by.size()]);
    return area_of(rest);
}

} // namespace

double volume_of(const std::vector<plan::Box>& boxes) {
    double volume = 0;
    for (const plan::Box& box : boxes) {
        double size = 1;
        for (std::size_t axis = 0; axis < 3; ++axis) size *= box.max[axis] - box.min[axis];
        volume += size;
    }
    return volume;
}

double shared_volume(const std::vector<plan::Box>& one, const std::vector<plan::Box>& other) {
    double volume = 0;
    for (const plan::Box& a : one) {
        for (const plan::Box& b : other) {
            const double height = std::min(a.max[1], b.max[1]) - std::max(a.min[1], b.min[1]);
            if (height > 0) volume += height * shared_area(a, b);
        }
    }
    return volume;
}

std::vector<std::pair<plan::LevelId, plan::LevelId>> overlapping(const plan::Plan& plan) {
    std::vector<std::vector<std::pair<plan::Box, std::uint32_t>>> boxes(plan.worlds.size());
    for (const plan::LevelId level : plan.levels.ids()) {
        for (const plan::Box& box : plan.levels[level].area)
            boxes[plan.levels[level].world.value].emplace_back(bounds_of(box), level.value);
    }
    std::vector<std::pair<plan::LevelId, plan::LevelId>> pairs;
    for (const auto& of_world : boxes) {
        const ShapeIndex index(of_world);
        for (const auto& [box, level] : of_world) {
            for (const std::uint32_t other : index.near(box.min, box.max)) {
                if (other > level) pairs.emplace_back(plan::LevelId{level}, plan::LevelId{other});
            }
        }
    }
    std::sort(pairs.begin(), pairs.end());
    pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    return pairs;
}

} // namespace hestrel::geometry
