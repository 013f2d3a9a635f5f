#pragma once
// Shapes that reach farther, and points on the way: where advice puts triggers and gates.

#include "geometry/ways.hpp"
#include "plan/plan.hpp"

#include <cstddef>

namespace hestrel::advise {

/// A box that reaches `metres` farther on one side: `axis` and `upward` are its own, before it is
/// turned. The other sides stay where they are, to the centimetre.
plan::Box deeper(const plan::Box& box, std::size_t axis, bool upward, double metres);

/// A point on a leg, and how many of the path's corners lie before it, seen along the path.
struct OnPath {
    plan::Vec3 at{};
    std::size_t corner = 0;
};
/// So many metres from the leg's start, to the centimetre.
OnPath point_on(const plan::Plan& plan, geometry::Leg leg, double metres);

} // namespace hestrel::advise
