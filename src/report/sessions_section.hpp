#pragma once
// Sessions over several machines on the page: who waits for whom, and which device is worst in
// which role (docs/model.md section 11).

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <span>
#include <string>
#include <vector>

namespace hestrel::report {

/// `pictures`: the figure of each session among the records, as SVG; empty where it is not drawn.
/// Empty where there are no sessions.
std::string sessions_section(const plan::Plan& plan, std::span<const walk::Record> records,
                             const std::vector<std::string>& pictures);

} // namespace hestrel::report
