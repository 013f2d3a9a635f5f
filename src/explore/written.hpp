#pragma once
// What is many-sided, written as numbers: two are the same exactly where their numbers are.

#include "explore/intern.hpp"
#include "explore/situation.hpp"

namespace hestrel::explore {

[[nodiscard]] Written written(const std::vector<LevelThere>& levels);
[[nodiscard]] Written written(const flow::Settled& settled);

} // namespace hestrel::explore
