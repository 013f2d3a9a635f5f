#pragma once
// What of a log the plan can be walked with: its sessions, each with what begins lists in it, and
// with all names looked up (docs/model.md section 13).

#include "verify/log.hpp"
#include "walk/replay.hpp"

#include <map>
#include <optional>
#include <set>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::verify {

/// One line of a log about something of the plan.
struct Said {
    plan::Micros at; ///< since the end of the boot
    walk::EventKind kind = walk::EventKind::ended;
    std::uint32_t subject = 0;  ///< of that kind; a level is also a piece of that number
    std::size_t line = 0;       ///< index into the log's events
    plan::Value value = {};     ///< of a fact
    flow::PlayerId player = {}; ///< whose fact it is; unset: nobody's
};

/// A name that the plan does not have.
struct Unknown {
    std::size_t line = 0;  ///< index into the log's events
    std::string_view what; ///< "level", "trigger"
};

/// From one launch to the next.
struct Session {
    plan::Micros boot_end;                  ///< on the game's clock
    std::optional<plan::Micros> boot_start; ///< the same, where the log tells
    plan::Micros end;                       ///< of the log, since the end of the boot
    bool whole = false;                     ///< the log says that it ended then
    bool launched = false;                  ///< by launching again, in whichever instant
    std::vector<Said> said;                 ///< by time
    walk::Script script;
    std::vector<std::size_t> cue_lines; ///< by what the script tells: index into the log's events
    std::vector<std::pair<plan::Micros, plan::Bytes>> memory; ///< since the end of the boot
};

/// One log.
struct Play {
    std::vector<Session> sessions;
    std::vector<std::string> players; ///< at least one
    std::vector<Unknown> unknown;
    std::set<walk::EventKind> kinds; ///< what it tells of at all
};

/// Whether levels that stream by distance are not compared: the log does not tell which came near.
bool leaves_near_out(const plan::Plan& plan, const Play& play);

/// The name of a level or kit, by its number among both.
const std::string& piece_name(const plan::Plan& plan, std::uint32_t piece);

/// `route`: whose players come first; those that it does not have follow.
Play play_of(const plan::Plan& plan, plan::RouteId route, const Log& log);

/// A plan with a route for each list of players that logs speak of, to be walked by scripts.
class ScriptedPlan {
public:
    /// Routes begin as `route` does, in its edition.
    ScriptedPlan(plan::Plan plan, plan::RouteId route) : plan_(std::move(plan)), like_(route) {}
    /// The routes of these players: as `route` begins, and as the game does that is launched again.
    /// All are asked for before any is walked.
    struct Routes {
        plan::RouteId first, again;
    };
    Routes routes_for(const std::vector<std::string>& players);
    [[nodiscard]] const plan::Plan& plan() const { return plan_; }
    [[nodiscard]] plan::Plan& plan() { return plan_; }

private:
    plan::Plan plan_;
    plan::RouteId like_;
    std::map<std::vector<std::string>, Routes> routes_;
};

} // namespace hestrel::verify
