#pragma once
// Many walks of one route on its device or devices, each with other draws of what is uncertain.

#include "spread/variation.hpp"
#include "walk/record.hpp"

#include <array>
#include <cstdint>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::spread {

/// What came of one trial. Whole numbers, so that written and read again it is the same.
struct Trial {
    std::uint64_t number = 0;
    Draws draws;
    std::optional<plan::Micros> boot;  ///< of several machines the longest; unset: it never ended
    std::optional<plan::Micros> slack; ///< the worst; unset: no load that players could outrun
    plan::Micros stalls;               ///< of all players together
    plan::Bytes peak;                  ///< of several machines the largest
    std::vector<std::string> wrong;    ///< names of the walk's findings, each once, sorted
    bool operator==(const Trial&) const = default;
};

/// `records`: of each machine.
Trial outcome_of(std::uint64_t number, Draws draws, std::span<const walk::Record> records);

/// Trials `first` to `last` (not included), in order; the same on any number of threads.
/// `progress` is called now and then with how many are done; may be empty.
std::vector<Trial> run_trials(const Variation& variation, std::uint64_t seed, std::uint64_t first,
                              std::uint64_t last, unsigned jobs,
                              const std::function<void(std::uint64_t)>& progress);

// --- what they say

enum class Measure : std::uint8_t { boot, slack, stalls, peak };
inline constexpr std::array measures{Measure::boot, Measure::slack, Measure::stalls, Measure::peak};
std::string_view name_of(Measure measure);

/// The values of the trials that have one, in order of trials: microseconds, or bytes.
std::vector<std::int64_t> values_of(std::span<const Trial> trials, Measure measure);

/// What `share` of the trials stay within: at most that, of slack at least that. One of the values
/// (the nearest rank); nothing where there are none.
std::optional<std::int64_t> within(std::span<const Trial> trials, Measure measure, double share);

/// How often something came up, and between which chances its own chance is, 95 of 100 times
/// (Wilson's interval).
struct Chance {
    std::string name; ///< of a finding
    std::uint64_t times = 0;
    double share = 0;
    double low = 0;
    double high = 0;
};
Chance chance(std::string name, std::uint64_t times, std::uint64_t trials);
/// Of every finding that came up, most often first.
std::vector<Chance> chances(std::span<const Trial> trials);

/// How a measure follows what was drawn: Spearman's rank correlation, -1 to 1; 0 where either is
/// always the same.
struct Influence {
    std::size_t uncertain = 0; ///< index
    double correlation = 0;
};
/// Of all uncertain things, the strongest first.
std::vector<Influence> influences(std::span<const Trial> trials, Measure measure);

} // namespace hestrel::spread
