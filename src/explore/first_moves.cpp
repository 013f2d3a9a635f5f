#include "explore/first_moves.hpp"

namespace hestrel::explore {

std::map<plan::LevelId, std::uint32_t> moves_until_there(const Explorer& explorer) {
    std::map<plan::LevelId, std::uint32_t> moves;
    // Breadth first: a set of levels that was met first has the fewest moves.
    std::vector<bool> known(explorer.level_sets().size());
    for (std::uint32_t situation = 0; situation < explorer.visited(); ++situation) {
        const std::uint32_t set = explorer.level_number(explorer.row(situation));
        if (known[set]) continue;
        known[set] = true;
        std::optional<std::uint32_t> way;
        explorer.level_sets().for_levels(set, [&](plan::LevelId level, std::uint32_t) {
            if (moves.contains(level)) return;
            if (!way) way = static_cast<std::uint32_t>(explorer.depth_of(situation));
            moves.emplace(level, *way);
        });
    }
    return moves;
}

} // namespace hestrel::explore
