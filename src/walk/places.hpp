#pragma once
// Where players are over a walk.

#include "walk/record.hpp"

#include <span>
#include <vector>

namespace hestrel::walk {

/// Where a player is at a moment; until the next it goes straight there.
struct Keyframe {
    plan::Micros at;
    plan::Vec3 place{};  ///< metres
    plan::WorldId world; ///< from then on; unset: it is nowhere
};

/// One player's places in order of time, the first at 0. `walk` is the records of all machines.
/// `least` is how far apart two moments are that a reader can tell: whoever is placed elsewhere
/// gets there within that.
std::vector<Keyframe> places_of(const plan::Plan& plan, std::span<const Record> walk,
                                std::uint32_t player, plan::Micros least = plan::Micros{1});

/// Where a player with these places is at a moment, between two of them as well.
Keyframe place_at(std::span<const Keyframe> places, plan::Micros moment);

/// Where a player is on a track at a moment.
plan::Vec3 place_on(const Track& track, plan::Micros moment);

} // namespace hestrel::walk
