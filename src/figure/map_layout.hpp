#pragma once
// A map of a plan: a panel from above for each world, and one from the side where things stand
// above one another.

#include "figure/frame.hpp"
#include "figure/map_panel.hpp"

#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace hestrel::figure {

/// What stands on the ground, as a legend names it.
std::vector<Swatch> ground_legend(const plan::Plan& plan, const std::set<plan::LevelId>& shown);

/// The figure; unset where nothing has a place. `happens` draws on each panel what happens in its
/// world, above the ground and below names. x and z have one scale, unless that leaves a panel so
/// low or so narrow that nothing can be read; then each has its own, which is said.
std::optional<Figure> map_of(const MapGround& ground, const std::string& title,
                             const std::vector<Swatch>& legend,
                             const std::set<plan::LevelId>& shown,
                             const std::function<void(MapPanel&, plan::WorldId)>& happens);

} // namespace hestrel::figure
