#include "geometry/shape_index.hpp"

#include <algorithm>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point.hpp>
#include <boost/geometry/index/rtree.hpp>

namespace hestrel::geometry {

namespace {

namespace bg = boost::geometry;
using Point = bg::model::point<double, 3, bg::cs::cartesian>;
using Bounds = bg::model::box<Point>;
using Entry = std::pair<Bounds, std::uint32_t>;

Point to_point(const plan::Vec3& at) {
    return {at[0], at[1], at[2]};
}

std::vector<Entry> entries_of(const std::vector<std::pair<plan::Box, std::uint32_t>>& shapes) {
    std::vector<Entry> entries;
    entries.reserve(shapes.size());
    for (const auto& [box, number] : shapes) {
        entries.emplace_back(Bounds{to_point(box.min), to_point(box.max)}, number);
    }
    return entries;
}

} // namespace

struct ShapeIndex::Tree {
    bg::index::rtree<Entry, bg::index::quadratic<16>> entries;
};

ShapeIndex::ShapeIndex(const std::vector<std::pair<plan::Box, std::uint32_t>>& shapes)
    : tree_(std::make_unique<Tree>(Tree{decltype(Tree::entries)(entries_of(shapes))})) {}
ShapeIndex::~ShapeIndex() = default;
ShapeIndex::ShapeIndex(ShapeIndex&&) noexcept = default;
ShapeIndex& ShapeIndex::operator=(ShapeIndex&&) noexcept = default;

std::vector<std::uint32_t> ShapeIndex::near(const plan::Vec3& a, const plan::Vec3& b) const {
    constexpr double touch = 1e-6; // far more than what counts as a touch
    plan::Box bounds;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        bounds.min[axis] = std::min(a[axis], b[axis]) - touch;
        bounds.max[axis] = std::max(a[axis], b[axis]) + touch;
    }
    const Bounds query{to_point(bounds.min), to_point(bounds.max)};
    std::vector<std::uint32_t> numbers;
    for (auto it = tree_->entries.qbegin(bg::index::intersects(query)); it != tree_->entries.qend();
         ++it) {
        numbers.push_back(it->second);
    }
    std::sort(numbers.begin(), numbers.end());
    return numbers;
}

} // namespace hestrel::geometry
