#pragma once
// What is many-sided, key_of as numbers: two are the same exactly where their numbers are.

#include "explore/interned.hpp"
#include "explore/situation.hpp"

namespace hestrel::explore {

[[nodiscard]] Key key_of(const std::vector<LevelThere>& levels);
[[nodiscard]] Key key_of(const flow::State& settled);

} // namespace hestrel::explore
