#pragma once
// Which shapes could a movement meet? A tree over bounding boxes, so that a plan of ten thousand
// triggers costs a walk no more than the few that are near.

#include "plan/plan.hpp"

#include <cstdint>
#include <memory>
#include <utility>
#include <vector>

namespace hestrel::geometry {

/// A fixed set of numbered boxes, searched by box.
class ShapeIndex {
public:
    explicit ShapeIndex(const std::vector<std::pair<plan::Box, std::uint32_t>>& shapes);
    ~ShapeIndex();
    ShapeIndex(ShapeIndex&&) noexcept;
    ShapeIndex& operator=(ShapeIndex&&) noexcept;
    ShapeIndex(const ShapeIndex&) = delete;
    ShapeIndex& operator=(const ShapeIndex&) = delete;

    /// The numbers of all boxes that touch the bounding box of segment a-b, in ascending order.
    [[nodiscard]] std::vector<std::uint32_t> near(const plan::Vec3& a, const plan::Vec3& b) const;

private:
    struct Tree;
    std::unique_ptr<Tree> tree_;
};

} // namespace hestrel::geometry
