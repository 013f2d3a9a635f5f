#include "geometry/crossing.hpp"

#include <algorithm>
#include <cmath>
#include <cstddef>

namespace hestrel::geometry {

double distance(const plan::Vec3& a, const plan::Vec3& b) {
    return std::hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
}

bool contains(const plan::Box& box, const plan::Vec3& point) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
        if (point[axis] < box.min[axis] || point[axis] > box.max[axis]) return false;
    }
    return true;
}

std::optional<Stretch> crossing(const plan::Box& box, const plan::Vec3& a, const plan::Vec3& b) {
    Stretch inside{0, 1};
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const long double start = a[axis];
        const long double along = static_cast<long double>(b[axis]) - start;
        if (along == 0) {
            if (a[axis] < box.min[axis] || a[axis] > box.max[axis]) return std::nullopt;
            continue;
        }
        long double enter = (static_cast<long double>(box.min[axis]) - start) / along;
        long double leave = (static_cast<long double>(box.max[axis]) - start) / along;
        if (enter > leave) std::swap(enter, leave);
        inside.from = std::max(inside.from, enter);
        inside.to = std::min(inside.to, leave);
    }
    if (inside.from > inside.to) return std::nullopt;
    return inside;
}

plan::Micros travel_time(long double metres, double metres_per_second) {
    constexpr long double noise = 1e-6L;
    const long double exact = metres / static_cast<long double>(metres_per_second) * 1e6L;
    return {static_cast<std::int64_t>(std::ceil(exact - noise))};
}

} // namespace hestrel::geometry
