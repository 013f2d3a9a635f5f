#pragma once
// Findings that need no simulation (docs/findings.md, "The plan alone"): one small function per
// rule, and a table that lists them.

#include "plan/finding.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <span>
#include <string_view>
#include <vector>

namespace hestrel::study {
struct Study;
}

namespace hestrel::check {

class Report;

/// What a rule argues from: what stands in the plan, or what is missing from it. A plan of which a
/// part could not be read is not accused of what may stand in that part.
enum class Evidence : std::uint8_t { presence, absence };

/// One rule, and what looks for it.
struct Rule {
    std::string_view name; ///< one of `plan::finding_kinds`
    Evidence evidence = Evidence::presence;
    void (*look)(const study::Study& study, Report& report) = nullptr;
};

/// All rules, in the order of docs/findings.md: errors, then warnings.
std::span<const Rule> rules();

/// Every finding about a plan, in file order: `errors`, which the reader found, and those of every
/// rule. What is allowed is left out, and what is allowed for nothing is a finding itself. Where
/// there are errors, rules that argue from what is missing are not asked, and nothing is said of
/// things that could not be read whole.
std::vector<plan::Finding> check(const plan::Plan& plan,
                                 std::span<const plan::Finding> errors = {});

} // namespace hestrel::check
