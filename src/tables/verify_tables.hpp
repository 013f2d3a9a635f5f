#pragma once
// What logs of plays say beside the plan, as tables. Times are on the game's own clock.

#include "source/json.hpp"
#include "verify/device_fit.hpp"
#include "verify/overall.hpp"

#include <span>
#include <string>
#include <vector>

namespace hestrel::tables {

/// The plays of one run, and their logs.
struct Plays {
    std::vector<verify::Log> logs;
    std::vector<verify::PlayResult> results; ///< by log
};

/// A row for each play: what agrees, and what does not.
std::string plays_csv(const Plays& plays);
/// What began lists, as the logs have it, and what the plan says to that.
std::string told_csv(const plan::Plan& plan, const Plays& plays);
/// When levels and kits came and went, by the plan and in the game.
std::string compared_csv(const plan::Plan& plan, const Plays& plays);
/// Memory at each moment that a log has.
std::string compared_memory_csv(const Plays& plays);
/// Over all plays: how long each load of each transition took.
std::string load_spread_csv(const plan::Plan& plan, const Plays& plays,
                            const std::vector<verify::LoadSpread>& spreads);
/// All of the above but what is compared event by event.
std::string verify_json(const plan::Plan& plan, const Plays& plays,
                        const std::vector<verify::LoadSpread>& spreads,
                        const std::vector<plan::Finding>& findings);

/// A table of sizes, as a plan's `sizes` reads it: memory by pool in the plan's proportions.
std::string measured_sizes_csv(const plan::Plan& plan, plan::DeviceId device,
                               const std::vector<verify::MeasuredSize>& sizes);

/// "trigger quay-approach", "near boats", "the boot".
std::string cause_text(const plan::Plan& plan, const verify::LoadSpread& spread);

} // namespace hestrel::tables
