#pragma once
// Levels that stream by distance, under no condition, and that nothing else goes by
// (docs/model.md section 8): no list, condition, gate, rule, trigger, menu or fact. Those within
// `load` of a player are there; which of those between `load` and `unload` are there hangs on how
// players came. Left out of situations, they are counted in memory wherever they may be.
//
// An example: a world of 64 by 64 cells, of which 21 may be there around each waypoint. There are
// as many situations as waypoints; with every history of what is still there, there are more than
// could ever be looked at. It costs a set of levels for each place, and one for each moment of a
// way at which another level comes within reach.

#include "plan/level_tree.hpp"

#include <vector>

namespace hestrel::explore {

class FoldedNear {
public:
    /// Nothing is left out.
    FoldedNear() = default;
    /// All levels that can be left out, but for some that are `kept`.
    FoldedNear(const plan::Plan& plan, const plan::LevelTree& tree, plan::EditionId edition,
               const std::vector<plan::LevelId>& kept);

    [[nodiscard]] bool any() const { return count_ > 0; }
    /// How many levels that stream by distance are left out.
    [[nodiscard]] std::size_t count() const { return count_; }
    /// Whether a level that streams by distance is.
    [[nodiscard]] bool has(plan::LevelId level) const {
        return level.value < family_.size() && !family_[level].empty();
    }
    /// It and all that comes with it, sorted; none where it is not left out.
    [[nodiscard]] const std::vector<plan::LevelId>& family(plan::LevelId level) const {
        return family_[level];
    }
    /// Whether a level is one of any family.
    [[nodiscard]] bool leaves_out(plan::LevelId level) const {
        return level.value < left_out_.size() && left_out_[level];
    }

private:
    std::size_t count_ = 0;
    plan::Table<plan::LevelId, std::vector<plan::LevelId>> family_; ///< empty: none is left out
    plan::Table<plan::LevelId, bool> left_out_;
};

/// How many levels of a plan stream by distance.
std::size_t count_near(const plan::Plan& plan);

} // namespace hestrel::explore
