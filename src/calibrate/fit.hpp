#pragma once
// Straight lines through measured times: least squares over what is no outlier.

#include <cstddef>
#include <span>
#include <string>
#include <variant>
#include <vector>

namespace hestrel::calibrate {

/// One measured time; `size` is in what the line is about: MiB or objects.
struct Sample {
    double size = 0;
    double seconds = 0;
};

/// seconds = at_zero + per_unit * size, with the standard errors of both.
struct Line {
    double at_zero = 0;
    double per_unit = 0;
    double at_zero_error = 0;
    double per_unit_error = 0;
    double scatter = 0;            ///< standard deviation of what is no outlier, s
    std::vector<double> residuals; ///< by sample: measured less fitted, s
    std::vector<bool> outliers;    ///< by sample: left out
    std::size_t used = 0;          ///< samples that are none
    [[nodiscard]] double at(double size) const { return at_zero + per_unit * size; }
};

/// What a line is to go through.
enum class Through : unsigned char { anywhere, zero };

/// Why no line can be told, as the end of a sentence.
using Refusal = std::string;

/// Of six samples or more, starts from the median of slopes, leaves out what is over four standard
/// deviations off, and fits the rest by least squares, until what is left out stays the same.
/// Refuses where there are too few samples or all are of one size, or where time does not grow with
/// size.
std::variant<Line, Refusal> fit_line(std::span<const Sample> samples, Through through);

} // namespace hestrel::calibrate
