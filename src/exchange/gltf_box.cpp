#include "exchange/gltf_box.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hestrel::exchange {

using plan::Vec3;

namespace {

constexpr double a_millimetre = 0.001;

double dot(const Vec3& one, const Vec3& other) {
    return one[0] * other[0] + one[1] * other[1] + one[2] * other[2];
}
double length_of(const Vec3& vector) {
    return std::sqrt(dot(vector, vector));
}
double sideways(const Vec3& vector) {
    return std::hypot(vector[0], vector[2]);
}

/// By how much a side may be off that stands straight: turns of 32 bits are no more exact.
double noise(const Vec3& side) {
    constexpr double of_32_bits = 1e-6;
    return a_millimetre + length_of(side) * of_32_bits;
}

bool all_finite(const std::vector<double>& numbers) {
    return std::all_of(numbers.begin(), numbers.end(),
                       [](double number) { return std::isfinite(number); });
}

/// A quaternion's columns; it need not be of length 1.
std::array<Vec3, 3> turned_axes(const std::vector<double>& quaternion) {
    double x = quaternion[0];
    double y = quaternion[1];
    double z = quaternion[2];
    double w = quaternion[3];
    const double length = std::sqrt(x * x + y * y + z * z + w * w);
    if (length == 0) return Transform{}.axes;
    for (double* part : {&x, &y, &z, &w}) *part /= length;
    return {{{1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)},
             {2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)},
             {2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)}}};
}

/// The sides of a box as they stand in the world, each as long as the box is that way.
struct Sides {
    std::array<Vec3, 3> of;

    /// Which one is upright while the others lie flat, square to each other; 3: none.
    [[nodiscard]] std::size_t upright() const {
        for (std::size_t up = 0; up < 3; ++up) {
            const Vec3& one = of.at((up + 1) % 3);
            const Vec3& other = of.at((up + 2) % 3);
            const bool flat = std::abs(one[1]) <= noise(one) && std::abs(other[1]) <= noise(other);
            if (sideways(of.at(up)) <= noise(of.at(up)) && flat &&
                std::abs(dot(one, other)) <= noise(one) * (length_of(other) + a_millimetre))
                return up;
        }
        return 3;
    }
};

/// In degrees, counter-clockwise seen from above.
double turn_of(const Vec3& side) {
    return std::atan2(-side[2], side[0]) * 180 / std::numbers::pi;
}

} // namespace

Vec3 Transform::there(const Vec3& at) const {
    Vec3 moved = origin;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        for (std::size_t part = 0; part < 3; ++part)
            moved.at(part) += axes.at(axis).at(part) * at.at(axis);
    }
    return moved;
}

Transform Transform::with(const Transform& inner) const {
    Transform both;
    both.origin = there(inner.origin);
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const Vec3 end = there(inner.axes.at(axis));
        for (std::size_t part = 0; part < 3; ++part)
            both.axes.at(axis).at(part) = end.at(part) - origin.at(part);
    }
    return both;
}

std::optional<Transform> transform_of(const tinygltf::Node& node) {
    for (const auto* numbers : {&node.matrix, &node.translation, &node.rotation, &node.scale}) {
        if (!all_finite(*numbers)) return std::nullopt;
    }
    const auto fits = [](const std::vector<double>& numbers, std::size_t size) {
        return numbers.empty() || numbers.size() == size;
    };
    if (!fits(node.matrix, 16) || !fits(node.translation, 3) || !fits(node.rotation, 4) ||
        !fits(node.scale, 3))
        return std::nullopt;
    Transform transform;
    if (!node.matrix.empty()) { // by columns
        for (std::size_t axis = 0; axis < 3; ++axis) {
            for (std::size_t part = 0; part < 3; ++part)
                transform.axes.at(axis).at(part) = node.matrix[axis * 4 + part];
            transform.origin.at(axis) = node.matrix[12 + axis];
        }
        return transform;
    }
    if (!node.rotation.empty()) transform.axes = turned_axes(node.rotation);
    for (std::size_t axis = 0; axis < 3 && !node.scale.empty(); ++axis) {
        for (double& part : transform.axes.at(axis)) part *= node.scale[axis];
    }
    if (!node.translation.empty())
        transform.origin = {node.translation[0], node.translation[1], node.translation[2]};
    return transform;
}

std::optional<Bounds> bounds_of(const tinygltf::Model& model, int mesh) {
    if (mesh < 0 || static_cast<std::size_t>(mesh) >= model.meshes.size()) return std::nullopt;
    std::optional<Bounds> bounds;
    for (const tinygltf::Primitive& primitive :
         model.meshes[static_cast<std::size_t>(mesh)].primitives) {
        const auto position = primitive.attributes.find("POSITION");
        if (position == primitive.attributes.end()) continue;
        const auto number = static_cast<std::size_t>(position->second);
        if (position->second < 0 || number >= model.accessors.size()) return std::nullopt;
        const tinygltf::Accessor& accessor = model.accessors[number];
        if (accessor.minValues.size() != 3 || accessor.maxValues.size() != 3 ||
            !all_finite(accessor.minValues) || !all_finite(accessor.maxValues))
            return std::nullopt;
        Bounds of_one;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            of_one.least.at(axis) = accessor.minValues[axis];
            of_one.most.at(axis) = accessor.maxValues[axis];
            if (of_one.least.at(axis) > of_one.most.at(axis)) return std::nullopt;
        }
        if (!bounds) bounds = of_one;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            bounds->least.at(axis) = std::min(bounds->least.at(axis), of_one.least.at(axis));
            bounds->most.at(axis) = std::max(bounds->most.at(axis), of_one.most.at(axis));
        }
    }
    return bounds;
}

TurnedBox box_of(const Transform& transform, const Bounds& bounds) {
    Vec3 middle{};
    Sides sides{transform.axes};
    for (std::size_t axis = 0; axis < 3; ++axis) {
        middle.at(axis) = (bounds.least.at(axis) + bounds.most.at(axis)) / 2;
        for (double& part : sides.of.at(axis)) part *= bounds.most.at(axis) - bounds.least.at(axis);
    }
    const Vec3 centre = transform.there(middle);
    const auto around = [&](const Vec3& size, double turn) {
        plan::Box box;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            box.min.at(axis) = centre.at(axis) - size.at(axis) / 2;
            box.max.at(axis) = centre.at(axis) + size.at(axis) / 2;
        }
        box.turn = turn;
        return box;
    };
    const std::size_t up = sides.upright();
    if (up == 3) {
        Vec3 size{};
        for (std::size_t axis = 0; axis < 3; ++axis) {
            for (const Vec3& side : sides.of) size.at(axis) += std::abs(side.at(axis));
        }
        return {around(size, 0), true};
    }
    const Vec3& one = sides.of.at((up + 1) % 3);
    const Vec3& other = sides.of.at((up + 2) % 3);
    // The longer of the two says more exactly how it is turned.
    constexpr double right_angle = 90;
    const bool by_other = sideways(other) > sideways(one);
    const double all = turn_of(by_other ? other : one);
    const double quarters = std::round(all / right_angle);
    double turn = all - quarters * right_angle;
    const bool along_x = std::fmod(std::abs(quarters), 2) == 0; // the side that told the turn
    const bool one_along_x = along_x != by_other;
    const Vec3 size{sideways(one_along_x ? one : other), length_of(sides.of.at(up)),
                    sideways(one_along_x ? other : one)};
    const double reach = std::hypot(size[0], size[2]) / 2;
    if (std::abs(turn) * std::numbers::pi / 180 * reach < a_millimetre / 4) turn = 0;
    return {around(size, turn), false};
}

} // namespace hestrel::exchange
