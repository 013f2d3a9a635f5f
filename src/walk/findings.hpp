#pragma once
// What a walk found wrong or suspicious (docs/findings.md, "Walks"), and its verdict.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <vector>

namespace hestrel::walk {

/// All findings of one walk, each with when it happened, in order of time; what the plan allows is
/// left out.
std::vector<plan::Finding> findings(const plan::Plan& plan, const Record& record);

/// The worst that is to be said about a walk with these findings.
Verdict verdict_of(const std::vector<plan::Finding>& findings);

/// Pieces released and read again within this time are thrashed.
constexpr plan::Micros soon_read_again = plan::seconds(30);

} // namespace hestrel::walk
