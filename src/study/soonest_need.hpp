#pragma once
// The shortest way from where something fires to where a level is needed.

#include "geometry/ways.hpp"
#include "plan/plan.hpp"
#include "study/geography.hpp"

#include <optional>
#include <vector>

namespace hestrel::study {

/// A point on a leg, so many metres from the leg's start.
struct OnLeg {
    geometry::Leg leg;
    double metres = 0;
};

/// What is to be reached, and how fast.
struct Wanted {
    plan::LevelId level;
    /// Gates that wait for one of these (sorted) hold players until there is nothing to miss.
    std::vector<plan::LevelId> asked;
    double top = 0;  ///< m/s; a path's own speed caps it
    double most = 0; ///< seconds; what is needed later is not looked for
};

/// The way on which a level is needed soonest.
struct SoonestNeed {
    double seconds = 0;
    double metres = 0;
    OnLeg from;
    OnLeg to;
    std::vector<geometry::Leg> legs; ///< from the leg of `from` to that of `to`
    bool area = true;                ///< it is stood in there; else it could be seen
};

/// Nothing where it is not needed within `most` seconds of any of `starts`.
std::optional<SoonestNeed> soonest_need(const plan::Plan& plan, const Geography& map,
                                        const std::vector<OnLeg>& starts, const Wanted& wanted);

/// Where players who walk can set off a trigger. Who is inside of it from a leg's start on set it
/// off before.
std::vector<OnLeg> firings_of(const plan::Plan& plan, const Geography& map,
                              plan::TriggerId trigger);

/// A gate on that path holds players until one of `levels` (sorted) is shown.
bool gated_for(const plan::Plan& plan, plan::PathId path, const std::vector<plan::LevelId>& levels);

} // namespace hestrel::study
