#pragma once
// What levels and kits were over a walk, stretch by stretch: the record's events, read per piece.

#include "walk/record.hpp"

#include <vector>

namespace hestrel::walk {

/// Of a kit, resident is `ready`. A level whose own piece is resident while a kit or its parent is
/// missing is `queued`.
using loading::LevelCondition;

/// One condition for a while, never `absent` and never empty.
struct Stretch {
    LevelCondition condition = LevelCondition::absent;
    plan::Micros from;
    plan::Micros to;
};

/// By piece (levels, then kits): its stretches in order of time.
using Timeline = plan::Table<loading::PieceId, std::vector<Stretch>>;

Timeline timeline_of(const plan::Plan& plan, const Record& record);

} // namespace hestrel::walk
