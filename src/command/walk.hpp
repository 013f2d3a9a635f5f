#pragma once
// What `walk` does, for commands that walk too.

#include "command/options.hpp"
#include "command/progress.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"
#include "walk/walk.hpp"

#include <string>
#include <vector>

namespace hestrel::command {

/// Walks every route on every device, routes in the outer loop.
std::vector<walk::Record> walk_all(const plan::Plan& plan, const std::vector<plan::RouteId>& routes,
                                   const std::vector<plan::DeviceId>& devices,
                                   const walk::Options& walking, unsigned jobs, Progress& progress);

/// A session over several machines takes no parcels: those are left out, which is said; throws
/// UsageError where one was named, or nothing else is left.
void leave_out_sessions(const plan::Plan& plan, const CommonOptions& options,
                        std::vector<plan::RouteId>& routes);
/// Writes the tables of a walk into its folder.
void write_walk(const plan::Plan& plan, const walk::Record& record, Output& output);

/// Throws UsageError where there is nothing to walk.
void require_walks(const CommonOptions& options, const std::vector<plan::RouteId>& routes,
                   const std::vector<plan::DeviceId>& devices);

/// Whether every walk's verdict is fine.
bool all_fine(const std::vector<walk::Record>& records);

} // namespace hestrel::command
