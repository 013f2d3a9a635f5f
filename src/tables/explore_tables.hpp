#pragma once
// What exploring found, as files.

#include "explore/explored.hpp"
#include "explore/heat.hpp"
#include "plan/plan.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// A move: "go quay (run)", "press front-desk.begin, picking north", "after front-desk".
std::string move_text(const explore::Explorer& explorer, std::uint32_t taken);

/// What somebody does on a way; `player` is empty where nobody does it, or where one plays alone.
struct WayMove {
    std::string player;
    std::string move;
};
/// Every move of a way; its boot only where that makes a choice.
std::vector<WayMove> way_moves(const explore::Explorer& explorer,
                               const std::vector<std::uint32_t>& way);

/// The moves of a way: "press front-desk.begin, go quay, go ferry"; a long one is cut in its
/// middle.
std::string way_text(const explore::Explorer& explorer, const std::vector<std::uint32_t>& way);

/// How much was looked at: one or more lines, with a word on what was not.
std::string looked_at_text(const explore::Explorer& explorer);

/// `device,budget,when,used_mib,budget_mib,moves,levels`: the worst of each budget; `when` is
/// `settled` or `move`, `moves` how many lead there, `levels` those loaded then (before the move).
std::string worst_csv(const explore::Explorer& explorer,
                      const std::vector<explore::WorstUse>& worst);
/// `device,when,work_s,most_s,moves,levels`: the longest frames.
std::string worst_frames_csv(const explore::Explorer& explorer,
                             const std::vector<explore::WorstFrame>& frames);

/// How often a level is there while a player stands at a waypoint.
struct Presence {
    plan::WaypointId at; ///< unset: nowhere
    plan::LevelId level;
    std::uint64_t situations = 0; ///< with a player there
    std::uint64_t loaded = 0;     ///< and the level loaded
    std::uint64_t shown = 0;
};
/// By place, in plan order, what is loaded there ever.
std::vector<Presence> presences(const explore::Explorer& explorer);
/// `place,level,loaded,shown,situations,loaded_in,shown_in`; always, sometimes or never.
std::string places_csv(const explore::Explorer& explorer);

/// `device,place,world,total_mib`, a column for each pool, `frame_ms` where anything costs time:
/// the most at each place.
std::string heat_csv(const explore::Explorer& explorer, const std::vector<explore::Heat>& heat);

/// `move,from,loads,frees,shows,times`: what each move loads and frees, wherever it does; `from` is
/// the levels loaded before.
std::string moves_csv(const explore::Explorer& explorer);

/// All of it.
std::string explore_json(const explore::Explored& explored);

/// A plan that adds one route to the plan at `include`: `hestrel walk` takes it as it is.
std::string witness_yaml(const plan::Plan& plan, const plan::Route& route,
                         const std::string& include, const std::string& about);

} // namespace hestrel::tables
