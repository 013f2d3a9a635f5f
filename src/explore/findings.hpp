#pragma once
// What exploring found wrong or suspicious (docs/findings.md, "Exploring"), each with the shortest
// way to it.

#include "explore/explorer.hpp"
#include "plan/finding.hpp"

#include <optional>
#include <vector>

namespace hestrel::explore {

/// A finding and how to get there.
struct Found {
    plan::Finding finding;
    std::optional<Way> way; ///< moves; unset: it is about what never happens
};

/// Memory of settled situations, or during moves, in one budget on one device; the most of each
/// levels and veils.
struct WorstUse {
    std::size_t device = 0; ///< of the options
    plan::PoolId pool;      ///< unset: in total
    bool during = false;    ///< a move: no unhurried walk of it uses more
    plan::Bytes used;
    plan::Bytes budget;
    std::uint32_t situation = 0;
    Way way;
    const Effect* last = nullptr; ///< of its last move; null: nothing is known of it
};
/// The most work of a frame on a device, no veil up.
struct WorstFrame {
    std::size_t device = 0; ///< of the options
    bool during = false;    ///< a move: no unhurried walk of it has a longer one
    plan::Micros work;
    plan::Micros most; ///< that there may be
    std::vector<std::pair<plan::LevelId, plan::Micros>>
        levels; ///< shown then; what costs most first
    std::uint32_t situation = 0;
    Way way;
    const Effect* last = nullptr; ///< of its last move; null: nothing is known of it
};
/// The first and worst of each device, settled and during a move; none where nothing costs time.
std::vector<WorstFrame> worst_frames(const Explorer& explorer);

/// The worst ten of each device and budget, settled ones first, most of the budget first.
std::vector<WorstUse> worst_memory(const Explorer& explorer);

/// All of them, errors first; what the plan allows is left out. `worst` is what `worst_memory`
/// says. Where exploring was cut off, nothing is said of what never happens or can't be got out of.
std::vector<Found> findings(Explorer& explorer, const std::vector<WorstUse>& worst,
                            const std::vector<WorstFrame>& frames);

struct Explored;
/// Of hurried players, of whom all but this is known: what is not among `unhurried` already, memory
/// and frames where they are more.
std::vector<Found> hurried_findings(const Explored& hurried, const Explored& unhurried);

} // namespace hestrel::explore
