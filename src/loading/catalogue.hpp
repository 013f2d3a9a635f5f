#pragma once
// What the loader of one device has to handle: the plan's levels and kits with this device's
// figures.

#include "plan/level_tree.hpp"
#include "plan/plan.hpp"

#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace hestrel::loading {

/// What the loader handles: one level's own content (ids 0 … levels-1, as in the plan), or one kit.
using PieceId = plan::Index<struct PieceTag>;

/// One piece on one device.
struct Piece {
    plan::Bytes
        packed; ///< what is read, if anything is; without unpacking: the whole unpacked size
    plan::Bytes unpacked;            ///< the sum over the pools
    std::vector<plan::Bytes> memory; ///< by pool, as long as the plan's list of pools
    std::int64_t objects = 0;
    bool read = true;                      ///< false: made of nothing, neither read nor unpacked
    std::optional<plan::Micros> make = {}; ///< how long a maker works on it here; unset: none does
};

/// What a level needs on one device.
struct LevelNeeds {
    std::vector<PieceId>
        kits; ///< all kits it needs, directly or not; what a kit needs stands before it
    plan::Micros attach_work;
    plan::Micros frame_cost = {}; ///< in every frame while it is shown
};

/// A device's figures, resolved. Refers to no plan once built.
struct Catalogue {
    plan::LevelTree tree;
    plan::Table<plan::LevelId, LevelNeeds> levels;
    plan::Table<PieceId, Piece> pieces;
    std::size_t pools = 0;
    plan::ReadSettings read;
    std::optional<plan::Unpacking> unpack;
    std::uint32_t makers = 1;
    plan::FrameTime frame;
    plan::ReleaseCost release;
    plan::MemoryBudget memory;
    /// The machine shows nothing: levels are there, and attached, as soon as they are asked for.
    bool headless = false;

    [[nodiscard]] PieceId piece_of(plan::LevelId level) const { return PieceId{level.value}; }
    [[nodiscard]] PieceId piece_of(plan::KitId kit) const {
        return PieceId{levels.size() + kit.value};
    }
    /// Calls `what` with each piece that a level needs, in order of asking: its kits, then its own.
    template <class What>
    void for_pieces(plan::LevelId level, What&& what) const {
        if (headless) return; // nothing is read
        for (const PieceId kit : levels[level].kits) what(kit);
        what(piece_of(level));
    }
    /// What levels cost in every frame while they are shown, together.
    [[nodiscard]] plan::Micros frame_cost(std::span<const plan::LevelId> shown) const {
        plan::Micros cost;
        for (const plan::LevelId level : shown) cost += levels[level].frame_cost;
        return cost;
    }
    [[nodiscard]] bool is_level(PieceId piece) const { return piece.value < levels.size(); }
    [[nodiscard]] plan::LevelId level_of(PieceId piece) const { return plan::LevelId{piece.value}; }
};

/// The catalogue of one device: `on:` figures merged key by key, the high end of every range
/// (docs/model.md section 2), the closure of every level's kits. Kits that need each other in a
/// circle must have been refused before.
Catalogue catalogue_for(const plan::Plan& plan, plan::DeviceId device);
/// That of a machine which shows nothing (section 11).
Catalogue headless_catalogue(const plan::Plan& plan, plan::DeviceId device);

} // namespace hestrel::loading
