#pragma once
// What exploring came to see before it was cut off, by place and level.

#include "explore/explorer.hpp"
#include "plan/plan.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// How much was seen of one place or level.
struct Covered {
    plan::WaypointId at;          ///< set: a place
    plan::LevelId level;          ///< set: a level
    std::uint64_t situations = 0; ///< met, with a player there, or the level loaded
    std::uint64_t looked_at = 0;  ///< of those, the ones of which all moves were made
};
/// All places and then all levels that ship in the edition, in plan order.
std::vector<Covered> covered(const explore::Explorer& explorer);

/// `kind,name,situations,looked_at`: kind is `place` or `level`.
std::string covered_csv(const plan::Plan& plan, const std::vector<Covered>& rows);
/// Which places nobody came to, and which levels nobody loaded: a few lines.
std::string covered_text(const plan::Plan& plan, const std::vector<Covered>& rows);

} // namespace hestrel::tables
