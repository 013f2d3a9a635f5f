#pragma once
// Where a straight movement is inside a shape: computed, never stepped (docs/model.md section 5).

#include "plan/plan.hpp"

#include <array>
#include <optional>

namespace hestrel::geometry {

/// Distance between two points, in metres.
double distance(const plan::Vec3& a, const plan::Vec3& b);

/// Whether `point` is inside `shape`; the boundary belongs to it, and so does what is no further
/// off a box or sphere than a nanometre, or 4 units in the last place of the largest coordinate:
/// the rounding of decimals. No shape contains nothing.
bool contains(const plan::Shape& shape, const plan::Vec3& point);

/// The share of a segment that lies inside a shape: 0 is its start, 1 its end. `from` == `to`: a
/// touch.
struct Stretch {
    long double from = 0;
    long double to = 0;
};

/// The stretch of the segment a-b inside `shape`, boundary included; nothing where they do not
/// meet. Example: from x=0 to x=10 through a box from x=2 to x=4 gives {0.2, 0.4}.
std::optional<Stretch> crossing(const plan::Shape& shape, const plan::Vec3& a, const plan::Vec3& b);

/// How far a point is from a box, in metres; 0 inside.
double distance(const plan::Box& box, const plan::Vec3& point);

/// Whether a point is at most `margin` metres from a box, by the same measure.
bool is_near(const plan::Box& box, double margin, const plan::Vec3& point);

/// The stretch of the segment a-b on which a walker is at most `margin` metres from a box.
std::optional<Stretch> crossing_near(const plan::Box& box, double margin, const plan::Vec3& a,
                                     const plan::Vec3& b);

/// The corners of a box from above, x and z, one way round.
std::array<std::array<double, 2>, 4> corners_of(const plan::Box& box);

/// The smallest box without a turn around `shape`; what is unbounded ends at 10^9 m, far outside
/// any plan.
plan::Box bounds_of(const plan::Shape& shape);

/// How long `metres` take at `metres_per_second` (> 0), rounded up to the microsecond. What lies
/// less than a millionth of a microsecond above a whole one is rounding noise of the inputs, not
/// time.
plan::Micros travel_time(long double metres, double metres_per_second);

} // namespace hestrel::geometry
