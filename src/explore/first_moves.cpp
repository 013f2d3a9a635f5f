#include "explore/first_moves.hpp"

namespace hestrel::explore {

std::map<plan::LevelId, std::uint32_t> moves_until_there(const Explorer& explorer) {
    std::map<plan::LevelId, std::uint32_t> moves;
    // Breadth first: a context that was met first has the fewest moves.
    for (const Context& context : explorer.contexts()) {
        const auto way = static_cast<std::uint32_t>(explorer.trace_to(context.first).size() -
                                                    1); // the boot is none
        for (const LevelThere& there : explorer.level_set(context.levels)) {
            const auto [known, fresh] = moves.try_emplace(there.level, way);
            if (!fresh && way < known->second) known->second = way;
        }
    }
    return moves;
}

} // namespace hestrel::explore
