#pragma once
// What the page's replay is drawn from: the plan's map and the records of walks as data, so that a
// script can say how everything stands at any moment without simulating anything.
//
// JSON, one text for the plan and one for each walk. Times are whole microseconds, memory is bytes,
// places are metres. Memory's times and sizes are differences from one to the next. The order of
// what is in a list is told where it is written (replay.cpp), and read by replay_data.js.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <span>
#include <string>

namespace hestrel::report {

/// Levels, kits, what stands on the map, and the words and colours that the replay uses.
std::string replay_plan(const plan::Plan& plan);

/// One walk, by the records of all its machines.
std::string replay_walk(const plan::Plan& plan, std::span<const walk::Record> machines);

/// What a walk is called on the page: "first-round--handheld".
std::string walk_id(const plan::Plan& plan, const walk::Record& record);

/// Where on the page it is seen: "#first-round--handheld@12.345", the walk at a moment (seconds).
std::string replay_address(const plan::Plan& plan, const walk::Record& record,
                           const std::optional<plan::Micros>& at = std::nullopt);

} // namespace hestrel::report
