#pragma once
// Findings for people and for build servers.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "plan/rule_text.hpp"

#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::tables {

/// "2 errors, 1 warning", or "nothing found".
std::string count_text(const std::vector<plan::Finding>& findings);

/// A line of a file and a caret below a column: what compilers print under a message. Tabs are kept
/// above the caret; empty where the place is no line of the text.
std::string source_excerpt(std::string_view text, plan::Place place);

/// `{"findings": […]}` with name, severity, file, line, column and message.
std::string findings_json(const plan::Plan& plan, const std::vector<plan::Finding>& findings);

/// SARIF 2.1.0: one run, with its rules and a region for each result.
std::string findings_sarif(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                           const std::vector<plan::RuleText>& rules, std::string_view version);

/// JUnit XML: one test case for each rule, failed by its errors and warnings.
std::string findings_junit(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                           const std::vector<plan::RuleText>& rules);

} // namespace hestrel::tables
