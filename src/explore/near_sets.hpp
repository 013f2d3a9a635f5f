#pragma once
// Which levels that are left out of situations may be there: by where players stand, and moment by
// moment on a way (docs/model.md section 8).

#include "explore/folded_near.hpp"
#include "explore/interned.hpp"
#include "explore/situation.hpp"
#include "flow/zones.hpp"

#include <unordered_map>
#include <vector>

namespace hestrel::explore {

/// A moment of a move, as numbers of sets: what may be there by who moves, and what of it may be
/// asked for just then.
struct NearMoment {
    std::uint32_t may_be = 0;
    std::uint32_t asked = 0;
    auto operator<=>(const NearMoment&) const = default;
};

/// What goes on in a move. Who does not move in it is near what it is near all the while.
struct NearPath {
    flow::PlayerId mover; ///< who goes; unset: nobody, and all stay where they are or are placed
    std::vector<NearMoment> moments;
    bool anew = false;  ///< all that may be there may be asked for anew
    bool frees = false; ///< any level that is not left out is unloaded
    bool ends = false;  ///< the session: nothing more is let go, wherever players were placed
};

/// What may be there by where somebody is, as numbers of sets.
struct NearStand {
    std::uint32_t may_be = 0;
    std::uint32_t there = 0; ///< surely
};

class NearSets {
public:
    /// Both outlive it.
    NearSets(const FoldedNear& folded, const flow::Zones& zones);

    /// Sorted, each once; 0 is the empty set.
    std::uint32_t number(const std::vector<plan::LevelId>& levels);
    [[nodiscard]] const std::vector<plan::LevelId>& operator[](std::uint32_t set) const {
        return sets_[set];
    }
    [[nodiscard]] std::vector<plan::LevelId> together(const std::vector<std::uint32_t>& sets) const;

    /// By the number of where a player stands, and what that is.
    NearStand of_stand(std::uint32_t stand, const PlayerNow& now) {
        const auto known = of_stands_.find(stand);
        return known == of_stands_.end() ? find_stand(stand, now) : known->second;
    }

    /// What goes on in a move, by number; `from`: where `mover` is at first; `ends`: the session
    /// does. 0: nobody goes anywhere, and nothing happens.
    std::uint32_t path(flow::PlayerId mover, const PlayerNow* from, const MoveLog& log, bool ends);
    [[nodiscard]] const NearPath& path(std::uint32_t number) const { return paths_[number]; }

    /// Whether anybody who was looked at came within `load` of a level.
    [[nodiscard]] bool came_near(plan::LevelId level) const {
        return level.value < came_near_.size() && came_near_[level.value];
    }

private:
    /// The surroundings that somebody is inside of.
    class Inside;

    NearStand find_stand(std::uint32_t stand, const PlayerNow& now);

    const FoldedNear* folded_;
    const flow::Zones* zones_;
    Interned<std::vector<plan::LevelId>> sets_;
    std::unordered_map<std::uint32_t, NearStand> of_stands_;
    Interned<NearPath> paths_;
    std::vector<bool> came_near_;
};

} // namespace hestrel::explore
