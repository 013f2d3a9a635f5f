#pragma once
// Simulating one route on one device, in time (docs/model.md section 7).

#include "plan/plan.hpp"
#include "walk/record.hpp"

namespace hestrel::walk {

/// Walks `route` on `device`. The same plan, route and device give the same record.
///
///     const auto plan = …;
///     const Record record = walk(plan, RouteId{0}, DeviceId{0});
///     record.stuck.has_value();   // it could not go on
Record walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device);

} // namespace hestrel::walk
