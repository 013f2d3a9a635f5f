#pragma once
// What `walk` does, for commands that walk too.

#include "command/options.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"
#include "walk/walk.hpp"

#include <string>
#include <vector>

namespace hestrel::command {

/// The folder of one walk's files below the command's own, with a slash at its end.
std::string walk_folder(const plan::Plan& plan, const walk::Record& record);

/// Walks every route on every device, routes in the outer loop.
std::vector<walk::Record> walk_all(const plan::Plan& plan, const std::vector<plan::RouteId>& routes,
                                   const std::vector<plan::DeviceId>& devices,
                                   const walk::Options& walking, unsigned jobs);

/// Throws UsageError where there is nothing to walk.
void require_walks(const CommonOptions& options, const std::vector<plan::RouteId>& routes,
                   const std::vector<plan::DeviceId>& devices);

/// Whether every walk's verdict is fine.
bool all_fine(const std::vector<walk::Record>& records);

/// What goes to standard output.
struct Printing {
    bool details = false; ///< transition by transition, not in tables
    std::string findings; ///< sarif, junit or json; empty: for people
};

/// Writes the files of walks and prints what there is to say; the exit code.
int report_walks(const plan::Plan& plan, const std::vector<walk::Record>& records,
                 const CommonOptions& options, const Printing& printing);

} // namespace hestrel::command
