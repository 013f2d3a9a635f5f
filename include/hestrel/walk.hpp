#pragma once
// Routes, walked on devices in time (docs/model.md section 7). Times are seconds since the walk's
// time 0, sizes are MiB (1,048,576 bytes), lengths are metres.

#include <hestrel/plan.hpp>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace hestrel {

/// What a walk came to; of several things the one that comes last here.
enum class Verdict {
    fine,
    over_limit, ///< beyond one of the plan's own `limits`
    breaks_rule,
    late,            ///< a player stood in, or saw, a level that was not shown
    not_as_expected, ///< an `expect` of the route does not hold
    over_budget,     ///< in total or in a pool
    stuck,
};
/// "over budget".
std::string text_of(Verdict verdict);

/// A level that a transition asked for.
struct LevelAsked {
    std::string level;
    std::optional<double> ready_s;  ///< unset: it never was
    std::optional<double> shown_s;  ///< unset: it never was
    std::optional<double> needed_s; ///< a player first stood in it or saw it
    std::optional<double> slack_s;  ///< needed less shown; negative: too late
    std::optional<double> lead_m;   ///< walked between firing and need
};

/// One run of a list of steps, or what a level that streams by distance does.
struct Transition {
    std::uint32_t number = 0; ///< from 1
    std::string cause;        ///< "trigger quay.ferry-boarding", "item front-desk.begin"
    double fired_s = 0;
    double settled_s = 0;                 ///< when all that it asked for had settled
    double stall_s = 0;                   ///< how long players could do nothing, and saw it
    double peak_mib = 0;                  ///< most memory in use meanwhile
    std::vector<std::string> facts_reset; ///< values that were lost
    std::vector<LevelAsked> levels;       ///< in order of asking
};

/// A time in which a player stood in, or saw, a level that was not shown.
struct Gap {
    std::string player;
    std::string level;
    bool stood = false; ///< in it; else it could be seen
    double from_s = 0;
    double to_s = 0;
};

/// One row of events.csv; docs/commands/events.md names all events.
struct Event {
    double time_s = 0;
    std::string event;
    std::string subject;
    std::string detail;
    std::string player;
};

/// How much was in use from a moment on.
struct MemoryInUse {
    double time_s = 0;
    double total_mib = 0;
};

/// One route on one device; of a session over several machines, one of them.
struct Walk {
    std::string route;
    std::string device;
    std::string machine; ///< empty: all players share one
    Verdict verdict = Verdict::fine;
    std::string stuck; ///< why it can't go on; empty where it can

    std::optional<double> boot_s; ///< unset: it never ended
    double end_s = 0;
    double veiled_s = 0; ///< of all players together, as the next one
    double stalled_s = 0;
    std::optional<double> worst_slack_s; ///< of loads that players could outrun
    double worst_hitch_s = 0;            ///< the longest standstill of a frame
    double peak_mib = 0;
    double peak_at_s = 0;
    double budget_mib = 0; ///< the device's total

    std::vector<Transition> transitions; ///< by when they fired
    std::vector<Gap> gaps;
    std::vector<MemoryInUse> memory; ///< one for each change
    std::vector<Event> events;       ///< by time
    std::vector<Finding> findings;   ///< by time
};

struct WalkOptions {
    bool delivery = false; ///< parcels arrive while the game is played
    unsigned jobs = 1;     ///< so many walks at once; results are the same for any number
};

/// Walks routes on devices, routes in the outer loop; where none is named, all of the plan.
std::vector<Walk> walk_routes(const Plan& plan, const std::vector<std::string>& routes = {},
                              const std::vector<std::string>& devices = {},
                              const WalkOptions& options = {});

} // namespace hestrel
