#pragma once
// The budget figure: on every device, the most that any walk had in use, against the budget.

#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <vector>

namespace hestrel::figure {

/// One bar: the worst moment of all walks on a device, in total or in one pool.
struct BudgetBar {
    plan::DeviceId device;
    plan::PoolId pool; ///< unset: the total
    plan::Bytes budget;
    plan::Bytes most;
    std::size_t record = 0; ///< the walk in which it was
    plan::Micros at;        ///< and when
};

/// By device, the total and then each pool that has a budget; devices that were not walked on are
/// left out.
std::vector<BudgetBar> budget_bars(const plan::Plan& plan,
                                   const std::vector<walk::Record>& records);
constexpr std::size_t most_budget_bars = 48;

/// Where there are too many bars, totals only, and then the worst of them.
Figure budget_figure(const plan::Plan& plan, const std::vector<walk::Record>& records);

} // namespace hestrel::figure
