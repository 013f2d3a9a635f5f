#pragma once
// Fixed waits that stand where a wait for what the list loads would be.

#include "plan/plan.hpp"

#include <cstddef>
#include <vector>

namespace hestrel::check {

/// One of them, with what it waits for.
struct FixedWait {
    const plan::Step* step = nullptr; ///< the last, where several follow each other
    std::size_t index = 0;            ///< of that step in its list
    plan::Micros time;                ///< of all of them together
    bool shown = false;               ///< what is loaded was to be shown too
    std::vector<plan::LevelId> levels;
};

/// In the order of their steps. A wait that nothing behind it relies on is none.
std::vector<FixedWait> fixed_waits(const plan::StepList& list);

} // namespace hestrel::check
