#pragma once
// The order of an edition: what each level needs before it, an order that changes little, and what
// changing it changes (docs/model.md sections 6 and 12).

#include "order/stable_order.hpp"
#include "plan/plan.hpp"
#include "study/level_ways.hpp"
#include "walk/record.hpp"

#include <map>
#include <optional>
#include <vector>

namespace hestrel::order {

/// Why a level must come after another one.
struct LevelNeed {
    enum class Why : std::uint8_t {
        parent, ///< it is a sublevel of it
        arrive, ///< its arrive steps ask for it
    };
    plan::LevelId level; ///< this one
    plan::LevelId needs; ///< needs that one before it
    Why why = Why::parent;
    plan::Place place; ///< of the level, or of the step
};

/// When a level can be needed first, on any route that plays the edition.
struct FirstAsked {
    plan::Micros at;
    std::size_t record = 0; ///< the walk in which it was
};

/// One level of an edition, at its position today.
struct ListedLevel {
    plan::LevelId level;
    plan::Place place; ///< where the edition names it
    std::vector<LevelNeed> needs;
    std::vector<plan::KitId> kits;      ///< its own, with all that those need
    std::vector<plan::LevelId> goes_to; ///< what its transitions bring, in plan order
    std::optional<FirstAsked> asked;    ///< unset: on no route walked
    std::optional<std::uint32_t> moves; ///< the fewest in which any player has it there
    bool pinned = false;                ///< a position, `next` or `back` leads to it
};

/// A step that goes by position: where it leads today, and in the proposed order.
struct PositionUse {
    enum class Kind : std::uint8_t { position, next, back };
    Kind kind = Kind::position;
    plan::Place place;
    plan::ListId list;
    std::uint32_t position = 0; ///< of `position`
    plan::LevelId from;         ///< of `next` and `back`: the level that is being left
    plan::LevelId today;        ///< unset: beyond the edition
    plan::LevelId then;         ///< in the proposed order
};

/// A step of a list that can run in the edition, and a level that the edition does not ship.
struct NotShipped {
    plan::Place place;
    plan::ListId list;
    plan::LevelId level;
};

/// A circle of needs: each level needs the next, and the last one the first.
using NeedCircle = std::vector<LevelNeed>;

struct EditionOrder {
    plan::EditionId edition;
    std::vector<ListedLevel> levels;
    std::vector<std::size_t> proposed; ///< indices of `levels`
    std::vector<Relocation> moves;     ///< of indices of `levels`
    std::vector<PositionUse> uses;
    std::vector<NotShipped> not_shipped;
    std::vector<NeedCircle> circles;
    [[nodiscard]] std::vector<plan::LevelId> proposed_levels() const;
};

/// How to propose.
struct OrderOptions {
    bool keep_positions = true; ///< what a position, `next` or `back` leads to keeps its place
    /// Levels that players of the edition can have there, whether a route does or not, and the
    /// fewest moves until then; see explore::moves_until_there. What no route asks for counts as
    /// early as the first thing that routes ask for and that takes as many moves or more.
    std::map<plan::LevelId, std::uint32_t> moves_until_there;
};

/// Looks at one edition. `records` are walks from which moments are taken: those of routes that
/// play it.
EditionOrder order_edition(const plan::Plan& plan, plan::EditionId edition,
                           const std::vector<walk::Record>& records,
                           const OrderOptions& options = {});

} // namespace hestrel::order
