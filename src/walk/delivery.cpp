#include "walk/delivery.hpp"

#include "plan/level_tree.hpp"

#include <numeric>

namespace hestrel::walk {

using loading::PieceId;
using plan::LevelId;

std::vector<Delivery> deliveries(const plan::Plan& plan, const loading::Catalogue& catalogue,
                                 plan::EditionId edition, plan::DeviceId device) {
    if (!edition) return {};
    std::vector<std::size_t> order(plan.editions[edition].parcels.size());
    std::iota(order.begin(), order.end(), 0);
    return deliveries(plan, catalogue, edition, device, order);
}

std::vector<Delivery> deliveries(const plan::Plan& plan, const loading::Catalogue& catalogue,
                                 plan::EditionId edition, plan::DeviceId device,
                                 std::span<const std::size_t> order) {
    std::vector<Delivery> parcels;
    const auto& rate = plan.devices[device].download;
    if (!edition || !rate) return parcels;
    std::vector<bool> packed(catalogue.pieces.size());
    plan::Bytes after_the_first;
    for (const std::size_t number : order) {
        Delivery delivery;
        delivery.parcel = number;
        const auto add = [&](PieceId piece) {
            if (packed[piece.value]) return;
            packed[piece.value] = true;
            delivery.pieces.push_back(piece);
            delivery.size += catalogue.pieces[piece].packed;
        };
        for (const LevelId named : plan.editions[edition].parcels[number].levels) {
            // A level ships with its ancestors and all below it.
            std::vector<LevelId> family = plan::ancestors_of(catalogue.tree, named);
            const std::vector<LevelId> below = plan::subtree_of(catalogue.tree, named);
            family.insert(family.end(), below.begin(), below.end());
            for (const LevelId level : family) catalogue.for_pieces(level, add);
        }
        if (!parcels.empty()) after_the_first += delivery.size;
        delivery.at = plan::duration_of(after_the_first, *rate);
        parcels.push_back(std::move(delivery));
    }
    return parcels;
}

} // namespace hestrel::walk
