#pragma once
// Trials and what they say, as files.

#include "plan/plan.hpp"
#include "spread/trials.hpp"

#include <span>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::tables {

/// Of one route on its device or devices.
struct TrialSet {
    walk::Cast cast;
    std::uint64_t seed = 0;
    std::uint64_t of = 0;               ///< trials in all, of which these may be a share
    std::vector<std::string> uncertain; ///< names
    std::vector<spread::Trial> trials;  ///< in order
};

/// A table of trials that can't be put together with others; `what()` says why.
class TrialsError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// `trial,of,seed,<what was drawn, in billionths>…,boot_us,slack_us,stalls_us,peak_bytes,wrong`:
/// whole numbers, so that nothing is lost.
std::string trials_csv(const TrialSet& set);
/// Adds the trials of such a table. Throws TrialsError where it is none, or not of `set`'s seed,
/// number and uncertain things.
void add_trials(TrialSet& set, std::string_view csv, const std::string& path);
/// In order; throws TrialsError where any is missing or there twice.
void put_in_order(TrialSet& set);

inline constexpr std::array quantiles{0.5, 0.9, 0.99};
/// "1.23 s", "1,400 MiB".
std::string measure_text(spread::Measure measure, std::int64_t value);

/// `route,device,measure,walk,p50,p90,p99`, in s and MiB; `walks` are those of the plan as it is.
std::string quantiles_csv(const plan::Plan& plan, std::span<const TrialSet> sets,
                          std::span<const spread::Trial> walks);

std::string spread_json(const plan::Plan& plan, std::span<const TrialSet> sets,
                        std::span<const spread::Trial> walks);

} // namespace hestrel::tables
