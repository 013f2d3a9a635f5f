#pragma once
// What a walk leaves behind: a plain struct with all its figures (docs/model.md section 7). Writers
// turn it into tables and figures; nobody computes anything new from it but sums.

#include "flow/stage.hpp"
#include "loading/ledger.hpp"
#include "loading/loader.hpp"
#include "plan/plan.hpp"

#include <algorithm>
#include <cstdint>
#include <optional>
#include <vector>

namespace hestrel::walk {

/// What an event is about; `Event::subject` and `Event::detail` are indices of the kinds named
/// here.
enum class EventKind : std::uint8_t {
    boot_ended,      ///< nothing
    fired,           ///< trigger; run
    firing_lost,     ///< trigger whose steps were still running
    pressed,         ///< item; run
    list_ended,      ///< list; run
    list_abandoned,  ///< level that left; run
    gave_up_waiting, ///< list; run
    switch_began,    ///< level; run
    switch_ended,    ///< level; run
    switch_refused,  ///< level; run
    leave_refused,   ///< level; run
    veil_up,         ///< veil
    veil_down,       ///< veil
    frozen,          ///< nothing
    thawed,          ///< nothing
    placed,          ///< player; waypoint or none
    set_out,         ///< player; waypoint it goes to
    arrived,         ///< player; waypoint
    go_dropped,      ///< player; waypoint it can no longer reach
    entered,         ///< trigger; player
    left,            ///< trigger; player
    menu_opened,     ///< menu
    menu_closed,     ///< menu
    piece_queued,    ///< piece
    piece_reading,   ///< piece
    piece_unpacking, ///< piece
    piece_resident,  ///< piece
    piece_given_up,  ///< piece
    piece_released,  ///< piece
    level_ready,     ///< level
    level_attaching, ///< level
    level_shown,     ///< level
    level_hidden,    ///< level
    level_unloaded,  ///< level
    stuck,           ///< nothing
    ended,           ///< nothing
};
struct Event {
    plan::Micros at;
    EventKind kind;
    std::uint32_t subject = 0;
    std::uint32_t detail = 0;
};

/// One run of a list of steps; transition 0, the boot, is not among them. `Loads::transition`
/// refers to `number`.
struct Transition {
    std::uint32_t number = 0;
    plan::ListId list;
    plan::Micros fired;
    std::optional<plan::Micros> ended; ///< when its last step was done; unset: it never was
    bool abandoned = false;
};

/// What a player is doing (section 5); exactly one at each moment from the end of the boot to the
/// end of its route.
enum class Doing : std::uint8_t { moving, pausing, veiled, stalled };
struct Spell {
    std::uint32_t player = 0;
    Doing doing = Doing::moving;
    plan::Micros from;
    plan::Micros to;
};
/// How long a player did what, in all.
struct TimeShares {
    plan::Micros moving, pausing, veiled, stalled;
};

/// Why a walk could not go on.
enum class StuckKind : std::uint8_t {
    boot_waits,   ///< levels: those the boot waits for
    list_waits,   ///< list, step and levels
    cannot_go,    ///< route step: no way leads there, or the player is nowhere
    cannot_press, ///< route step: the menu is not open
    frozen,       ///< route step: the player is frozen for good
    out_of_time,  ///< `limits.walk` has passed
};
struct Stuck {
    StuckKind kind = StuckKind::out_of_time;
    plan::Micros since;
    plan::ListId list;
    std::size_t step = 0; ///< of the list, or of the route
    plan::Awaited awaited = plan::Awaited::shown;
    std::vector<plan::LevelId> levels;
    bool nowhere = false; ///< cannot_go: the player is nowhere
};

/// What became of a walk.
enum class Verdict : std::uint8_t { fine, over_budget, stuck };

/// One route on one device.
struct Record {
    plan::RouteId route;
    plan::DeviceId device;
    std::optional<plan::Micros> boot; ///< how long it took; unset: it never ended
    plan::Micros end;                 ///< when the walk was done, or from when on it is stuck
    std::optional<Stuck> stuck;
    TimeShares shares;
    std::vector<Spell> spells;

    std::vector<Event> events;
    std::vector<Transition> transitions;
    std::vector<loading::LoadRecord> loads;
    std::vector<loading::Hitch> hitches;
    std::vector<loading::MemoryRow> memory;
    std::vector<loading::Holding> holdings; ///< `to` is at most `end`
    std::vector<loading::Overrun> overruns; ///< `to` is at most `end`

    plan::Bytes peak;                      ///< most memory in use at any moment
    plan::Micros peak_at;                  ///< the first such moment
    std::vector<loading::Holding> at_peak; ///< what was held then, largest first
};

/// The worst that is to be said about a walk.
inline Verdict verdict_of(const Record& record) {
    if (record.stuck) return Verdict::stuck;
    return record.overruns.empty() ? Verdict::fine : Verdict::over_budget;
}

/// By how much the worst frame exceeds its period; 0 where none does.
inline plan::Micros worst_hitch(const Record& record) {
    plan::Micros worst;
    for (const loading::Hitch& hitch : record.hitches) worst = std::max(worst, hitch.length);
    return worst;
}

} // namespace hestrel::walk
