#pragma once
// The least machine: how slow reading and unpacking, and how small memory, may be on each device
// for a route to be fine still, each figure by itself, found by walking.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <cstdint>
#include <functional>
#include <optional>
#include <vector>

namespace hestrel::advise {

/// What is varied.
enum class Figure : std::uint8_t { read_rate, unpack_rate, memory };

/// One figure of one device for one route.
struct Least {
    plan::RouteId route;
    plan::DeviceId device;
    Figure figure = Figure::read_rate;
    std::int64_t now = 0; ///< MiB/s, or MiB, rounded down
    /// Every value from this on that was tried is fine; unset: none is, up to `most`.
    std::optional<std::int64_t> least;
    std::int64_t most = 0; ///< the largest value tried
    /// What breaks first below it, or (unset) at `most`: its verdict and first finding.
    walk::Verdict breaks = walk::Verdict::fine;
    std::optional<plan::Finding> first;
    std::size_t walks = 0; ///< that it took
};

/// In the order of routes, devices and figures; a device that stores content unpacked has no
/// unpack rate. `done` is told after each figure; may be empty.
std::vector<Least> least_machine(const plan::Plan& plan, const std::vector<plan::RouteId>& routes,
                                 const std::vector<plan::DeviceId>& devices, unsigned jobs,
                                 const std::function<void()>& done);

} // namespace hestrel::advise
