#pragma once
// Simulates one route on one device, in time (docs/model.md section 7).

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <vector>

namespace hestrel::walk {

/// How a walk is to be done.
struct Options {
    bool delivery = false; ///< parcels arrive while the route is played (section 9)
    std::optional<flow::KeptStore> saved = std::nullopt; ///< the saved store it begins with
    bool stand = false;                     ///< tell how everything stands once the routes are done
    std::size_t most_transitions = 250'000; ///< with more it goes round in a circle: stuck
};

class Ground;

/// Walks a route. The plan must have been read without errors. The same plan, route, device and
/// options give the same record, on whichever ground that fits the plan (walk/ground.hpp).
Record walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
            const Options& options = {});
Record walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
            const Options& options, Ground& ground);

/// One walk to do.
struct Cast {
    plan::RouteId route;
    std::vector<plan::DeviceId> devices; ///< one for each machine; one where all players share it
    bool operator==(const Cast&) const = default;
};

/// The same of a session over several machines (section 11): a record of each machine, in the order
/// written; of one where all players share it.
std::vector<Record> walk(const plan::Plan& plan, const Cast& cast, const Options& options,
                         Ground& ground);

} // namespace hestrel::walk
