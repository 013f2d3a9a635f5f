#include "geometry/footprints.hpp"

#include "geometry/crossing.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::geometry {

using plan::Box;
using plan::LevelId;

namespace {

/// A box of a level's area, but for cells of a grid, which stand side by side.
struct AreaBox {
    LevelId level;
    std::size_t number = 0; ///< of the area's boxes
    const Box* box = nullptr;
    Box bounds; ///< upright
};

std::vector<AreaBox> area_boxes(const plan::Plan& plan) {
    std::vector<AreaBox> all;
    for (const LevelId level : plan.levels.ids()) {
        if (plan.levels[level].grid) continue;
        const std::vector<Box>& area = plan.levels[level].area;
        for (std::size_t i = 0; i < area.size(); ++i)
            all.push_back({level, i, &area[i], bounds_of(area[i])});
    }
    return all;
}

/// Calls `what` with both boxes of each pair that share a part of their extents along x.
template <class What>
void for_neighbours(std::vector<AreaBox> boxes, What what) {
    std::stable_sort(boxes.begin(), boxes.end(), [](const AreaBox& one, const AreaBox& other) {
        return one.bounds.min[0] < other.bounds.min[0];
    });
    for (std::size_t i = 0; i < boxes.size(); ++i) {
        for (std::size_t j = i + 1; j < boxes.size(); ++j) {
            if (boxes[j].bounds.min[0] >= boxes[i].bounds.max[0]) break;
            what(boxes[i], boxes[j]);
        }
    }
}

double extent(const Box& box, std::size_t axis) {
    return box.max[axis] - box.min[axis];
}

/// Of the space that either takes, how much both do, where they are turned alike.
double alike(const Box& one, const Box& other) {
    if (one.turn != other.turn) return 0;
    double shared = 1;
    double volume_of_one = 1;
    double volume_of_other = 1;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        shared *= std::max(0.0, std::min(one.max[axis], other.max[axis]) -
                                    std::max(one.min[axis], other.min[axis]));
        volume_of_one *= extent(one, axis);
        volume_of_other *= extent(other, axis);
    }
    const double either = volume_of_one + volume_of_other - shared;
    return either > 0 ? shared / either : 0;
}

/// Part `number` of `parts` equal ones, along the longer side.
Footprint part_of(const Box& box, std::size_t number, std::size_t parts) {
    const auto whole = corners_of(box);
    Footprint part{whole, box.min[1], box.max[1]};
    if (parts == 1) return part;
    const bool along_x = extent(box, 0) >= extent(box, 2);
    const auto between = [&](std::size_t from, std::size_t to, std::size_t steps) {
        const double share = static_cast<double>(steps) / static_cast<double>(parts);
        return std::array<double, 2>{
            whole.at(from)[0] + (whole.at(to)[0] - whole.at(from)[0]) * share,
            whole.at(from)[1] + (whole.at(to)[1] - whole.at(from)[1]) * share};
    };
    if (along_x)
        part.corners = {between(0, 1, number), between(0, 1, number + 1), between(3, 2, number + 1),
                        between(3, 2, number)};
    else
        part.corners = {between(0, 3, number), between(1, 2, number), between(1, 2, number + 1),
                        between(0, 3, number + 1)};
    return part;
}

bool same_from_above(const AreaBox& one, const AreaBox& other) {
    return one.bounds.min[0] < other.bounds.max[0] && other.bounds.min[0] < one.bounds.max[0] &&
           one.bounds.min[2] < other.bounds.max[2] && other.bounds.min[2] < one.bounds.max[2];
}

} // namespace

plan::Table<LevelId, std::vector<Footprint>> footprints_of(const plan::Plan& plan) {
    struct Place {
        std::size_t before = 0; ///< boxes on the same spot that stand before it in the plan
        std::size_t in_all = 1;
    };
    plan::Table<LevelId, std::vector<Place>> places(plan.levels.size());
    for (const LevelId level : plan.levels.ids())
        places[level].resize(plan.levels[level].area.size());
    for_neighbours(area_boxes(plan), [&](const AreaBox& one, const AreaBox& other) {
        constexpr double one_spot = 0.9;
        if (one.level == other.level) return;
        if (plan.levels[one.level].world != plan.levels[other.level].world) return;
        if (alike(*one.box, *other.box) < one_spot) return;
        Place& of_one = places[one.level][one.number];
        Place& of_other = places[other.level][other.number];
        ++of_one.in_all;
        ++of_other.in_all;
        ++(one.level < other.level ? of_other : of_one).before;
    });
    plan::Table<LevelId, std::vector<Footprint>> footprints(plan.levels.size());
    for (const LevelId level : plan.levels.ids()) {
        const std::vector<Box>& area = plan.levels[level].area;
        for (std::size_t i = 0; i < area.size(); ++i)
            footprints[level].push_back(
                part_of(area[i], places[level][i].before, places[level][i].in_all));
    }
    return footprints;
}

std::vector<double> floors_of(const plan::Plan& plan, plan::WorldId world) {
    constexpr double touch = 0.1; // metres by which what stands on something may reach into it
    std::vector<AreaBox> boxes = area_boxes(plan);
    std::erase_if(boxes,
                  [&](const AreaBox& each) { return plan.levels[each.level].world != world; });
    std::vector<double> heights;
    for_neighbours(std::move(boxes), [&](const AreaBox& one, const AreaBox& other) {
        if (!same_from_above(one, other)) return;
        const bool one_lower = one.bounds.min[1] <= other.bounds.min[1];
        const Box& lower = one_lower ? one.bounds : other.bounds;
        const Box& upper = one_lower ? other.bounds : one.bounds;
        if (upper.min[1] > lower.min[1] && upper.min[1] >= lower.max[1] - touch)
            heights.push_back(upper.min[1]);
    });
    std::sort(heights.begin(), heights.end());
    constexpr double least_floor = 1; // metres
    std::vector<double> floors;
    for (const double height : heights) {
        if (floors.empty() || height - floors.back() >= least_floor) floors.push_back(height);
    }
    return floors;
}

} // namespace hestrel::geometry
