#pragma once
// Sessions over several machines on the page: who waits for whom, and which device is worst in
// which role (docs/model.md section 11).

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <span>
#include <string>
#include <vector>

namespace hestrel::report {

/// Which sessions are drawn: of each route the one that went worst for any of its machines.
std::vector<std::size_t> drawn_sessions(std::span<const walk::Record> records);

/// `pictures`: the figure of each session among the records, as SVG; empty where it is not drawn.
/// Empty where there are no sessions.
std::string sessions_section(const plan::Plan& plan, std::span<const walk::Record> records,
                             const std::vector<std::string>& pictures);

} // namespace hestrel::report
