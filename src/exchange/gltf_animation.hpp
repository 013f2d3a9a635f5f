#pragma once
// A walk as moments at which something moves, comes or goes: what a glTF animation is made of.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <span>
#include <vector>

namespace hestrel::exchange {

/// Where a player is at a moment; until the next it goes straight there.
struct Keyframe {
    plan::Micros at;
    plan::Vec3 place{};
    plan::WorldId world; ///< from then on; unset: it is nowhere
};

/// One player's places in order of time, the first at 0. `least` is how far apart two moments are
/// that a reader can tell: whoever is placed elsewhere gets there within that.
std::vector<Keyframe> places_of(const plan::Plan& plan, std::span<const walk::Record> walk,
                                std::uint32_t player, plan::Micros least);

/// When a level is there, and when it is shown as well.
struct Presence {
    enum class Kind : std::uint8_t { absent, loaded, shown };
    plan::Micros from;
    Kind kind = Kind::absent;
};
/// By level, in order of time: each holds until the next. The first is at 0.
plan::Table<plan::LevelId, std::vector<Presence>> presences_of(const plan::Plan& plan,
                                                               const walk::Record& record);

} // namespace hestrel::exchange
