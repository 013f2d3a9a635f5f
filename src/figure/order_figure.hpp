#pragma once
// The order figure: when each parcel arrives against when it is first needed.

#include "figure/sheet.hpp"
#include "order/parcel_order.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <vector>

namespace hestrel::figure {

/// Of one edition, device by device, along the route on which most must be there before play
/// begins. `orders` is not empty, and all of one edition.
Figure order_figure(const plan::Plan& plan, const std::vector<order::ParcelOrder>& orders,
                    const std::vector<walk::Record>& records);

} // namespace hestrel::figure
