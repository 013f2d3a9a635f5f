#pragma once
// Which lists of steps lead from one level to another: what a designer means by the flow of a game.

#include "plan/plan.hpp"

#include <set>
#include <vector>

namespace hestrel::study {

/// A list of steps, met in one level, loads, shows, switches to or places players in another.
struct LevelWay {
    plan::LevelId from; ///< unset: it can be met anywhere
    plan::LevelId to;
    plan::ListId list;     ///< a whole list, with its branches
    bool switches = false; ///< leaves `from`
    bool operator==(const LevelWay&) const = default;
};

/// All ways of a plan, in the order of its lists, each once; none leads from a level to itself.
/// A trigger is met in the level it belongs to, else in those whose area its shape meets; a menu in
/// its level, else where lists open it. `next` and `back` lead along every edition.
std::vector<LevelWay> level_ways(const plan::Plan& plan);

/// The levels in which a whole list can be met, as `level_ways` says; an unset one: anywhere.
std::set<plan::LevelId> met_in(const plan::Plan& plan, plan::ListId list);

/// Where `next`, `back` or a position leads from a level, along every edition.
std::vector<plan::LevelId> along_editions(const plan::Plan& plan, const plan::SwitchStep& step,
                                          plan::LevelId from);

} // namespace hestrel::study
