#include "geometry/crossing.hpp"

#include "geometry/turn.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <utility>
#include <variant>
#include <vector>

namespace hestrel::geometry {

double distance(const plan::Vec3& a, const plan::Vec3& b) {
    return std::hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
}

namespace {

constexpr double far_away = 1e9;

/// What is no further off a boundary than this is on it: the rounding of decimals, and no more.
/// `size`: the largest coordinate that takes part.
double rounding(double size) {
    return 4 * (std::nextafter(size, 2 * far_away) - size);
}
double tolerance(double size) {
    constexpr double nanometre = 1e-9;
    return std::max(nanometre, rounding(size));
}

double largest(const plan::Vec3& point) {
    return std::max({std::abs(point[0]), std::abs(point[1]), std::abs(point[2])});
}

plan::Vec3 centre_of(const plan::Box& box) {
    plan::Vec3 centre;
    for (std::size_t axis = 0; axis < 3; ++axis) centre[axis] = (box.min[axis] + box.max[axis]) / 2;
    return centre;
}

/// A point as the box without its turn would see it.
plan::Vec3 seen_by(const plan::Box& box, const plan::Vec3& point) {
    return box.turn == 0 ? point : Turn(box.turn).back(point, centre_of(box));
}

double tolerance_of(const plan::Box& box, const plan::Vec3& a, const plan::Vec3& b) {
    return tolerance(std::max({largest(box.min), largest(box.max), largest(a), largest(b)}));
}
double size_of(const plan::Sphere& sphere, const plan::Vec3& a, const plan::Vec3& b) {
    return std::max({largest(sphere.at), sphere.radius, largest(a), largest(b)});
}

bool inside(const plan::Box& box, const plan::Vec3& turned) {
    const plan::Vec3 point = seen_by(box, turned);
    const double near = tolerance_of(box, turned, turned);
    for (std::size_t axis = 0; axis < 3; ++axis) {
        if (point[axis] < box.min[axis] - near || point[axis] > box.max[axis] + near) return false;
    }
    return true;
}

bool inside(const plan::Sphere& sphere, const plan::Vec3& point) {
    return distance(sphere.at, point) <= sphere.radius + tolerance(size_of(sphere, point, point));
}

bool inside(const plan::Beyond& beyond, const plan::Vec3& point) {
    return beyond.over ? point[beyond.axis] >= beyond.limit : point[beyond.axis] <= beyond.limit;
}

bool inside(std::monostate, const plan::Vec3&) {
    return false;
}

/// Cuts `stretch` down to where start + share * along lies between `least` and `most`; `from` can
/// then be greater than `to`. What hardly moves along an axis (`near`) is in all the way or not.
bool clip(Stretch& stretch, long double start, long double along, long double least,
          long double most, long double near = 0) {
    if (std::abs(along) <= near)
        return std::min(start, start + along) >= least - near &&
               std::max(start, start + along) <= most + near;
    long double enter = (least - start) / along;
    long double leave = (most - start) / along;
    if (enter > leave) std::swap(enter, leave);
    stretch.from = std::max(stretch.from, enter);
    stretch.to = std::min(stretch.to, leave);
    return true;
}

std::optional<Stretch> meet(const plan::Box& box, const plan::Vec3& turned_a,
                            const plan::Vec3& turned_b) {
    const plan::Vec3 a = seen_by(box, turned_a);
    const plan::Vec3 b = seen_by(box, turned_b);
    const double near = tolerance_of(box, turned_a, turned_b);
    Stretch exact{0, 1};
    Stretch grown{0, 1}; // of the box grown by what counts as its boundary
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const long double along = static_cast<long double>(b[axis]) - a[axis];
        if (!clip(exact, a[axis], along, box.min[axis], box.max[axis], near)) return std::nullopt;
        clip(grown, a[axis], along, static_cast<long double>(box.min[axis]) - near,
             static_cast<long double>(box.max[axis]) + near, near);
    }
    if (exact.from <= exact.to) return exact;
    if (grown.from > grown.to) return std::nullopt;
    const long double middle = (grown.from + grown.to) / 2;
    return Stretch{middle, middle};
}

/// Where square * share^2 + 2 * half * share + rest <= 0; `square` > 0.
std::optional<Stretch> within(long double square, long double half, long double rest) {
    const long double discriminant = half * half - square * rest;
    if (discriminant < 0) return std::nullopt;
    const long double root = std::sqrt(discriminant);
    return Stretch{(-half - root) / square, (-half + root) / square};
}

std::optional<Stretch> meet(const plan::Sphere& sphere, const plan::Vec3& a, const plan::Vec3& b) {
    // |a + share * (b - a) - centre|^2 = radius^2, a quadratic equation in share.
    long double square = 0;
    long double half = 0;
    long double off_square = 0;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const long double along = static_cast<long double>(b[axis]) - a[axis];
        const long double off = static_cast<long double>(a[axis]) - sphere.at[axis];
        square += along * along;
        half += along * off;
        off_square += off * off;
    }
    const long double radius = sphere.radius;
    if (square == 0)
        return off_square <= radius * radius ? std::optional(Stretch{0, 1}) : std::nullopt;
    // How far the line's nearest point is off the centre, and whether that is the radius.
    const long double nearest = -half / square;
    const long double depth = radius - std::sqrt(std::max(0.0L, off_square - half * half / square));
    const double size = size_of(sphere, a, b);
    if (depth <= rounding(size)) {
        const bool touches = depth >= -tolerance(size) && nearest >= 0 && nearest <= 1;
        return touches ? std::optional(Stretch{nearest, nearest}) : std::nullopt;
    }
    const auto roots = within(square, half, off_square - radius * radius);
    if (!roots) return std::nullopt;
    const Stretch stretch{std::max(0.0L, roots->from), std::min(1.0L, roots->to)};
    return stretch.from <= stretch.to ? std::optional(stretch) : std::nullopt;
}

std::optional<Stretch> meet(const plan::Beyond& beyond, const plan::Vec3& a, const plan::Vec3& b) {
    const long double start = a[beyond.axis];
    const long double along = static_cast<long double>(b[beyond.axis]) - start;
    const long double least = beyond.over ? static_cast<long double>(beyond.limit) : -far_away;
    const long double most = beyond.over ? far_away : static_cast<long double>(beyond.limit);
    Stretch stretch{0, 1};
    if (!clip(stretch, start, along, least, most) || stretch.from > stretch.to) return std::nullopt;
    return stretch;
}

std::optional<Stretch> meet(std::monostate, const plan::Vec3&, const plan::Vec3&) {
    return std::nullopt;
}

plan::Box around(const plan::Box& box) {
    if (box.turn == 0) return box;
    plan::Box bounds{{far_away, box.min[1], far_away}, {-far_away, box.max[1], -far_away}, 0};
    for (const auto& [x, z] : corners_of(box)) {
        bounds.min[0] = std::min(bounds.min[0], x);
        bounds.max[0] = std::max(bounds.max[0], x);
        bounds.min[2] = std::min(bounds.min[2], z);
        bounds.max[2] = std::max(bounds.max[2], z);
    }
    return bounds;
}

plan::Box around(const plan::Sphere& sphere) {
    plan::Box bounds;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        bounds.min[axis] = sphere.at[axis] - sphere.radius;
        bounds.max[axis] = sphere.at[axis] + sphere.radius;
    }
    return bounds;
}

plan::Box around(const plan::Beyond& beyond) {
    plan::Box bounds{{-far_away, -far_away, -far_away}, {far_away, far_away, far_away}, 0};
    (beyond.over ? bounds.min : bounds.max)[beyond.axis] = beyond.limit;
    return bounds;
}

plan::Box around(std::monostate) {
    return {{far_away, far_away, far_away}, {far_away, far_away, far_away}, 0};
}

/// A stretch that is at one with whether the ends of the segment are inside.
std::optional<Stretch> with_ends(std::optional<Stretch> stretch, bool start, bool end) {
    if (!stretch && (start || end))
        stretch = Stretch{end && !start ? 1.0L : 0.0L, end ? 1.0L : 0.0L};
    if (stretch && start) stretch->from = 0;
    if (stretch && end) stretch->to = 1;
    return stretch;
}

} // namespace

std::array<std::array<double, 2>, 4> corners_of(const plan::Box& box) {
    const plan::Vec3 centre = centre_of(box);
    const Turn turn(box.turn);
    std::array<std::array<double, 2>, 4> corners{{{box.min[0], box.min[2]},
                                                  {box.max[0], box.min[2]},
                                                  {box.max[0], box.max[2]},
                                                  {box.min[0], box.max[2]}}};
    if (box.turn == 0) return corners;
    for (auto& [x, z] : corners) {
        const plan::Vec3 corner = turn.there({x, box.min[1], z}, centre);
        x = corner[0];
        z = corner[2];
    }
    return corners;
}

double distance(const plan::Box& box, const plan::Vec3& turned_point) {
    const plan::Vec3 point = seen_by(box, turned_point);
    plan::Vec3 off{};
    for (std::size_t axis = 0; axis < point.size(); ++axis) {
        off.at(axis) =
            std::max({box.min.at(axis) - point.at(axis), 0.0, point.at(axis) - box.max.at(axis)});
    }
    return std::hypot(off[0], off[1], off[2]);
}

std::optional<Stretch> crossing_near(const plan::Box& box, double margin,
                                     const plan::Vec3& turned_a, const plan::Vec3& turned_b) {
    const plan::Vec3 a = seen_by(box, turned_a);
    const plan::Vec3 b = seen_by(box, turned_b);
    // Between the shares at which the walker passes a plane of the box, the square of the distance
    // is one quadratic polynomial; the distance from a convex box is convex, so what is near enough
    // is one stretch.
    std::vector<long double> cuts{0, 1};
    for (std::size_t axis = 0; axis < a.size(); ++axis) {
        const long double along = static_cast<long double>(b.at(axis)) - a.at(axis);
        if (along == 0) continue;
        for (const double plane : {box.min.at(axis), box.max.at(axis)}) {
            const long double share = (plane - static_cast<long double>(a.at(axis))) / along;
            if (share > 0 && share < 1) cuts.push_back(share);
        }
    }
    std::sort(cuts.begin(), cuts.end());
    const double rounded = tolerance_of(box, turned_a, turned_b);
    const double limit = margin + rounded;
    std::optional<Stretch> near;
    Stretch nearest;
    long double least_square = far_away * far_away;
    for (std::size_t i = 1; i < cuts.size(); ++i) {
        const long double middle = (cuts[i - 1] + cuts[i]) / 2;
        long double square = 0;
        long double half = 0;
        long double off_square = 0;
        for (std::size_t axis = 0; axis < a.size(); ++axis) {
            const long double along = static_cast<long double>(b.at(axis)) - a.at(axis);
            const long double at = a.at(axis) + middle * along;
            if (at >= box.min.at(axis) && at <= box.max.at(axis)) continue;
            const double plane = at < box.min.at(axis) ? box.min.at(axis) : box.max.at(axis);
            const long double off = static_cast<long double>(a.at(axis)) - plane;
            square += along * along;
            half += along * off;
            off_square += off * off;
        }
        Stretch part{cuts[i - 1], cuts[i]};
        const long double best =
            square == 0 ? part.from : std::clamp(-half / square, part.from, part.to);
        const long double best_square = off_square + best * (2 * half + best * square);
        if (best_square < least_square) {
            least_square = best_square;
            nearest = {best, best};
        }
        const long double rest = off_square - static_cast<long double>(margin) * margin;
        if (std::sqrt(square) <= rounded) { // it keeps its distance
            if (std::sqrt(best_square) > limit) continue;
        } else {
            const auto roots = within(square, half, rest);
            if (!roots) continue;
            part = {std::max(part.from, roots->from), std::min(part.to, roots->to)};
            if (part.from > part.to) continue;
        }
        near = near ? Stretch{std::min(near->from, part.from), std::max(near->to, part.to)} : part;
    }
    if (!near && std::sqrt(std::max(0.0L, least_square)) <= limit) near = nearest;
    return with_ends(near, is_near(box, margin, turned_a), is_near(box, margin, turned_b));
}

bool is_near(const plan::Box& box, double margin, const plan::Vec3& point) {
    return distance(box, point) <= margin + tolerance_of(box, point, point);
}

bool contains(const plan::Shape& shape, const plan::Vec3& point) {
    return std::visit([&](const auto& each) { return inside(each, point); }, shape);
}

std::optional<Stretch> crossing(const plan::Shape& shape, const plan::Vec3& a,
                                const plan::Vec3& b) {
    const auto met = std::visit([&](const auto& each) { return meet(each, a, b); }, shape);
    return with_ends(met, contains(shape, a), contains(shape, b));
}

plan::Box bounds_of(const plan::Shape& shape) {
    return std::visit([](const auto& each) { return around(each); }, shape);
}

plan::Micros travel_time(long double metres, double metres_per_second) {
    constexpr long double noise = 1e-6L;
    const long double exact = metres / static_cast<long double>(metres_per_second) * 1e6L;
    return {static_cast<std::int64_t>(std::ceil(exact - noise))};
}

} // namespace hestrel::geometry
