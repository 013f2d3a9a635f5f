#pragma once
// The map: the world from above, and a route walked in it.

#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <vector>

namespace hestrel::figure {

/// A stretch of a track that was walked within a time.
struct TrackPart {
    plan::WorldId world;
    plan::Vec3 from{};
    plan::Vec3 to{};
};
std::vector<TrackPart> walked_within(const plan::Plan& plan, const walk::Record& record,
                                     std::uint32_t player, plan::Micros from, plan::Micros to);

/// One panel for each world in which anything stands; unset where there is none.
std::optional<Figure> map_figure(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::figure
