#pragma once
// Turning about the vertical.

#include "plan/plan.hpp"

#include <array>
#include <cmath>
#include <cstdint>

namespace hestrel::geometry {

/// Cosine and sine of a turn in degrees, exact for right angles.
struct Turn {
    double cosine = 1;
    double sine = 0;

    explicit Turn(double degrees) {
        if (const auto quarter = quarters(degrees); quarter >= 0) {
            constexpr std::array<double, 4> cosines{1, 0, -1, 0};
            constexpr std::array<double, 4> sines{0, 1, 0, -1};
            cosine = cosines.at(static_cast<std::size_t>(quarter));
            sine = sines.at(static_cast<std::size_t>(quarter));
            return;
        }
        const double radians = degrees * 3.14159265358979323846 / 180;
        cosine = std::cos(radians);
        sine = std::sin(radians);
    }
    /// So many right angles, 0 to 3; -1 where it is no multiple of one.
    static int quarters(double degrees) {
        const double all = degrees / 90;
        if (all != std::floor(all)) return -1;
        return static_cast<int>((static_cast<std::int64_t>(all) % 4 + 4) % 4);
    }
    /// Counter-clockwise seen from above, x to the right and z towards the viewer, about `centre`.
    [[nodiscard]] plan::Vec3 there(const plan::Vec3& at, const plan::Vec3& centre) const {
        const double x = at[0] - centre[0];
        const double z = at[2] - centre[2];
        return {centre[0] + x * cosine + z * sine, at[1], centre[2] - x * sine + z * cosine};
    }
    [[nodiscard]] plan::Vec3 back(const plan::Vec3& at, const plan::Vec3& centre) const {
        const double x = at[0] - centre[0];
        const double z = at[2] - centre[2];
        return {centre[0] + x * cosine - z * sine, at[1], centre[2] + x * sine + z * cosine};
    }
};

} // namespace hestrel::geometry
