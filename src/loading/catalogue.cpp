#include "loading/catalogue.hpp"

#include <algorithm>

namespace hestrel::loading {

namespace {

using plan::Bytes;
using plan::Figures;
using plan::KitId;
using plan::LevelId;

Piece piece_from(const plan::Content& content, plan::DeviceId device, std::size_t pools,
                 bool unpacked_on_disk) {
    Piece piece;
    piece.memory.resize(pools);
    Figures merged = content.figures;
    for (const auto& [where, figures] : content.on) {
        if (where != device) continue;
        merged.memory.insert(merged.memory.end(), figures.memory.begin(), figures.memory.end());
        if (figures.packed) merged.packed = figures.packed;
        if (figures.objects) merged.objects = figures.objects;
    }
    // What was measured in a real build wins: first what holds on every device, then this device's
    // own.
    for (const bool own : {false, true}) {
        for (const plan::Measured& row : content.measured) {
            if (own ? row.device != device : static_cast<bool>(row.device)) continue;
            merged.memory.insert(merged.memory.end(), row.figures.memory.begin(),
                                 row.figures.memory.end());
            if (row.figures.packed) merged.packed = row.figures.packed;
            if (row.figures.objects) merged.objects = row.figures.objects;
        }
    }
    for (const auto& [pool, size] : merged.memory) piece.memory[pool.value] = size.high;
    for (const Bytes size : piece.memory) piece.unpacked += size;
    const bool as_large = unpacked_on_disk || !merged.packed;
    piece.packed = as_large ? piece.unpacked : merged.packed->high;
    piece.objects = merged.objects.value_or(0);
    return piece;
}

/// Appends what `kit` needs and then `kit`, unless listed already.
void add_kit(const plan::Plan& plan, const Catalogue& catalogue, KitId kit,
             std::vector<PieceId>& kits) {
    const PieceId piece = catalogue.piece_of(kit);
    if (std::find(kits.begin(), kits.end(), piece) != kits.end()) return;
    for (const KitId needed : plan.kits[kit].needs) add_kit(plan, catalogue, needed, kits);
    kits.push_back(piece);
}

} // namespace

Catalogue catalogue_for(const plan::Plan& plan, plan::DeviceId device_id) {
    const plan::Device& device = plan.devices[device_id];
    Catalogue catalogue;
    catalogue.pools = plan.pools.size();
    catalogue.read = device.read;
    catalogue.unpack = device.unpack;
    catalogue.frame = device.frame;
    catalogue.release = device.release;
    catalogue.memory = device.memory;
    catalogue.tree = plan::level_tree(plan.levels);
    catalogue.levels.resize(plan.levels.size());
    const bool unpacked_on_disk = !device.unpack;
    for (const plan::Level& level : plan.levels) {
        catalogue.pieces.push(
            piece_from(level.content, device_id, catalogue.pools, unpacked_on_disk));
    }
    for (const plan::Kit& kit : plan.kits) {
        catalogue.pieces.push(
            piece_from(kit.content, device_id, catalogue.pools, unpacked_on_disk));
    }
    for (const LevelId id : plan.levels.ids()) {
        const plan::Level& level = plan.levels[id];
        LevelNeeds& needs = catalogue.levels[id];
        for (const KitId kit : level.kits) add_kit(plan, catalogue, kit, needs.kits);
        const std::int64_t objects = catalogue.pieces[catalogue.piece_of(id)].objects;
        needs.attach_work = device.attach.fixed + plan::work_for(objects, device.attach.per_object);
    }
    return catalogue;
}

} // namespace hestrel::loading
