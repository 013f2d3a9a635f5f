#include "order/parcel_order.hpp"

#include "loading/catalogue.hpp"
#include "walk/delivery.hpp"

#include <algorithm>
#include <iterator>
#include <map>
#include <numeric>

namespace hestrel::order {

using loading::PieceId;
using plan::Bytes;
using plan::Micros;

namespace {

/// When each piece is asked for first in a walk.
using Asked = std::map<PieceId, Micros>;

Asked first_asked(const walk::Record& record) {
    Asked asked;
    for (const loading::LoadRecord& load : record.loads) {
        const auto [known, fresh] = asked.try_emplace(load.piece, load.asked);
        if (!fresh) known->second = std::min(known->second, load.asked);
    }
    return asked;
}

std::optional<Micros> needed_in(const Asked& asked, const std::vector<PieceId>& pieces) {
    std::optional<Micros> needed;
    for (const PieceId piece : pieces) {
        const auto found = asked.find(piece);
        if (found != asked.end() && (!needed || found->second < *needed)) needed = found->second;
    }
    return needed;
}

RouteDelivery along(const Asked& asked, const std::vector<walk::Delivery>& deliveries,
                    plan::ByteRate rate) {
    RouteDelivery route;
    Bytes upto;
    std::vector<std::pair<Bytes, Micros>> due;
    for (const walk::Delivery& delivery : deliveries) {
        ParcelArrival parcel{
            delivery.parcel, delivery.size, delivery.at, needed_in(asked, delivery.pieces), {}, {}};
        upto += delivery.size;
        if (parcel.needed) {
            parcel.late = std::max(Micros{}, parcel.arrives - *parcel.needed);
            due.emplace_back(upto, *parcel.needed);
        }
        // Play begins with the first parcel, needed or not.
        if (route.parcels.empty()) due.emplace_back(upto, Micros{});
        // Whoever waits for a parcel does everything after that so much later.
        route.waits = std::max(route.waits, parcel.late);
        route.parcels.push_back(parcel);
    }
    route.ahead = ahead_for(due, rate);
    return route;
}

/// How long players wait on the worst route.
Micros worst_wait(const std::vector<Asked>& routes, const std::vector<walk::Delivery>& deliveries) {
    Micros worst;
    for (const Asked& asked : routes) {
        for (const walk::Delivery& delivery : deliveries) {
            const auto needed = needed_in(asked, delivery.pieces);
            if (needed) worst = std::max(worst, delivery.at - *needed);
        }
    }
    return worst;
}

void fill_in_then(ParcelOrder& order, const std::vector<walk::Delivery>& proposed) {
    for (RouteDelivery& route : order.routes) {
        for (ParcelArrival& parcel : route.parcels) {
            for (const walk::Delivery& delivery : proposed) {
                if (delivery.parcel == parcel.parcel) parcel.then = delivery.at;
            }
        }
    }
}

} // namespace

const RouteDelivery& ParcelOrder::worst() const {
    return *std::max_element(routes.begin(), routes.end(), [](const auto& one, const auto& other) {
        return one.ahead < other.ahead;
    });
}

Bytes ahead_for(const std::vector<std::pair<Bytes, Micros>>& upto_and_needed, plan::ByteRate rate) {
    Bytes ahead;
    for (const auto& [upto, needed] : upto_and_needed) {
        const plan::Int128 arrived =
            static_cast<plan::Int128>(rate.per_second) * needed.count / 1'000'000;
        const plan::Int128 missing = upto.count - arrived;
        if (missing > ahead.count) ahead = {static_cast<std::int64_t>(missing)};
    }
    return ahead;
}

std::vector<ParcelOrder> parcels_of(const std::vector<ParcelOrder>& orders,
                                    plan::EditionId edition) {
    std::vector<ParcelOrder> of_edition;
    std::copy_if(orders.begin(), orders.end(), std::back_inserter(of_edition),
                 [&](const ParcelOrder& order) { return order.edition == edition; });
    return of_edition;
}

std::optional<ParcelOrder> order_parcels(const plan::Plan& plan, plan::EditionId edition,
                                         plan::DeviceId device,
                                         const std::vector<walk::Record>& records) {
    const auto& rate = plan.devices[device].download;
    const std::size_t count = plan.editions[edition].parcels.size();
    if (!rate || count == 0) return std::nullopt;
    ParcelOrder order{edition, device, {}, {}, {}, {}, true};
    const loading::Catalogue catalogue = loading::catalogue_for(plan, device);
    const auto today = walk::deliveries(plan, catalogue, edition, device);
    std::vector<Asked> routes;
    for (std::size_t i = 0; i < records.size(); ++i) {
        if (records[i].device != device || plan.routes[records[i].route].edition != edition)
            continue;
        routes.push_back(first_asked(records[i]));
        order.routes.push_back(along(routes.back(), today, *rate));
        order.routes.back().record = i;
    }
    if (routes.empty()) return std::nullopt;
    order.waits = worst_wait(routes, today);

    // By due date: of jobs done one after another that makes the latest as little late as can be.
    // Parcels share kits, so that a parcel's size depends on the order; few are tried in all
    // orders.
    std::vector<Micros> due(count, Micros::never());
    for (const Asked& asked : routes) {
        for (const walk::Delivery& delivery : today) {
            const auto needed = needed_in(asked, delivery.pieces);
            if (needed) due[delivery.parcel] = std::min(due[delivery.parcel], *needed);
        }
    }
    const auto wait_of = [&](const std::vector<std::size_t>& tried) {
        return worst_wait(routes, walk::deliveries(plan, catalogue, edition, device, tried));
    };
    std::vector<std::size_t> tried(count);
    std::iota(tried.begin(), tried.end(), 0);
    order.proposed = tried;
    order.waits_then = order.waits;
    const auto keep_if_better = [&](const std::vector<std::size_t>& other) {
        const Micros waits = wait_of(other);
        if (waits >= order.waits_then) return;
        order.waits_then = waits;
        order.proposed = other;
    };
    constexpr std::size_t most_tried = 8;
    order.exact = count <= most_tried;
    if (order.waits.count > 0 && order.exact) {
        do keep_if_better(tried);
        while (std::next_permutation(tried.begin() + 1, tried.end()));
    } else if (order.waits.count > 0) {
        std::stable_sort(tried.begin() + 1, tried.end(),
                         [&](std::size_t one, std::size_t other) { return due[one] < due[other]; });
        keep_if_better(tried);
    }
    fill_in_then(order, walk::deliveries(plan, catalogue, edition, device, order.proposed));
    return order;
}

} // namespace hestrel::order
