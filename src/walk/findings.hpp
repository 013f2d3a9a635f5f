#pragma once
// What a walk found wrong or suspicious (docs/model.md section 10, second row), and its verdict.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "plan/rule_text.hpp"
#include "walk/record.hpp"

#include <span>
#include <string_view>
#include <vector>

namespace hestrel::walk {

/// What the names of a walk's findings mean; errors first.
std::span<const plan::RuleText> rules();

/// All findings of one walk, each with when it happened, in order of time; what the plan allows is
/// left out.
std::vector<plan::Finding> findings(const plan::Plan& plan, const Record& record);

/// What a finding of this name makes of a walk.
Verdict verdict_on(std::string_view name);

/// The worst that is to be said about a walk with these findings.
Verdict verdict_of(const std::vector<plan::Finding>& findings);

/// Pieces released and read again within this time are thrashed.
constexpr plan::Micros soon_read_again = plan::seconds(30);

} // namespace hestrel::walk
