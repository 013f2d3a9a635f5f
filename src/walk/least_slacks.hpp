#pragma once
// How close it gets: the least slack of what each list brings, over several walks.

#include "walk/record.hpp"

#include <map>
#include <span>
#include <utility>

namespace hestrel::walk {

struct LeastSlack {
    plan::Micros slack;
    std::size_t record = 0; ///< the first walk in which it was so
};
/// By whole list and level; of loads that players could outrun.
using LeastSlacks = std::map<std::pair<plan::ListId, plan::LevelId>, LeastSlack>;

LeastSlacks least_slacks(const plan::Plan& plan, std::span<const Record> records);

} // namespace hestrel::walk
