#pragma once
// Findings for people and for build servers.

#include "plan/finding_kinds.hpp"
#include "plan/plan.hpp"
#include "source/json.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::tables {

/// "2 errors, 1 warning", or "nothing found".
std::string count_text(const std::vector<plan::Finding>& findings);

/// A line of a file and a caret below a column: what compilers print under a message. Tabs are kept
/// above the caret; empty where the place is no line of the text.
std::string source_excerpt(std::string_view text, plan::Place place);

/// One finding as JSON: name, severity, file, line, column, message, and those of level, device,
/// route, edition, rule, place (a waypoint), from_s and to_s that it carries.
source::Json finding_json(const plan::Plan& plan, const plan::Finding& finding);

/// `{"plan": …, "findings": […]}`.
std::string findings_json(const plan::Plan& plan, const std::vector<plan::Finding>& findings);

/// SARIF 2.1.0: one run, with a rule for each kind of finding that `by` makes or that is there, and
/// a region for each result.
std::string findings_sarif(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                           plan::FoundBy by, std::string_view version);

/// JUnit XML: one test case for each of those kinds, failed by its errors and warnings.
std::string findings_junit(const plan::Plan& plan, const std::vector<plan::Finding>& findings,
                           plan::FoundBy by);

} // namespace hestrel::tables
