#pragma once
// What many plays say together: of each load of each transition how long it took, by the plan and
// in the game.

#include "verify/verify.hpp"

#include <optional>
#include <vector>

namespace hestrel::verify {

/// All loads of one level by one cause.
struct LoadSpread {
    plan::ListId list;  ///< that asked for it
    plan::LevelId near; ///< that came near; neither is set: the boot
    plan::LevelId level;
    std::size_t loads = 0;   ///< that both the plan and the logs have
    std::size_t plays = 0;   ///< in so many plays
    std::size_t late = 0;    ///< later than planned
    std::size_t missing = 0; ///< that the logs do not have
    plan::Micros planned;    ///< how long the longest takes by the plan, from its transition on
    /// How long they took, from their transition on; unset: none was measured.
    std::optional<plan::Micros> least, median, most;
    std::size_t worst_play = 0; ///< that of `most`
};

/// By cause, in plan order, and level.
std::vector<LoadSpread> over_all(const std::vector<PlayResult>& plays);

/// Of one play, in figures.
struct PlaySummary {
    std::size_t firings = 0;   ///< and presses, and levels that came near or went far
    std::size_t unplanned = 0; ///< of those
    std::size_t loads = 0;     ///< that both have
    std::size_t later = 0, earlier = 0, missing = 0;
    std::size_t by_itself = 0;            ///< loads and unloads that the plan does not have
    std::optional<plan::Micros> latest;   ///< by how much the latest load is later than planned
    std::optional<plan::Bytes> most_over; ///< the most by which memory is over what is planned
    std::size_t hitches = 0;              ///< that the log tells
    std::size_t planned_hitches = 0;
};
PlaySummary summary_of(const Log& log, const PlayResult& play);

} // namespace hestrel::verify
