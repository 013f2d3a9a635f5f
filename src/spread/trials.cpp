#include "spread/trials.hpp"

#include "plan/jobs.hpp"
#include "walk/ground.hpp"
#include "walk/walk.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <mutex>
#include <numeric>
#include <set>

namespace hestrel::spread {

namespace {

/// Trials that one thread does before it asks for more.
constexpr std::uint64_t at_once = 16;

std::optional<std::int64_t> value_of(const Trial& trial, Measure measure) {
    switch (measure) {
    case Measure::boot: return trial.boot ? std::optional(trial.boot->count) : std::nullopt;
    case Measure::slack: return trial.slack ? std::optional(trial.slack->count) : std::nullopt;
    case Measure::stalls: return trial.stalls.count;
    case Measure::peak: return trial.peak.count;
    }
    return std::nullopt;
}

/// Ranks from 1; equal values share the mean of theirs.
std::vector<double> ranks_of(const std::vector<std::int64_t>& values) {
    std::vector<std::size_t> order(values.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::sort(order.begin(), order.end(),
              [&](std::size_t one, std::size_t other) { return values[one] < values[other]; });
    std::vector<double> ranks(values.size());
    for (std::size_t i = 0; i < order.size();) {
        std::size_t end = i;
        while (end < order.size() && values[order[end]] == values[order[i]]) ++end;
        const double shared = static_cast<double>(i + end + 1) / 2;
        for (; i < end; ++i) ranks[order[i]] = shared;
    }
    return ranks;
}

double correlation_of(const std::vector<double>& one, const std::vector<double>& other) {
    const double mean = (static_cast<double>(one.size()) + 1) / 2;
    double both = 0;
    double of_one = 0;
    double of_other = 0;
    for (std::size_t i = 0; i < one.size(); ++i) {
        both += (one[i] - mean) * (other[i] - mean);
        of_one += (one[i] - mean) * (one[i] - mean);
        of_other += (other[i] - mean) * (other[i] - mean);
    }
    return of_one == 0 || of_other == 0 ? 0 : both / std::sqrt(of_one * of_other);
}

} // namespace

Trial outcome_of(std::uint64_t number, Draws draws, std::span<const walk::Record> records) {
    Trial trial;
    trial.number = number;
    trial.draws = std::move(draws);
    trial.boot = plan::Micros{};
    std::set<std::string> names;
    for (const walk::Record& record : records) {
        if (!record.boot)
            trial.boot.reset();
        else if (trial.boot)
            trial.boot = std::max(*trial.boot, *record.boot);
        const auto slack = walk::worst_slack(record);
        if (slack && (!trial.slack || *slack < *trial.slack)) trial.slack = slack;
        trial.stalls += record.shares.stalled;
        trial.peak = std::max(trial.peak, record.peak);
        for (const plan::Finding& finding : record.findings) names.insert(finding.name);
    }
    trial.wrong.assign(names.begin(), names.end());
    return trial;
}

std::vector<Trial> run_trials(const Variation& variation, std::uint64_t seed, std::uint64_t first,
                              std::uint64_t last, unsigned jobs,
                              const std::function<void(std::uint64_t)>& progress) {
    std::vector<Trial> trials(last - first);
    const std::uint64_t blocks = (trials.size() + at_once - 1) / at_once;
    std::atomic<std::uint64_t> next{0};
    std::uint64_t done = 0;
    std::mutex guard;
    plan::in_parallel(std::min<std::uint64_t>(jobs, blocks), jobs, [&](std::size_t) {
        plan::Plan varied = variation.plan();
        walk::Ground ground(varied); // what varies has no place
        for (std::uint64_t block = next++; block < blocks; block = next++) {
            const std::uint64_t end = std::min<std::uint64_t>((block + 1) * at_once, trials.size());
            for (std::uint64_t i = block * at_once; i < end; ++i) {
                Draws draws = variation.draw(seed, first + i);
                variation.apply(draws, varied);
                trials[i] = outcome_of(first + i, std::move(draws),
                                       walk::walk(varied, variation.cast(), {}, ground));
            }
            if (!progress) continue;
            const std::scoped_lock lock(guard);
            done += end - block * at_once;
            progress(done);
        }
    });
    return trials;
}

std::string_view name_of(Measure measure) {
    constexpr std::array<std::string_view, measures.size()> names{"boot", "worst slack", "stalls",
                                                                  "peak"};
    return names[static_cast<std::size_t>(measure)];
}

std::vector<std::int64_t> values_of(std::span<const Trial> trials, Measure measure) {
    std::vector<std::int64_t> values;
    for (const Trial& trial : trials) {
        if (const auto value = value_of(trial, measure)) values.push_back(*value);
    }
    return values;
}

std::optional<std::int64_t> within(std::span<const Trial> trials, Measure measure, double share) {
    std::vector<std::int64_t> values = values_of(trials, measure);
    if (values.empty()) return std::nullopt;
    std::sort(values.begin(), values.end());
    if (measure == Measure::slack) std::reverse(values.begin(), values.end()); // most is best
    const double rank = std::ceil(share * static_cast<double>(values.size()) - 1e-9);
    return values[static_cast<std::size_t>(std::max(rank, 1.0)) - 1];
}

Chance chance(std::string name, std::uint64_t times, std::uint64_t trials) {
    constexpr double z = 1.959963984540054; // 97.5 of 100 of a normal distribution are below
    const auto n = static_cast<double>(trials);
    const double share = static_cast<double>(times) / n;
    const double middle = (share + z * z / (2 * n)) / (1 + z * z / n);
    const double half =
        z / (1 + z * z / n) * std::sqrt(share * (1 - share) / n + z * z / (4 * n * n));
    return {std::move(name), times, share, std::max(0.0, middle - half),
            std::min(1.0, middle + half)};
}

std::vector<Chance> chances(std::span<const Trial> trials) {
    std::map<std::string, std::uint64_t> times;
    for (const Trial& trial : trials) {
        for (const std::string& name : trial.wrong) ++times[name];
    }
    std::vector<Chance> all;
    for (const auto& [name, count] : times) all.push_back(chance(name, count, trials.size()));
    std::stable_sort(all.begin(), all.end(), [](const Chance& one, const Chance& other) {
        return one.times > other.times;
    });
    return all;
}

std::vector<Influence> influences(std::span<const Trial> trials, Measure measure) {
    std::vector<Influence> all;
    if (trials.empty()) return all;
    std::vector<const Trial*> counted;
    for (const Trial& trial : trials) {
        if (value_of(trial, measure)) counted.push_back(&trial);
    }
    const std::vector<double> ranks = ranks_of(values_of(trials, measure));
    for (std::size_t i = 0; i < trials.front().draws.size(); ++i) {
        std::vector<std::int64_t> drawn;
        for (const Trial* trial : counted) drawn.push_back(trial->draws[i]);
        all.push_back({i, correlation_of(ranks_of(drawn), ranks)});
    }
    std::stable_sort(all.begin(), all.end(), [](const Influence& one, const Influence& other) {
        return std::abs(one.correlation) > std::abs(other.correlation);
    });
    return all;
}

} // namespace hestrel::spread
