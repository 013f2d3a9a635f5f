#pragma once
// Parcels that arrive while the game is played: which come too late, how much must be there before
// play begins, and the order in which players wait least (docs/model.md section 9).

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <vector>

namespace hestrel::order {

/// A parcel along one route, where nobody has waited yet.
struct ParcelArrival {
    std::size_t parcel = 0;             ///< of the edition
    plan::Bytes size;                   ///< that no earlier parcel has
    plan::Micros arrives;               ///< time 0 is when the first one is there
    std::optional<plan::Micros> needed; ///< when anything in it is asked for first; unset: never
    plan::Micros late;                  ///< by how much it arrives after that; 0: in time
    plan::Micros then;                  ///< when it arrives in the proposed order
};

/// Delivery along one route on one device.
struct RouteDelivery {
    std::size_t record = 0;
    std::vector<ParcelArrival> parcels; ///< in order of arrival
    plan::Micros waits; ///< how long players wait in all: the most that any parcel is late
    plan::Bytes ahead;  ///< how much must be there before play begins so that nobody waits
};

/// An edition on one device.
struct ParcelOrder {
    plan::EditionId edition;
    plan::DeviceId device;
    std::vector<RouteDelivery> routes;
    std::vector<std::size_t> proposed; ///< the parcels in the order in which players wait least
    plan::Micros waits;                ///< on the worst route, as the plan has it
    plan::Micros waits_then;           ///< and in the proposed order
    bool exact = true; ///< no order is better; else found by due dates alone (over 8 parcels)
    /// The route on which most must be there before play begins.
    [[nodiscard]] const RouteDelivery& worst() const;
};

/// How much must be there so that nobody waits: of parcels that are complete once `upto[i]` has
/// arrived and are needed at `needed[i]`, the most of upto[i] - rate * needed[i].
plan::Bytes ahead_for(const std::vector<std::pair<plan::Bytes, plan::Micros>>& upto_and_needed,
                      plan::ByteRate rate);

/// Unset where the edition has no parcels, the device downloads nothing, or no record plays the
/// edition on it. `records` are walks without delivery. The first parcel stays the first.
std::optional<ParcelOrder> order_parcels(const plan::Plan& plan, plan::EditionId edition,
                                         plan::DeviceId device,
                                         const std::vector<walk::Record>& records);

/// Those of one edition.
std::vector<ParcelOrder> parcels_of(const std::vector<ParcelOrder>& orders,
                                    plan::EditionId edition);

} // namespace hestrel::order
