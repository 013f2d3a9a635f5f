#pragma once
// How soon players can have each level there, counted in moves (docs/model.md section 8).

#include "explore/explorer.hpp"

#include <map>

namespace hestrel::explore {

/// For each level that is there in a visited situation: the least number of moves to one.
std::map<plan::LevelId, std::uint32_t> moves_until_there(const Explorer& explorer);

} // namespace hestrel::explore
