#pragma once
// What two plans, or two states of one, are compared by: figures of walks and exploring under
// names, since the numbers that things have differ from plan to plan.

#include "explore/explored.hpp"
#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <cstdint>
#include <map>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::compare {

/// What is measured. Times in microseconds, memory in bytes.
enum class Measure : std::uint8_t {
    boot,
    slack,      ///< the least of loads that players could outrun; more is better, of all else less
    gaps,       ///< how long all gaps last together
    stalls,     ///< of all players together
    veiled,     ///< the same under veils
    hitch,      ///< the worst
    frame,      ///< the longest, for what is shown
    peak,       ///< the most memory in use
    takes,      ///< of one load: from the firing until shown, the longest
    worst,      ///< the most memory in any situation that players can reach
    bound,      ///< no move takes more memory than this
    situations, ///< that players can reach; neither better nor worse
};
inline constexpr std::size_t measure_count = 12;
std::string_view name_of(Measure measure);
/// Whether it is measured in bytes; situations are counted, the others are times.
bool is_memory(Measure measure);

/// Where something was measured. Empty parts: it is about all of them.
struct Where {
    std::string route;
    std::string device;
    std::string edition; ///< of what was explored
    std::string cause;   ///< "trigger quay-approach", of one load,
    std::string level;   ///< and what it loads
    std::string pool;    ///< of memory; "total"
    auto operator<=>(const Where&) const = default;
};

/// A finding, without the moment in which it was made.
struct Noticed {
    std::string name;
    std::string about; ///< "trigger keeper-stair"; empty: where it stands says it
    std::string by;    ///< "check", "walk" or "explore"
    Where where;
    auto operator<=>(const Noticed&) const = default;
};

/// A step that goes by the order of an edition, met in a place of it.
struct Lead {
    std::string cause; ///< "trigger ferry-boarding"
    std::string by;    ///< "position 6", "next after quay", "back before quay"
    std::string edition;
    auto operator<=>(const Lead&) const = default;
};

/// A fact in a transition.
struct Carry {
    std::string cause; ///< "trigger quay-approach", "launch again"
    std::string fact;
    auto operator<=>(const Carry&) const = default;
};

/// All figures of one plan.
struct Metrics {
    std::string plan; ///< its name
    std::map<std::pair<Where, Measure>, std::int64_t> values;
    std::map<Where, std::string> verdicts; ///< of walks: "fine", "late" …
    std::map<Noticed, plan::Severity> findings;
    std::map<Carry, std::set<flow::Carrying>> carries; ///< all that became of it
    std::map<Lead, std::string> leads;                 ///< the level it leads to; empty: none
};

void add_check(Metrics& metrics, const plan::Plan& plan, const std::vector<plan::Finding>& found);
/// Where positions, `next` and `back` lead.
void add_leads(Metrics& metrics, const plan::Plan& plan);
void add_walk(Metrics& metrics, const plan::Plan& plan, const walk::Record& record);
/// What `check` finds, where things lead, and all walks.
Metrics metrics_of(const plan::Plan& plan, const std::vector<plan::Finding>& checked,
                   const std::vector<walk::Record>& records);
void add_explored(Metrics& metrics, const plan::Plan& plan, const explore::Explored& explored);

} // namespace hestrel::compare
