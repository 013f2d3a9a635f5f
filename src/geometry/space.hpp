#pragma once
// A level's own space (docs/model.md section 2): what is written inside a level, in its own
// coordinates, and where that is in the world. Metres and degrees.

#include "plan/plan.hpp"

#include <optional>

namespace hestrel::geometry {

/// A space that lies in another: in the world, where `outer` is the space of the level around it.
plan::Space within(const plan::Space& outer, const plan::Space& inner);

// Where things of a space are in the world. A box's centre is turned, and its own turn added.
plan::Vec3 in_world(const plan::Space& space, const plan::Vec3& at);
plan::Box in_world(const plan::Space& space, plan::Box box);
plan::Sphere in_world(const plan::Space& space, plan::Sphere sphere);
/// Nothing where it can't be said: along x or z under a turn that is no multiple of 90 degrees.
std::optional<plan::Beyond> in_world(const plan::Space& space, const plan::Beyond& beyond);

/// The same the other way: a point of the world as the space sees it.
plan::Vec3 seen_from(const plan::Space& space, const plan::Vec3& at);
/// A shape of the world as it is written inside the space. What can't be said there is unchanged.
plan::Shape seen_from(const plan::Space& space, const plan::Shape& shape);

} // namespace hestrel::geometry
