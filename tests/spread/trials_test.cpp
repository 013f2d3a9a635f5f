// Trials: what varies, what is drawn, and what is said of it.

#include "spread/trials.hpp"

#include "support/plan_text.hpp"
#include "tables/trial_tables.hpp"
#include "walk/walk.hpp"

#include <algorithm>
#include <cmath>

using namespace hestrel;
using spread::Measure;
using spread::Trial;

namespace {

/// A hall of 100 MiB, read at 100 MiB/s on the only device.
plan::Plan hall_plan(const std::string& spread, const std::string& memory = "100") {
    return tests::plan_from(
        "hestrel: 1\ndevices: {box: {memory: {total: 10000}, read: {rate: 100}, "
        "frame: {fps: 1000}, spread: {" +
        spread + "}}}\nlevels: {hall: {memory: {t: " + memory +
        "}}}\nroutes: {r: {start: {level: hall}, steps: []}}\n");
}

std::vector<Trial> trials_of(const plan::Plan& plan, std::uint64_t count, unsigned jobs = 1,
                             std::uint64_t first = 0) {
    const spread::Variation variation(plan, {plan::RouteId{0}, {plan::DeviceId{0}}});
    return spread::run_trials(variation, 7, first, count, jobs, {});
}

std::vector<Trial> with_boots(const std::vector<std::int64_t>& boots) {
    std::vector<Trial> trials;
    for (const std::int64_t boot : boots) {
        Trial trial;
        trial.number = trials.size();
        trial.boot = plan::Micros{boot};
        trial.slack = plan::Micros{-boot};
        trials.push_back(trial);
    }
    return trials;
}

} // namespace

TEST_CASE("where nothing varies every trial is the walk") {
    const plan::Plan plan = hall_plan("");
    const walk::Record walked = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    for (const Trial& trial : trials_of(plan, 5)) {
        CHECK(trial.draws.empty());
        CHECK(trial.boot == walked.boot);
        CHECK(trial.peak == walked.peak);
        CHECK(trial.stalls == walked.shares.stalled);
    }
}

TEST_CASE("a lognormal rate: the quantiles of the boot are known") {
    // 1 s over a factor that is lognormal with mean 1 and variation c: sigma^2 = ln(1 + c^2), its
    // logarithm is normal about -sigma^2/2. Half of all boots are over e^(sigma^2/2), and 90 of
    // 100 below e^(sigma^2/2 + 1.2816 sigma). At most a frame (1 ms) passes until it is shown.
    const plan::Plan plan = hall_plan("read: 0.3");
    const auto trials = trials_of(plan, 4'000);
    const double squared = std::log(1 + 0.3 * 0.3);
    const auto quantile = [&](double share) {
        return static_cast<double>(*spread::within(trials, Measure::boot, share)) / 1e6;
    };
    // Of 4,000 the standard error of these quantiles is below 1.3 of 100.
    CHECK(quantile(0.5) == Approx(std::exp(squared / 2)).epsilon(0.03));
    CHECK(quantile(0.9) ==
          Approx(std::exp(squared / 2 + 1.2815516 * std::sqrt(squared))).epsilon(0.04));
    // The factor itself is 1 on average.
    double sum = 0;
    for (const Trial& trial : trials) sum += static_cast<double>(trial.draws.front()) / 1e9;
    CHECK(sum / 4'000 == Approx(1).epsilon(0.02));
}

TEST_CASE("sizes that are ranges are drawn evenly") {
    const plan::Plan plan = hall_plan("", "50..150");
    const auto trials = trials_of(plan, 2'000);
    const auto mib = [&](double share) {
        return plan::in_mebibytes({*spread::within(trials, Measure::peak, share)});
    };
    CHECK(mib(0.5) == Approx(100).margin(4));
    CHECK(mib(0.9) == Approx(140).margin(3));
    for (const Trial& trial : trials) {
        CHECK(trial.peak >= plan::mebibytes(50));
        CHECK(trial.peak <= plan::mebibytes(150));
    }
    // The larger, the longer it takes.
    const auto influences = spread::influences(trials, Measure::boot);
    REQUIRE(influences.size() == 1);
    CHECK(influences.front().correlation > 0.999);
}

TEST_CASE("the time for which something is made is drawn, alike with its sizes") {
    const plan::Plan plan = hall_plan("", "50..150}, make: 2..4 s, on: {");
    const auto trials = trials_of(plan, 500);
    const auto influences = spread::influences(trials, Measure::boot);
    REQUIRE(influences.size() == 1); // one thing that varies
    for (const Trial& trial : trials) {
        // Read at 100 MiB/s, then made: between 0.5 + 2 and 1.5 + 4 s, and a frame.
        const double share = (plan::in_mebibytes(trial.peak) - 50) / 100;
        CHECK(plan::in_seconds(*trial.boot) == Approx(2.5 + 3 * share).margin(0.05));
    }
}

TEST_CASE("trials are the same on any number of threads, and in any share") {
    const plan::Plan plan = hall_plan("read: 0.2, latency: 0.5, speed: 0.1", "80..120");
    const auto all = trials_of(plan, 100);
    CHECK(trials_of(plan, 100, 3) == all);
    auto parts = trials_of(plan, 40);
    const auto rest = trials_of(plan, 100, 2, 40);
    parts.insert(parts.end(), rest.begin(), rest.end());
    CHECK(parts == all);
}

TEST_CASE("what trials stay within: the nearest rank, of slack from its other end") {
    const auto trials = with_boots({40, 10, 30, 20, 50});
    CHECK(spread::within(trials, Measure::boot, 0.5) == 30);
    CHECK(spread::within(trials, Measure::boot, 0.8) == 40);
    CHECK(spread::within(trials, Measure::boot, 0.99) == 50);
    CHECK(spread::within(trials, Measure::slack, 0.8) == -40);
    CHECK_FALSE(spread::within({}, Measure::boot, 0.5));
}

TEST_CASE("Wilson's interval, by hand") {
    // 20 of 100: centre (0.2 + 0.019207) / 1.038415, half width 1.96 / 1.038415 *
    // sqrt(0.0016 + 0.000096).
    const spread::Chance some = spread::chance("late", 20, 100);
    CHECK(some.share == Approx(0.2));
    CHECK(some.low == Approx(0.1334).epsilon(0.001));
    CHECK(some.high == Approx(0.2888).epsilon(0.001));
    // Never seen in 100 is not never: up to 3.84 / 103.84.
    const spread::Chance none = spread::chance("late", 0, 100);
    CHECK(none.low == Approx(0).margin(1e-12));
    CHECK(none.high == Approx(3.8415 / 103.8415).epsilon(0.001));
}

TEST_CASE("rank correlation: 1 along, -1 against, less where ranks cross") {
    const auto influence = [](const std::vector<std::int64_t>& drawn,
                              const std::vector<std::int64_t>& boots) {
        auto trials = with_boots(boots);
        for (std::size_t i = 0; i < trials.size(); ++i) trials[i].draws = {drawn[i]};
        return spread::influences(trials, Measure::boot).front().correlation;
    };
    CHECK(influence({1, 2, 3, 4}, {10, 20, 70, 71}) == Approx(1));
    CHECK(influence({1, 2, 3, 4}, {9, 8, 2, 1}) == Approx(-1));
    // Ranks 1 2 3 4 and 2 1 4 3: 1 - 6 * 4 / (4 * 15) = 0.6.
    CHECK(influence({1, 2, 3, 4}, {20, 10, 40, 30}) == Approx(0.6));
    CHECK(influence({5, 5, 5, 5}, {1, 2, 3, 4}) == 0);
}

TEST_CASE("trials written and read again are the same; what is not theirs is refused") {
    const plan::Plan plan = hall_plan("read: 0.2", "80..120");
    tables::TrialSet set{
        {plan::RouteId{0}, {plan::DeviceId{0}}}, 7, 10, {"read", "size:hall"}, trials_of(plan, 10)};
    set.trials[3].boot.reset();
    set.trials[4].wrong = {"low-slack", "over-budget"};
    const std::string csv = tables::trials_csv(set);
    tables::TrialSet read{{plan::RouteId{0}, {plan::DeviceId{0}}}, 0, 0, {"read", "size:hall"}, {}};
    tables::add_trials(read, csv, "trials.csv");
    tables::put_in_order(read);
    CHECK(read.trials == set.trials);
    CHECK(read.seed == 7);
    CHECK(tables::trials_csv(read) == csv);

    tables::add_trials(read, csv, "again.csv");
    CHECK_THROWS_WITH(tables::put_in_order(read), "trial 0 is there twice");
    tables::TrialSet other{{plan::RouteId{0}, {plan::DeviceId{0}}}, 0, 0, {"read"}, {}};
    CHECK_THROWS_AS(tables::add_trials(other, csv, "trials.csv"), tables::TrialsError);
    tables::TrialSet seeded{
        {plan::RouteId{0}, {plan::DeviceId{0}}}, 8, 10, {"read", "size:hall"}, {}};
    CHECK_THROWS_WITH(tables::add_trials(seeded, csv, "trials.csv"),
                      "trials.csv:2:1: a trial of 10 with seed 7, among those of 10 with seed 8");
}
