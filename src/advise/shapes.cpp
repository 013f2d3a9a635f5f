#include "advise/shapes.hpp"

#include "geometry/crossing.hpp"

#include <cmath>

namespace hestrel::advise {

using plan::Plan;
using plan::Vec3;

namespace {

constexpr double centimetres = 100; // in a metre

double rounded(double metres) {
    return std::round(metres * centimetres) / centimetres;
}

} // namespace

plan::Box deeper(const plan::Box& box, std::size_t axis, bool upward, double metres) {
    plan::Box made = box;
    (upward ? made.max[axis] : made.min[axis]) += upward ? metres : -metres;
    if (box.turn == 0 || axis == 1) return made;
    // A box is turned about its own centre: that moves along the turned side, so that the other
    // sides stay where they are.
    const double half = metres / 2;
    const double radians = box.turn * std::acos(-1.0) / 180;
    const double along = upward ? half : -half;
    const Vec3 plain{axis == 0 ? along : 0, 0, axis == 2 ? along : 0};
    // Counter-clockwise seen from above, x to the right and z towards the viewer.
    const Vec3 turned{std::cos(radians) * plain[0] + std::sin(radians) * plain[2], 0,
                      -std::sin(radians) * plain[0] + std::cos(radians) * plain[2]};
    for (const std::size_t each : {std::size_t{0}, std::size_t{2}}) {
        const double moved = turned[each] - plain[each];
        made.min[each] = rounded(made.min[each] + moved);
        made.max[each] = rounded(made.max[each] + moved);
    }
    return made;
}

OnPath point_on(const Plan& plan, geometry::Leg leg, double metres) {
    const std::vector<Vec3> corners = geometry::corners_of(plan, leg);
    OnPath point;
    double walked = 0;
    for (std::size_t i = 1; i < corners.size(); ++i) {
        const double length = geometry::distance(corners[i - 1], corners[i]);
        if (walked + length < metres && i + 1 < corners.size()) {
            walked += length;
            continue;
        }
        const double share = length > 0 ? (metres - walked) / length : 0;
        for (std::size_t axis = 0; axis < point.at.size(); ++axis)
            point.at[axis] =
                rounded(corners[i - 1][axis] + share * (corners[i][axis] - corners[i - 1][axis]));
        point.corner = leg.forward ? i - 1 : corners.size() - 1 - i;
        break;
    }
    return point;
}

} // namespace hestrel::advise
