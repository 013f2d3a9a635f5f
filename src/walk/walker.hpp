#pragma once
// One player of a route, and where it is in its steps. Private to src/walk.

#include "flow/traveller.hpp"
#include "walk/known_levels.hpp"
#include "walk/record.hpp"

#include <map>
#include <set>
#include <utility>
#include <vector>

namespace hestrel::walk {

struct Walker {
    const plan::RoutePlayer* route = nullptr;
    flow::Traveller traveller;
    std::set<flow::ZoneId> inside; ///< what it is inside of
    std::size_t step = 0;          ///< the route step that is next or under way
    bool step_begun = false;
    plan::Micros step_since; ///< when its turn came
    bool pausing = false;
    bool impatient = false;   ///< its `expect` may wait no longer
    bool tried = false;       ///< the present step was tried, and waits for something
    bool wanted = false;      ///< its `when` held when its turn came
    std::vector<bool> picked; ///< by route step: a `pick` that was used, or that must not be yet
    bool accounting = false;  ///< after the boot and before the end of its route
    Spell spell;
    /// Levels it needs: boxes of areas, and boxes to see from, that it is inside of.
    struct Boxes {
        std::uint32_t stood = 0;
        std::uint32_t seen = 0;
    };
    std::map<plan::LevelId, Boxes> needs;
    /// What of that lasts at the moment: index + 1 in the record.
    struct Open {
        std::size_t needed = 0;
        std::size_t gap = 0;
    };
    std::map<std::pair<plan::LevelId, bool>, Open> open; ///< by level and whether it stands in it

    /// How it moves.
    struct Movement {
        plan::WaypointId at;
        double speed = 0; ///< m/s
        bool operator==(const Movement&) const = default;
    };
    [[nodiscard]] Movement movement() const { return {traveller.at, traveller.speed_now()}; }
    Movement known;            ///< to the keeper of the game, where that takes time
    Movement told;             ///< and as last sent there
    OrderNumber placed_by = 0; ///< the last order to place it

    /// Inside the area of a level.
    [[nodiscard]] bool stands_in(plan::LevelId level) const {
        const auto found = needs.find(level);
        return found != needs.end() && found->second.stood > 0;
    }
    [[nodiscard]] bool done() const { return step == route->steps.size(); }
    /// What the present step is, where it is of that kind; else null.
    template <class Step>
    [[nodiscard]] const Step* at_step() const {
        return done() ? nullptr : std::get_if<Step>(&route->steps[step].what);
    }
    /// Its present step has begun and is not over: what a launch ends.
    [[nodiscard]] bool under_way() const {
        return !done() && (step_begun || (tried && at_step<plan::GoStep>() == nullptr));
    }
    /// A `go` of its route that has set out and is not over.
    [[nodiscard]] bool going() const { return step_begun && at_step<plan::GoStep>() != nullptr; }
};

using PlayerNumber = std::uint32_t;

} // namespace hestrel::walk
