#pragma once
// When levels come and go in a walk: what a glTF animation is made of, beside where players are.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <vector>

namespace hestrel::exchange {

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
