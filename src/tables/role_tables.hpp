#pragma once
// Which device is worst in which role of a session, as tables.

#include "plan/plan.hpp"
#include "walk/roles.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// "late, guest waits 2.24 s" of one session.
std::string role_outcome_text(const plan::Plan& plan, const walk::RoleMatrix& matrix,
                              const walk::RoleOutcome& outcome);
/// "host \ guest", "host".
std::string roles_text(const plan::Plan& plan, const walk::RoleMatrix& matrix);
/// The device that plays a column's role; where there is only one role, nothing.
std::string column_text(const plan::Plan& plan, const walk::RoleMatrix& matrix, std::size_t column);

/// All matrices in rows: which devices play, and what came of it.
std::string roles_csv(const plan::Plan& plan, const std::vector<walk::RoleMatrix>& matrices);

} // namespace hestrel::tables
