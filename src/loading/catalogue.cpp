#include "loading/catalogue.hpp"

#include <algorithm>

namespace hestrel::loading {

namespace {

using plan::Bytes;
using plan::Figures;
using plan::KitId;
using plan::LevelId;

/// What differs replaces, key by key.
void merge(const Figures& other, Figures& into) {
    into.memory.insert(into.memory.end(), other.memory.begin(), other.memory.end());
    if (other.packed) into.packed = other.packed;
    if (other.objects) into.objects = other.objects;
    if (other.make) into.make = other.make;
    if (other.frame_cost) into.frame_cost = other.frame_cost;
}

/// A piece's figures on one device.
Figures figures_on(const plan::Content& content, plan::DeviceId device) {
    Figures merged = content.figures;
    for (const auto& [where, figures] : content.on) {
        if (where == device) merge(figures, merged);
    }
    // What was measured in a real build wins: first what holds on every device, then this device's
    // own.
    for (const bool own : {false, true}) {
        for (const plan::Measured& row : content.measured) {
            if (own ? row.device != device : static_cast<bool>(row.device)) continue;
            merge(row.figures, merged);
        }
    }
    return merged;
}

Piece piece_from(const Figures& merged, const plan::Device& device, std::size_t pools) {
    Piece piece;
    piece.memory.resize(pools);
    for (const auto& [pool, size] : merged.memory) piece.memory[pool.value] = size.high;
    for (const Bytes size : piece.memory) piece.unpacked += size;
    const Bytes packed = merged.packed ? merged.packed->high : piece.unpacked;
    piece.packed = device.unpack ? packed : piece.unpacked;
    if (merged.make) {
        const plan::Micros time = plan::at_speed(merged.make->high, device.makers.speed);
        piece.read = packed.count > 0;
        if (!piece.read) piece.packed = {};
        if (!piece.read || time.count > 0) piece.make = time;
    }
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
    catalogue.makers = device.makers.workers;
    catalogue.frame = device.frame;
    catalogue.release = device.release;
    catalogue.memory = device.memory;
    catalogue.tree = plan::level_tree(plan.levels);
    catalogue.levels.resize(plan.levels.size());
    for (const LevelId id : plan.levels.ids()) {
        const Figures figures = figures_on(plan.levels[id].content, device_id);
        catalogue.pieces.push(piece_from(figures, device, catalogue.pools));
        catalogue.levels[id].frame_cost = figures.frame_cost.value_or(plan::Micros{});
    }
    for (const plan::Kit& kit : plan.kits) {
        catalogue.pieces.push(
            piece_from(figures_on(kit.content, device_id), device, catalogue.pools));
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

Catalogue headless_catalogue(const plan::Plan& plan, plan::DeviceId device) {
    Catalogue catalogue = catalogue_for(plan, device);
    catalogue.headless = true;
    for (LevelNeeds& needs : catalogue.levels) needs.frame_cost = {};
    return catalogue;
}

} // namespace hestrel::loading
