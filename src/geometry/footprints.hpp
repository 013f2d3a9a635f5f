#pragma once
// How levels' areas lie on a map: from above, beside each other where several have one spot, and on
// which floor.

#include "plan/plan.hpp"

#include <array>
#include <vector>

namespace hestrel::geometry {

/// What is drawn of one box of an area.
struct Footprint {
    std::array<std::array<double, 2>, 4> corners{}; ///< metres: x and z, one way round
    double low = 0;                                 ///< metres: y
    double high = 0;
};

/// By level, as many as its area has boxes. Boxes of different levels of which nine tenths are the
/// same space have one spot: each gets an equal part of it, in plan order, along its longer side.
plan::Table<plan::LevelId, std::vector<Footprint>> footprints_of(const plan::Plan& plan);

/// The heights (metres) at which a floor of a world ends and the next begins, lowest first: where
/// an area stands over another. Floors lower than a metre are one with the next; empty: one floor.
std::vector<double> floors_of(const plan::Plan& plan, plan::WorldId world);

} // namespace hestrel::geometry
