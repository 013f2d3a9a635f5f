#pragma once
// What `order` works out, for commands that show it.

#include "command/progress.hpp"
#include "report/order_section.hpp"
#include "walk/record.hpp"

#include <vector>

namespace hestrel::command {

/// Of which editions and devices, and how.
struct Ordering {
    std::vector<plan::EditionId> editions;
    std::vector<plan::DeviceId> devices;
    bool keep_positions = true;
};

/// So many situations of an edition are looked at for what players can have there that no route
/// asks for. Breadth first: what takes few moves is among them.
constexpr std::size_t situations_for_order = 20'000;

/// Editions, parcels and transitions, worked out side by side; `records` are walks of the plan.
report::Orders order_all(const plan::Plan& plan, const Ordering& ordering,
                         const std::vector<walk::Record>& records, unsigned jobs,
                         Progress& progress);

} // namespace hestrel::command
