#pragma once
// What a trigger brings, and whether players come to it before anything else has.

#include "check/context.hpp"

#include <vector>

namespace hestrel::check {

/// Whether a list hides what it loads, or holds players meanwhile.
bool hides_loading(const plan::StepList& list);

/// What it means for `level` that players crossed a trigger that does not bring it.
ComingFrom::Crossed crossed_elsewhere(const Context& context, plan::TriggerId id,
                                      plan::LevelId level);

/// Whether players can find themselves at a waypoint while nothing has asked for `level`.
bool begin_without(const Context& context, plan::WaypointId waypoint, plan::LevelId level);

/// Whether players can cross this trigger while nothing has asked for the level before.
bool crossed_first(const Context& context, plan::TriggerId id, plan::LevelId level);

/// Levels that are shown where a trigger stands: its own, else those whose area it is in.
std::vector<plan::LevelId> there_at(const Context& context, plan::TriggerId id);

} // namespace hestrel::check
