#pragma once
// What `walk` prints for people.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <vector>

namespace hestrel::command {

/// One row per route and device, worst first.
std::string routes_table(const plan::Plan& plan, const std::vector<walk::Record>& records);

/// The loads with the least slack, one row per cause and level, a column for each device; the worst
/// over all routes in each. Empty where nothing that is loaded is needed.
std::string transitions_table(const plan::Plan& plan, const std::vector<walk::Record>& records);

/// What is wrong with walks, as a compiler prints it, worst first, each place and name once.
/// Which device is worst in which role of a session; empty where no device is any.
std::string roles_tables(const plan::Plan& plan, const std::vector<walk::Record>& records);
/// What holds where a route says `expect: now`, as steps to put there.
std::string kept_lines(const plan::Plan& plan, const std::vector<walk::Record>& records);
std::string problems_text(const plan::Plan& plan, const std::vector<walk::Record>& records);

/// One walk: its transitions in order, each with its cause, the order in which kits and levels were
/// read, attached and shown, with times, slack, peak and what it reset.
std::string details_text(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::command
