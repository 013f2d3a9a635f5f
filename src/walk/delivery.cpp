#include "walk/delivery.hpp"

#include "plan/level_tree.hpp"

namespace hestrel::walk {

using loading::PieceId;
using plan::LevelId;

std::vector<Delivery> deliveries(const plan::Plan& plan, const loading::Catalogue& catalogue,
                                 plan::EditionId edition, plan::DeviceId device) {
    std::vector<Delivery> parcels;
    const auto& rate = plan.devices[device].download;
    if (!edition || !rate) return parcels;
    std::vector<bool> packed(catalogue.pieces.size());
    plan::Bytes after_the_first;
    for (const plan::Parcel& parcel : plan.editions[edition].parcels) {
        Delivery delivery;
        delivery.parcel = parcels.size();
        const auto add = [&](PieceId piece) {
            if (packed[piece.value]) return;
            packed[piece.value] = true;
            delivery.pieces.push_back(piece);
            delivery.size += catalogue.pieces[piece].packed;
        };
        for (const LevelId named : parcel.levels) {
            // A level ships with its ancestors and all below it.
            std::vector<LevelId> family = plan::ancestors_of(catalogue.tree, named);
            const std::vector<LevelId> below = plan::subtree_of(catalogue.tree, named);
            family.insert(family.end(), below.begin(), below.end());
            for (const LevelId level : family) {
                for (const PieceId kit : catalogue.levels[level].kits) add(kit);
                add(catalogue.piece_of(level));
            }
        }
        if (!parcels.empty()) after_the_first += delivery.size;
        delivery.at = plan::duration_of(after_the_first, *rate);
        parcels.push_back(std::move(delivery));
    }
    return parcels;
}

} // namespace hestrel::walk
