#include "geometry/space.hpp"

#include "geometry/turn.hpp"

namespace hestrel::geometry {

namespace {

plan::Vec3 moved(const plan::Vec3& at, const plan::Vec3& by) {
    return {at[0] + by[0], at[1] + by[1], at[2] + by[2]};
}
plan::Vec3 negative(const plan::Vec3& vector) {
    return {-vector[0], -vector[1], -vector[2]};
}

/// The space in which the other one lies as seen from it.
plan::Space inverse(const plan::Space& space) {
    return {Turn(space.turn).back(negative(space.origin), {}), -space.turn};
}

} // namespace

plan::Space within(const plan::Space& outer, const plan::Space& inner) {
    return {in_world(outer, inner.origin), outer.turn + inner.turn};
}

plan::Vec3 in_world(const plan::Space& space, const plan::Vec3& at) {
    return moved(space.turn == 0 ? at : Turn(space.turn).there(at, {}), space.origin);
}

plan::Box in_world(const plan::Space& space, plan::Box box) {
    if (space.turn == 0) {
        box.min = moved(box.min, space.origin);
        box.max = moved(box.max, space.origin);
        return box;
    }
    const plan::Vec3 centre{(box.min[0] + box.max[0]) / 2, (box.min[1] + box.max[1]) / 2,
                            (box.min[2] + box.max[2]) / 2};
    const plan::Vec3 there = in_world(space, centre);
    for (std::size_t axis = 0; axis < 3; ++axis) {
        box.min.at(axis) += there.at(axis) - centre.at(axis);
        box.max.at(axis) += there.at(axis) - centre.at(axis);
    }
    box.turn += space.turn;
    return box;
}

plan::Sphere in_world(const plan::Space& space, plan::Sphere sphere) {
    sphere.at = in_world(space, sphere.at);
    return sphere;
}

std::optional<plan::Beyond> in_world(const plan::Space& space, const plan::Beyond& beyond) {
    constexpr std::size_t up = 1;
    const bool turned = beyond.axis != up && space.turn != 0;
    if (turned && Turn::quarters(space.turn) < 0) return std::nullopt;
    plan::Vec3 outward{}; // of its boundary
    outward.at(beyond.axis) = 1;
    if (turned) outward = Turn(space.turn).there(outward, {});
    plan::Beyond there = beyond;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        if (outward.at(axis) == 0) continue;
        there.axis = axis;
        there.over = beyond.over == (outward.at(axis) > 0);
        there.limit = beyond.limit * outward.at(axis) + space.origin.at(axis);
    }
    return there;
}

plan::Vec3 seen_from(const plan::Space& space, const plan::Vec3& at) {
    return in_world(inverse(space), at);
}

plan::Shape seen_from(const plan::Space& space, const plan::Shape& shape) {
    const plan::Space back = inverse(space);
    if (const auto* box = std::get_if<plan::Box>(&shape)) return in_world(back, *box);
    if (const auto* sphere = std::get_if<plan::Sphere>(&shape)) return in_world(back, *sphere);
    if (const auto* beyond = std::get_if<plan::Beyond>(&shape))
        return in_world(back, *beyond).value_or(*beyond);
    return shape;
}

} // namespace hestrel::geometry
