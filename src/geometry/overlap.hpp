#pragma once
// How much space two levels share: boxes turned about the vertical, cut exactly.

#include "plan/plan.hpp"

#include <utility>
#include <vector>

namespace hestrel::geometry {

/// The volume of some boxes, in cubic metres; what several of them share counts for each.
double volume_of(const std::vector<plan::Box>& boxes);

/// The volume that boxes of `one` share with boxes of `other`.
double shared_volume(const std::vector<plan::Box>& one, const std::vector<plan::Box>& other);

/// Pairs of levels of one world whose areas may share some space, the first in plan order first.
std::vector<std::pair<plan::LevelId, plan::LevelId>> overlapping(const plan::Plan& plan);

} // namespace hestrel::geometry
