#pragma once
// A game that is downloaded while it is played: when each parcel arrives (docs/model.md section 9).

#include "loading/catalogue.hpp"
#include "plan/plan.hpp"

#include <span>
#include <vector>

namespace hestrel::walk {

/// One parcel of an edition on one device.
struct Delivery {
    std::size_t parcel = 0; ///< of the edition
    plan::Micros at;        ///< when all of it is there; time 0 is when the first one is
    plan::Bytes size;
    std::vector<loading::PieceId> pieces; ///< that no earlier parcel has
};

/// All parcels in order; none where the edition has none, or nothing is downloaded to the device.
std::vector<Delivery> deliveries(const plan::Plan& plan, const loading::Catalogue& catalogue,
                                 plan::EditionId edition, plan::DeviceId device);

/// The same, where the edition's parcels arrive in another order.
std::vector<Delivery> deliveries(const plan::Plan& plan, const loading::Catalogue& catalogue,
                                 plan::EditionId edition, plan::DeviceId device,
                                 std::span<const std::size_t> order);

} // namespace hestrel::walk
