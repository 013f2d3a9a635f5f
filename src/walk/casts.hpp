#pragma once
// Which walks there are to do: each route on each device; of a session over several machines, on
// every device in each role that any device can play (docs/model.md section 11). And what a walk is
// called.

#include "walk/record.hpp"
#include "walk/walk.hpp"

#include <cstdint>
#include <functional>
#include <span>
#include <string>
#include <vector>

namespace hestrel::walk {

/// A route is played on several machines.
[[nodiscard]] inline bool is_session(const plan::Plan& plan, plan::RouteId route) {
    return plan.routes[route].machines.size() > 1;
}

/// Route after route. `devices` play what any device can; a machine of one device keeps it.
std::vector<Cast> casts(const plan::Plan& plan, const std::vector<plan::RouteId>& routes,
                        const std::vector<plan::DeviceId>& devices);
/// Walks all of them, so many at once; the records of each, one after another. Calls `done` after
/// each, from whichever thread.
std::vector<Record> walk_all(const plan::Plan& plan, const std::vector<Cast>& casts,
                             const Options& options, unsigned jobs,
                             const std::function<void()>& done = {});
/// The walk that a record is of.
Cast cast_of(const Record& record);

/// The same walk of another plan: what it is on the machine that a record is of.
Record walked_again(const plan::Plan& plan, const Record& record, Ground& ground);

/// The machine a record is of; null where all players share one.
const plan::Machine* machine_of(const plan::Plan& plan, const Record& record);

/// The records of each walk: one, or those of all machines of a session.
std::vector<std::span<const Record>> walks_in(std::span<const Record> records);
/// The records of each session among walks, one machine after another; walks of one machine are in
/// none.
std::vector<std::span<const Record>> sessions_in(std::span<const Record> records);
/// How much longer a transition's waits took on account of other machines; null where they did not.
const WaitedFor* waited_in(const Record& record, std::uint32_t transition);
/// The same of all transitions together.
plan::Micros waited_in(const Record& record);

/// Nobody sits at the machine that a record is of: it only keeps the game.
bool is_headless(const plan::Plan& plan, const Record& record);

/// "console+handheld".
std::string devices_text(const plan::Plan& plan, const std::vector<plan::DeviceId>& devices);
/// What a record is of, but for its route: "console"; of a session "host (console)", where any
/// device could play another role "host (console) with handheld".
std::string device_text(const plan::Plan& plan, const Record& record);

} // namespace hestrel::walk
