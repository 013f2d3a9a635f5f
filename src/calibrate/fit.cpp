#include "calibrate/fit.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::calibrate {

namespace {

constexpr int most_rounds = 50;
constexpr double most_deviations = 4;
constexpr std::size_t fewest_to_outvote = 6;
/// Of pairs of samples, for the first slope.
constexpr std::size_t most_pairs = 1'000'000;

double median(std::vector<double> values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2 == 1) return *middle;
    return (*middle + *std::max_element(values.begin(), middle)) / 2;
}

/// A line that half of the samples could not bend.
Line rough_line(std::span<const Sample> samples, Through through) {
    std::vector<double> slopes;
    if (through == Through::zero) {
        for (const Sample& sample : samples) {
            if (sample.size > 0) slopes.push_back(sample.seconds / sample.size);
        }
        Line line;
        line.per_unit = median(std::move(slopes));
        return line;
    }
    const std::size_t count = samples.size();
    // With many samples, of pairs that lie certain distances apart only.
    const std::size_t every = std::max<std::size_t>(1, count * count / 2 / most_pairs);
    for (std::size_t apart = 1; apart < count; apart += every) {
        for (std::size_t i = 0; i + apart < count; ++i) {
            const double run = samples[i + apart].size - samples[i].size;
            if (run != 0) slopes.push_back((samples[i + apart].seconds - samples[i].seconds) / run);
        }
    }
    Line line;
    line.per_unit = median(std::move(slopes));
    std::vector<double> starts;
    for (const Sample& sample : samples)
        starts.push_back(sample.seconds - line.per_unit * sample.size);
    line.at_zero = median(std::move(starts));
    return line;
}

void find_residuals(Line& line, std::span<const Sample> samples) {
    line.residuals.clear();
    for (const Sample& sample : samples)
        line.residuals.push_back(sample.seconds - line.at(sample.size));
}

/// Marks what is too far off to be scatter. Of few samples none is: they can't outvote one.
void mark_outliers(Line& line, std::span<const Sample> samples, double scatter) {
    line.outliers.assign(samples.size(), false);
    if (samples.size() >= fewest_to_outvote) {
        for (std::size_t i = 0; i < samples.size(); ++i) {
            // A part in a thousand, and a microsecond, is how logs are rounded.
            const double rounding = std::max(1e-6, 1e-3 * std::abs(line.at(samples[i].size)));
            line.outliers[i] =
                std::abs(line.residuals[i]) > std::max(most_deviations * scatter, rounding);
        }
    }
    line.used =
        static_cast<std::size_t>(std::count(line.outliers.begin(), line.outliers.end(), false));
}

/// Least squares over what is no outlier, about the means, where sums lose least; false where that
/// is not enough. Standard errors are those of a straight line with even scatter.
bool fit_least_squares(Line& line, std::span<const Sample> samples, Through through) {
    const std::size_t unknowns = through == Through::zero ? 1 : 2;
    if (line.used <= unknowns) return false;
    const auto used = static_cast<double>(line.used);
    const auto sum = [&](auto&& of) {
        double total = 0;
        for (std::size_t i = 0; i < samples.size(); ++i) {
            if (!line.outliers[i]) total += of(samples[i]);
        }
        return total;
    };
    Sample middle{0, 0};
    if (through == Through::anywhere) {
        middle.size = sum([](const Sample& each) { return each.size; }) / used;
        middle.seconds = sum([](const Sample& each) { return each.seconds; }) / used;
    }
    const double spread = sum(
        [&](const Sample& each) { return (each.size - middle.size) * (each.size - middle.size); });
    constexpr double alike = 1e-24; // sizes that differ by a part in 10^12 tell nothing
    if (spread <= alike * sum([](const Sample& each) { return each.size * each.size; }))
        return false;
    line.per_unit = sum([&](const Sample& each) {
                        return (each.size - middle.size) * (each.seconds - middle.seconds);
                    }) /
                    spread;
    line.at_zero = middle.seconds - line.per_unit * middle.size;
    if (through == Through::zero) line.at_zero = 0;
    const double squares = sum([&](const Sample& each) {
        const double off = each.seconds - line.at(each.size);
        return off * off;
    });
    line.scatter = std::sqrt(squares / static_cast<double>(line.used - unknowns));
    line.per_unit_error = line.scatter / std::sqrt(spread);
    line.at_zero_error =
        through == Through::zero
            ? 0
            : line.scatter * std::sqrt(1 / used + middle.size * middle.size / spread);
    find_residuals(line, samples);
    return true;
}

} // namespace

std::variant<Line, Refusal> fit_line(std::span<const Sample> samples, Through through) {
    const std::size_t least = through == Through::zero ? 2 : 3;
    if (samples.size() < least)
        return std::to_string(least) + " measurements are needed, not " +
               std::to_string(samples.size());
    const auto [smallest, largest] = std::minmax_element(
        samples.begin(), samples.end(),
        [](const Sample& one, const Sample& other) { return one.size < other.size; });
    if (largest->size <= 0) return Refusal("all sizes are 0");
    if (through == Through::anywhere && largest->size - smallest->size <= 1e-6 * largest->size)
        return Refusal("all are of the same size, so what each takes and what size adds can't be "
                       "told apart");
    Line line = rough_line(samples, through);
    find_residuals(line, samples);
    std::vector<double> sizes;
    for (const double residual : line.residuals) sizes.push_back(std::abs(residual));
    constexpr double normal = 1.4826; // a standard deviation in median deviations
    mark_outliers(line, samples, normal * median(std::move(sizes)));
    for (int round = 0; round < most_rounds; ++round) {
        if (!fit_least_squares(line, samples, through))
            return Refusal("too few of them agree on a line");
        const std::vector<bool> before = line.outliers;
        mark_outliers(line, samples, line.scatter);
        if (line.outliers == before) break;
    }
    if (line.per_unit <= 0) return Refusal("time does not grow with size");
    return line;
}

} // namespace hestrel::calibrate
