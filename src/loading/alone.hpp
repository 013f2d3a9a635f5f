#pragma once
// How long loading takes when nothing else is going on: the figure that a trigger's place and a
// wait's length are measured against.

#include "loading/catalogue.hpp"

#include <span>
#include <vector>

namespace hestrel::loading {

/// Levels to be asked for together, in a game where others are shown already.
struct LoadedAlone {
    std::vector<plan::LevelId> there; ///< shown already, with all that comes with them; sorted
    std::vector<plan::LevelId> asked; ///< in order of asking
    plan::Priority priority = plan::Priority::soon;
};

/// From the asking, at the start of a frame, until all that was asked for is ready, and is shown.
struct AloneTimes {
    plan::Micros ready;
    plan::Micros shown;
};

/// Loads them with a loader of their own; the work grows with what is asked for, not with the
/// catalogue. What is there already takes no time.
AloneTimes load_alone(const Catalogue& catalogue, const LoadedAlone& what);

/// No less than `load_alone(…).shown`, and much cheaper: as if everything were done one after
/// another.
plan::Micros load_alone_at_most(const Catalogue& catalogue, const LoadedAlone& what);

} // namespace hestrel::loading
