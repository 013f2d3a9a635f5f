#pragma once
// Findings that need no simulation (docs/model.md section 10, first row): one small function per
// rule, and a table that lists them.

#include "plan/finding.hpp"
#include "plan/plan.hpp"

#include <span>
#include <string_view>
#include <vector>

namespace hestrel::check {

struct Context;
class Report;

/// One rule: what it is called, how bad it is, what it means, and what to do about it.
struct Rule {
    std::string_view name;
    plan::Severity severity;
    std::string_view sentence; ///< what it finds
    std::string_view help;     ///< why that matters and what to do, with an example
    void (*look)(const Context& context, Report& report);
};

/// All rules, errors first, in the order of docs/model.md section 10.
std::span<const Rule> rules();

/// Every finding of every rule about a plan that was read without errors, in file order; what is
/// allowed is left out, and what is allowed for nothing is a finding itself.
std::vector<plan::Finding> check(const plan::Plan& plan);

} // namespace hestrel::check
