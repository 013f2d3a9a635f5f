// Lines through measured times: cases worked out by hand, and figures known beforehand.

#include "calibrate/calibration.hpp"

#include "support/dice.hpp"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

using namespace hestrel;
using calibrate::fit_line;
using calibrate::Line;
using calibrate::Refusal;
using calibrate::Sample;
using calibrate::Through;

namespace {

Line line_of(const std::vector<Sample>& samples, Through through = Through::anywhere) {
    const auto found = fit_line(samples, through);
    if (const auto* refusal = std::get_if<Refusal>(&found)) FAIL(*refusal);
    return std::get<Line>(found);
}
Refusal refusal_of(const std::vector<Sample>& samples, Through through = Through::anywhere) {
    const auto found = fit_line(samples, through);
    REQUIRE(std::holds_alternative<Refusal>(found));
    return std::get<Refusal>(found);
}

} // namespace

TEST_CASE("a line through points on a line is that line, without error") {
    const Line line = line_of({{0, 0.01}, {10, 0.11}, {20, 0.21}, {40, 0.41}});
    CHECK(line.at_zero == Approx(0.01));
    CHECK(line.per_unit == Approx(0.01));
    CHECK(line.per_unit_error == Approx(0).margin(1e-12));
    CHECK(line.used == 4);
}

TEST_CASE("least squares and standard errors, by hand") {
    // Sizes 0, 1, 2, 3, times 1, 3, 3, 5: mean 1.5 and 3; slope 6/5 = 1.2, start 3 - 1.8 = 1.2.
    // Residuals -0.2, 0.6, -0.6, 0.2: their squares sum to 0.8, over 4 - 2: 0.4.
    // Errors: slope sqrt(0.4 / 5), start sqrt(0.4 * (1/4 + 2.25/5)).
    const Line line = line_of({{0, 1}, {1, 3}, {2, 3}, {3, 5}});
    CHECK(line.per_unit == Approx(1.2));
    CHECK(line.at_zero == Approx(1.2));
    CHECK(line.scatter == Approx(std::sqrt(0.4)));
    CHECK(line.per_unit_error == Approx(std::sqrt(0.08)));
    CHECK(line.at_zero_error == Approx(std::sqrt(0.28)));
    REQUIRE(line.residuals.size() == 4);
    CHECK(line.residuals[1] == Approx(0.6));
}

TEST_CASE("through zero: the slope alone") {
    // (1*2 + 2*4 + 3*7) / (1 + 4 + 9) = 31 / 14.
    const Line line = line_of({{1, 2}, {2, 4}, {3, 7}}, Through::zero);
    CHECK(line.per_unit == Approx(31.0 / 14));
    CHECK(line.at_zero == 0);
}

TEST_CASE("an outlier is named and bends nothing") {
    std::vector<Sample> samples;
    for (int i = 1; i <= 10; ++i) samples.push_back({double(i), 0.02 + 0.1 * i});
    samples[6].seconds += 3;
    const Line line = line_of(samples);
    CHECK(line.at_zero == Approx(0.02));
    CHECK(line.per_unit == Approx(0.1));
    CHECK(line.used == 9);
    CHECK(line.outliers[6]);
    CHECK(line.residuals[6] == Approx(3));
}

TEST_CASE("what can't be fitted is refused with the reason") {
    CHECK(refusal_of({{1, 2}, {2, 3}}) == "3 measurements are needed, not 2");
    CHECK(refusal_of({{1, 2}}, Through::zero) == "2 measurements are needed, not 1");
    CHECK(refusal_of({{5, 1}, {5, 2}, {5, 3}, {5, 1.5}}).find("all are of the same size") == 0);
    CHECK(refusal_of({{0, 1}, {0, 2}, {0, 3}}) == "all sizes are 0");
    CHECK(refusal_of({{1, 4}, {2, 3}, {3, 2}, {4, 1}}) == "time does not grow with size");
}

TEST_CASE("known figures come back from noisy logs with outliers, within their errors") {
    constexpr int logs = 60;
    int latency_within = 0;
    int rate_within = 0;
    for (std::uint32_t seed = 0; seed < logs; ++seed) {
        CAPTURE(seed);
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> sizes(1, 200);
        std::normal_distribution<double> noise(0, 0.004);
        std::vector<calibrate::Measurement> measurements;
        for (int i = 0; i < 200; ++i) {
            calibrate::Measurement measured;
            const double packed = sizes(random);
            const double unpacked = packed * 1.7;
            const double objects = std::floor(sizes(random) * 20);
            measured.packed = packed;
            measured.unpacked = unpacked;
            measured.objects = objects;
            // 90 MiB/s after 12 ms; 240 MiB/s; 3 ms and 8 us an object.
            measured.read = 0.012 + packed / 90 + noise(random);
            measured.unpack = std::max(0.0, unpacked / 240 + noise(random));
            measured.attach = 0.003 + objects * 8e-6 + noise(random) / 20;
            // Makers of speed 1.25.
            measured.planned_make = packed / 40;
            measured.make = packed / 50;
            if (i % 20 == 7) { // 5% of them
                *measured.read += 1;
                *measured.unpack *= 3;
                *measured.attach += 0.4;
                *measured.make *= 3;
            }
            measurements.push_back(measured);
        }
        const auto fits = calibrate::calibrate(measurements);
        for (const calibrate::Fitted& each : fits) {
            REQUIRE(each.line);
            // No other is left out than the ten, or a rare one that scatters far.
            CHECK(each.line->used >= 188);
            CHECK(each.line->used <= 191);
        }
        const Line& read = *fits[0].line;
        latency_within += std::abs(read.at_zero - 0.012) < 2 * read.at_zero_error ? 1 : 0;
        rate_within += std::abs(read.per_unit - 1.0 / 90) < 2 * read.per_unit_error ? 1 : 0;
        CHECK(1 / read.per_unit == Approx(90).epsilon(0.01));
        CHECK(1 / fits[1].line->per_unit == Approx(240).epsilon(0.01));
        CHECK(1 / fits[2].line->per_unit == Approx(1.25));
        CHECK(fits[3].line->at_zero == Approx(0.003).epsilon(0.05));
        CHECK(fits[3].line->per_unit == Approx(8e-6).epsilon(0.01));
    }
    // Two standard errors hold 95 of 100; of 60, fewer than 51 would be one in a thousand.
    CHECK(latency_within >= 51);
    CHECK(rate_within >= 51);
}

TEST_CASE("what each piece takes is never below zero") {
    std::vector<calibrate::Measurement> measurements;
    for (int i = 1; i <= 5; ++i) {
        calibrate::Measurement measured;
        measured.packed = i;
        measured.read = i - 0.5; // -0.5 s at size 0
        measurements.push_back(measured);
    }
    const auto fits = calibrate::calibrate(measurements);
    CHECK(fits[0].below_zero);
    REQUIRE(fits[0].line);
    CHECK(fits[0].line->at_zero == 0);
    CHECK(fits[1].samples.empty());
    CHECK(fits[1].refusal.empty());
}
