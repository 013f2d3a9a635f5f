#pragma once
// What the page says of a walk, a slack or a share of the budget.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <string>

namespace hestrel::report {

/// The peak's share of the device's budget: "93%"; "-" where the budget is 0.
std::string share_of_budget(const plan::Plan& plan, const walk::Record& record);
/// With its sign: "+1.20 s"; "-" where there is none.
std::string slack_text(const std::optional<plan::Micros>& slack);
/// What a time sorts by: its microseconds; empty where there is none.
std::string sort_key(const std::optional<plan::Micros>& time);
/// What went on in one walk, in a sentence or two.
std::string summary_of(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::report
