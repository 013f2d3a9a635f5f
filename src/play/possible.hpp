#pragma once
// What can be done next in a game that is played.

#include "play/session.hpp"

#include <optional>
#include <vector>

namespace hestrel::play {

/// One thing that can be done: a step, with what there is to say of it.
struct Possible {
    plan::RouteStep step; ///< until: without its condition, which `shown` says
    double metres = 0;    ///< go: how long the way is
    plan::Micros time;    ///< go: how long it takes; pause, until: how long that lasts
    plan::GateId gate;    ///< go: closed, so that the player waits at it
    plan::WordId instead; ///< pick: of this branch, which was taken
    plan::LevelId shown;  ///< until: this is
    bool settles = false; ///< pause: until all has settled
};

/// In a fixed order: along each path from where the player stands, each item it can press, other
/// branches of what was chosen last, waiting for what is on its way, launching again once the
/// session has ended.
std::vector<Possible> possible(const Session& session);

/// When a level that is on its way will be shown, nobody doing anything else; unset: never.
std::optional<plan::Micros> shown_at(const Session& session, plan::LevelId level);
/// The same, when it is ready.
std::optional<plan::Micros> ready_at(const Session& session, plan::LevelId level);
/// When nothing goes on any more; unset: nothing does now.
std::optional<plan::Micros> settled_at(const Session& session);

} // namespace hestrel::play
