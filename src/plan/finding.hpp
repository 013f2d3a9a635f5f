#pragma once
// A finding: what is wrong or suspicious, where, and how bad (docs/model.md section 10).

#include "plan/place.hpp"
#include "plan/plan.hpp"

#include <algorithm>
#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace hestrel::plan {

enum class Severity : std::uint8_t { error, warning, note };

/// What became of a walk: the worst of it.
enum class Verdict : std::uint8_t {
    fine,
    over_limit, ///< one of the plan's own `limits` is broken
    breaks_rule,
    late,            ///< a player met a level that was not shown
    not_as_expected, ///< an `expect` of the route failed
    over_budget,
    stuck,
};
/// All of them, in that order, and what they are called: "over budget".
inline constexpr std::array all_verdicts{
    Verdict::fine, Verdict::over_limit,      Verdict::breaks_rule,
    Verdict::late, Verdict::not_as_expected, Verdict::over_budget,
    Verdict::stuck};
constexpr std::string_view name_of(Verdict verdict) {
    constexpr std::array<std::string_view, all_verdicts.size()> names{
        "fine", "over a limit", "breaks a rule", "late", "not as expected", "over budget", "stuck"};
    return names.at(static_cast<std::size_t>(verdict));
}

/// Fields of a finding, as a set.
enum class Carries : std::uint8_t { nothing = 0, level = 1, device = 2, rule = 4, at = 8, to = 16 };
constexpr Carries operator|(Carries one, Carries other) {
    return static_cast<Carries>(static_cast<unsigned>(one) | static_cast<unsigned>(other));
}
constexpr bool includes(Carries all, Carries one) {
    return (static_cast<unsigned>(all) & static_cast<unsigned>(one)) != 0;
}

/// One finding about one place. `name` is one of `finding_kinds`; `message` is one sentence.
struct Finding {
    Severity severity = Severity::error;
    std::string name;
    Place place;
    std::string message;
    std::optional<Thing> about = std::nullopt; ///< what it is about, where `allow` could stand

    // The same for machines, so that nobody has to take the sentence apart; unset where it has
    // none.
    LevelId level = {};
    DeviceId device = {};
    RouteId route = {};
    MachineId machine = {}; ///< of the route's
    EditionId edition = {};
    RuleId rule = {};
    WaypointId at = {};                        ///< where a player stands
    std::optional<Micros> from = std::nullopt; ///< when it began, since a walk's time 0
    std::optional<Micros> to = std::nullopt;   ///< when it was over
};

inline bool is_error(const Finding& finding) {
    return finding.severity == Severity::error;
}
inline bool any_error(std::span<const Finding> findings) {
    return std::any_of(findings.begin(), findings.end(), is_error);
}

} // namespace hestrel::plan
