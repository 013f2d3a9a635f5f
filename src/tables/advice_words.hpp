#pragma once
// Advice in words, the same in every table, file and message.

#include "advise/advice.hpp"
#include "plan/plan.hpp"

#include <string>
#include <string_view>

namespace hestrel::tables {

/// "deepen", "veil-min", "unload" …
std::string_view kind_name(advise::Kind kind);
/// "m", "s" or "MiB"; empty where advice of that kind has no amount.
std::string_view unit_of(advise::Kind kind);
/// An amount in its unit: "6", "0.8".
std::string amount_text(advise::Kind kind, std::int64_t amount);
/// The same with the unit: "6 m", "0.8 s".
std::string amount_with_unit(advise::Kind kind, std::int64_t amount);

/// "trigger keeper-stair", "near mooring-boats".
std::string cause_text(const plan::Plan& plan, const advise::Cause& cause);

/// What is to be done: "let trigger keeper-stair reach 6 m farther".
std::string advice_text(const plan::Plan& plan, const advise::Advice& advice);

/// "trigger keeper-stair brings lamp-room 1.04 s too late on handheld": of the worst device.
std::string late_text(const plan::Plan& plan, const advise::Load& load,
                      const advise::Problem& problem);
/// The sum behind the amount of what mends a load, where there is one, and what walking showed:
/// "1.04 s × 7 m/s = 7.3 m; walked: 106 ms to spare; 6 m: 61 ms late".
std::string tried_text(const plan::Plan& plan, const advise::Load& load,
                       const advise::Problem& problem, const advise::Advice& advice,
                       plan::Micros wanted);
/// What a change does to waiting and memory, device by device; what does not change is left out.
std::string effects_text(const plan::Plan& plan, const advise::Advice& advice);
/// What it makes worse: "over-budget on first-round, console"; empty where nothing.
std::string harms_text(const plan::Plan& plan, const std::vector<advise::Harm>& harms);

/// How long a load takes with nothing beside it: "86 MiB read by 0.97 s, unpacked by 1.42 s, shown
/// by 1.53 s".
std::string alone_text(const plan::Plan& plan, const advise::Load& load,
                       const advise::DeviceTime& time);

} // namespace hestrel::tables
