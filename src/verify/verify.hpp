#pragma once
// Whether a built game does what its plan says: logs of plays laid over the plan, which is walked
// with what the logs say began each list (docs/model.md section 13).
//
// A game that does something by itself (a level that no list asked for, a fact that no list set)
// would be at odds with the plan from then on. So the plan is walked again with that as the log
// says it, and it is told once.

#include "plan/finding.hpp"
#include "verify/match.hpp"

#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::verify {

struct Options {
    Tolerance tolerance;
    std::optional<flow::KeptStore> saved = std::nullopt; ///< with which each play begins
    /// What a name that the plan does not have may be meant for, as the end of a sentence: "; did
    /// you mean quay?". `what`: "level". May be empty.
    std::function<std::string(std::string_view name, std::string_view what)> hint;
};

/// What a game did by itself.
struct ByItself {
    walk::Cue cue;
    std::size_t line = 0; ///< index into the log's events
};

/// Memory at a moment that the log has.
struct MemoryAt {
    plan::Micros at; ///< since the end of the boot
    plan::Bytes planned;
    plan::Bytes measured;
};

/// A fact that the plan sets to a value, and the log does not.
struct FactNotSet {
    plan::Micros at; ///< since the end of the boot
    plan::FactId fact;
    std::int64_t value = 0;
};

/// A session as the log and as the plan have it.
struct SessionResult {
    Session session;
    walk::Replay replay;
    std::vector<Outcome> outcomes; ///< by time
    std::vector<ByItself> by_itself;
    std::vector<MemoryAt> memory;
    std::vector<FactNotSet> facts;
    std::vector<walk::CameTrue> never_fired; ///< and should have
    /// Triggers that did not fire as a player went through, each once; since the end of the boot.
    std::vector<walk::WentThrough> went_through;
};

struct PlayResult {
    std::string name; ///< the log's file
    Play play;        ///< its sessions are in `sessions`
    std::vector<SessionResult> sessions;
    std::vector<plan::Finding> findings; ///< by session and time
    bool near_left_out = false;          ///< levels that stream by distance were not compared
};

/// Lays one log over a scripted plan. `routes`: those of the play's players. `file`: of the log, in
/// the plan's files. Throws what `walk` throws.
PlayResult verify(const plan::Plan& plan, ScriptedPlan::Routes routes, plan::DeviceId device,
                  const Log& log, Play play, std::uint32_t file, const Options& options,
                  walk::Ground& ground);

/// What is found in a play, from all else that is known of it.
std::vector<plan::Finding> findings(const plan::Plan& plan, plan::DeviceId device, const Log& log,
                                    const PlayResult& result, std::uint32_t file,
                                    const Options& options);

} // namespace hestrel::verify
