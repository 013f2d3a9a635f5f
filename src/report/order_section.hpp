#pragma once
// The part of the page about build order.

#include "order/edition_order.hpp"
#include "order/parcel_order.hpp"
#include "order/transition_order.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <vector>

namespace hestrel::report {

/// All that `order` works out, and its figures as SVG, one for each edition that has any.
struct Orders {
    std::vector<order::EditionOrder> editions;
    std::vector<order::ParcelOrder> parcels;
    std::vector<order::TransitionOrder> transitions;
    std::vector<std::pair<plan::EditionId, std::string>> figures;
};

/// As HTML; empty where the plan has no editions.
std::string order_section(const plan::Plan& plan, const std::vector<walk::Record>& records,
                          const Orders& orders);

} // namespace hestrel::report
