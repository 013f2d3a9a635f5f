#pragma once
// A walk in which nobody walks: what begins lists is told, with its time, as a log of the built
// game tells it (docs/model.md section 13). Steps, loading and memory are as in any walk. `place`
// places nobody, and gates are asked by nobody.

#include "flow/objection.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::walk {

class Ground;

/// Something that begins a list of steps, or streams a level.
struct Cue {
    enum class What : std::uint8_t {
        fired,     ///< trigger
        pressed,   ///< item
        after,     ///< menu whose `after` comes
        came_near, ///< level
        went_far,  ///< level
        brought,   ///< level that came in the game, and that no list of the plan brought
        let_go,    ///< level that went in the game, and that no list of the plan let go
        fact_set,  ///< fact, by what is no list of the plan
        arrived,   ///< waypoint at which the player is
        entered,   ///< trigger inside which the player is, until it has left it
        left,      ///< trigger
    };
    plan::Micros at; ///< since the end of the boot
    What what = What::fired;
    std::uint32_t subject = 0;
    flow::PlayerId player;  ///< unset: nobody
    plan::Value value = {}; ///< of a fact
    /// What happened to levels in the same instant before it. It waits for that as long as the
    /// instant lasts.
    std::vector<std::pair<EventKind, std::uint32_t>> behind;

    /// The plan says whether it would begin that, too.
    [[nodiscard]] bool is_judged() const { return what <= What::went_far; }
    /// It only tells where a player is.
    [[nodiscard]] bool says_where() const { return what >= What::arrived; }
};

struct Script {
    std::vector<Cue> cues;            ///< by time
    std::vector<plan::WordId> chosen; ///< branches, in the order in which they were chosen
    plan::Micros end;                 ///< the walk goes on until then, since the end of the boot
    /// How long the boot takes, for what is before its end; unset: that comes with its end.
    std::optional<plan::Micros> boot = std::nullopt;
};

/// What became of one of them.
struct Judged {
    flow::Objection objection = flow::Objection::none; ///< why the plan would not have begun it
    plan::Micros at{-1};                               ///< when it was begun; below 0: never
    std::uint32_t transition = 0;                      ///< that it began; 0: none
};

/// A `when-true` trigger whose condition came to hold, and that could fire then.
struct CameTrue {
    plan::TriggerId trigger;
    plan::Micros at;
};

/// A player went from one waypoint to another, and into a trigger that could fire all the while.
struct WentThrough {
    plan::TriggerId trigger;
    flow::PlayerId player;
    plan::Micros from;
    plan::Micros to;
};

struct Replay {
    Record record;
    plan::Micros boot_end;      ///< the record's end, where the boot never ended
    std::vector<Judged> judged; ///< by cue
    std::vector<CameTrue> due;
    std::vector<WentThrough> went_through;
    /// Choices of which the script does not tell the branch: the first was taken.
    std::vector<plan::Micros> untold_choices;
};

struct ReplayOptions {
    std::optional<flow::KeptStore> saved = std::nullopt; ///< with which it begins
    /// It begins at that time: frames go on where those of the launch before left off.
    plan::Micros begins;
    /// What the plan would have begun so much later is none of its objections.
    plan::Micros patience = plan::Micros{100'000};
};

/// Walks the edition of a route from its start on a device. The route's players are who the script
/// speaks of; their steps are not played. Throws what `walk` throws.
Replay replay(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
              const Script& script, const ReplayOptions& options, Ground& ground);

} // namespace hestrel::walk
