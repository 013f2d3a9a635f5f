#pragma once
// Findings that need no simulation (docs/model.md section 10, first row): one small function per
// rule, and a table that lists them.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "plan/rule_text.hpp"

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
struct Rule : plan::RuleText {
    Evidence evidence = Evidence::presence;
    void (*look)(const study::Study& study,
                 Report& report) = nullptr; ///< null: found by the reader, or by check
};

/// All rules, in the order of docs/model.md section 10: errors, then warnings.
std::span<const Rule> rules();

/// Names of findings that a walk or exploring makes; `allow` takes them too.
std::span<const std::string_view> names_found_elsewhere();

/// Every finding about a plan, in file order: `errors`, which the reader found, and those of every
/// rule. What is allowed is left out, and what is allowed for nothing is a finding itself. Where
/// there are errors, rules that argue from what is missing are not asked, and nothing is said of
/// things that could not be read whole.
std::vector<plan::Finding> check(const plan::Plan& plan,
                                 std::span<const plan::Finding> errors = {});

} // namespace hestrel::check
