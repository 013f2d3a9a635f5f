#pragma once
// What a trigger brings, and whether players come to it before anything else has.

#include "study/study.hpp"

#include <vector>

namespace hestrel::study {

/// The legs of paths through some triggers' shapes on which a search ends.
std::vector<geometry::Leg> legs_past(const Study& study, const ComingFrom& search,
                                     const std::vector<plan::TriggerId>& triggers);

/// Whether all who walk that leg have gone along one of `past`, whole legs on which a search for
/// who comes without `level` ends, and nothing on their way lets it go: looking for them is in
/// vain.
bool surely_past(const Study& study, geometry::Leg leg, plan::LevelId level,
                 const std::vector<geometry::Leg>& past);

/// A search for who comes without `level`: they crossed nothing that brings it (a trigger `but` is
/// not looked at) since it was let go, or since they began without it.
ComingFrom search_without(const Study& study, plan::LevelId level, plan::TriggerId but = {});

/// Whether players can cross this trigger while nothing has asked for the level before.
bool crossed_first(const Study& study, plan::TriggerId id, plan::LevelId level);

/// Levels that are shown where a trigger stands: its own, else those whose area it is in.
std::vector<plan::LevelId> there_at(const Study& study, plan::TriggerId id);

} // namespace hestrel::study
