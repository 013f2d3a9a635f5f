#pragma once
// What a walk leaves behind: a plain struct with all its figures (docs/model.md section 7). Writers
// turn it into tables and figures; nobody computes anything new from it but sums.

#include "flow/carries.hpp"
#include "flow/facts.hpp"
#include "flow/snapshot.hpp"
#include "flow/stage.hpp"
#include "loading/ledger.hpp"
#include "loading/loader.hpp"
#include "plan/finding.hpp"
#include "plan/plan.hpp"

#include <algorithm>
#include <cstdint>
#include <optional>
#include <vector>

namespace hestrel::walk {

/// What an event is about; `Event::subject` and `Event::detail` are indices of the kinds named
/// here.
enum class EventKind : std::uint8_t {
    boot_ended,  ///< nothing
    fired,       ///< trigger; run
    firing_lost, ///< trigger that fired again too soon, or whose steps were running; player or none
    pressed,     ///< item; run
    list_ended,  ///< list; run
    list_abandoned,      ///< level that left; run
    list_dropped,        ///< list whose wait can't end; run
    gave_up_waiting,     ///< list; run
    switch_began,        ///< level; run
    switch_ended,        ///< level; run
    switch_refused,      ///< level; run
    variant_refused,     ///< level; run
    leave_refused,       ///< level; run
    leave_cant_wait,     ///< run; nothing
    veil_up,             ///< veil
    veil_down,           ///< veil
    frozen,              ///< player, or none: all at once
    thawed,              ///< player, or none: all at once
    placed,              ///< player; waypoint or none
    set_out,             ///< player; waypoint it goes to
    arrived,             ///< player; waypoint
    go_ended,            ///< player; waypoint it could still reach from where it was placed
    go_dropped,          ///< player; waypoint it can no longer reach
    at_gate,             ///< player; gate that is closed
    through_gate,        ///< player; gate that has opened
    entered,             ///< trigger; player
    left,                ///< trigger; player
    came_near,           ///< level; run, or none: it was wanted shown, and only comes sooner
    went_far,            ///< level; run
    menu_opened,         ///< menu; player, or none: for all
    menu_closed,         ///< menu; player, or none: for all
    menu_refused,        ///< menu; run
    after_came,          ///< menu whose `after` comes; run
    fact_set,            ///< fact; its new value
    fact_reset,          ///< fact; its initial value
    out_of_range,        ///< fact kept at its bound; run
    value_without_level, ///< fact by which a step tells levels, with none for its value; run
    marked,              ///< level; run
    saved,               ///< run
    restored,            ///< run
    nothing_saved,       ///< run
    no_checkpoint,       ///< run
    beyond_edition,      ///< run
    chosen,              ///< list; branch
    gap_began,           ///< level; player
    gap_ended,           ///< level; player
    parcel_arrived,      ///< number of the parcel
    piece_queued,        ///< piece
    piece_reading,       ///< piece
    piece_unpacking,     ///< piece
    piece_making,        ///< piece: at a maker from now on, or waiting for one
    piece_resident,      ///< piece
    piece_given_up,      ///< piece
    piece_released,      ///< piece
    level_ready,         ///< level
    level_attaching,     ///< level
    level_shown,         ///< level
    level_hidden,        ///< level
    level_unloaded,      ///< level
    session_ended,       ///< run
    launched,            ///< nothing: the game is switched off and launched again
    left_out, ///< player; step of its route left out by a launch, the session's end or its `when`
    expected, ///< player; step of its route: what it expects holds
    not_as_expected, ///< player; step of its route
    joined,          ///< machine: the keeper knows that its boot has ended
    press_lost,      ///< item; player: it came too late for the keeper of the game
    stuck,           ///< nothing
    ended,           ///< nothing
};
struct Event {
    plan::Micros at;
    EventKind kind;
    std::uint32_t subject = 0;
    std::uint32_t detail = 0;
    flow::PlayerId player = {}; ///< who fired or pressed; whose fact it is, where each has its own
    bool operator==(const Event&) const = default;
};

/// One run of a list of steps, or what a near rule does; transition 0, the boot, is not among them.
/// `LoadRecord::transition` refers to `number`.
struct Transition {
    std::uint32_t number = 0;
    plan::ListId list;  ///< unset: a near rule's
    plan::LevelId near; ///< the level that came near or went far; set where `list` is not
    bool went_far = false;
    flow::PlayerId firer;
    plan::Micros fired;
    std::optional<plan::Micros> ended; ///< when its last step was done; unset: it never was
    bool abandoned = false;
    bool elsewhere = false; ///< a near rule's of another machine: only its number counts here
    std::optional<plan::Micros> reached; ///< when the first of its orders came to this machine
    /// A level it asked for that was not loaded, or wanted shown that was not shown.
    struct Called {
        plan::LevelId level;
        bool to_show = false;
        std::size_t event = 0; ///< events before that
        plan::Micros at;
    };
    std::vector<Called> called;            ///< in order of asking
    std::vector<plan::FactId> facts_reset; ///< of lifetime level, by what left
    std::vector<double> metres;            ///< by player: walked when it fired
    std::uint32_t placed = 0;              ///< how often it placed a player
};

/// A `next`, `back` or position that leads to no level of the edition.
struct BeyondEdition {
    plan::Micros at;
    std::uint32_t transition = 0;
    plan::Place step;
    plan::LevelId last; ///< switched to last, or started in; unset: not listed
};

/// A `go` that ended because its player was placed elsewhere, from where it could go on.
struct EndedGo {
    plan::Micros at;
    std::uint32_t player = 0;
    std::size_t step = 0;         ///< of the player's steps
    std::uint32_t transition = 0; ///< that placed it
};

/// A time in which a level was needed by a player for whom no veil was up.
struct Needed {
    std::uint32_t player = 0;
    plan::LevelId level;
    bool stood = false; ///< inside its area; else where it could be seen
    plan::Micros from;
    plan::Micros to = plan::Micros::never();
    double metres = 0; ///< walked by the player until `from`
};

/// A time in which a player stood in, or could see, a level that was not shown, and no veil hid it.
struct Gap {
    std::uint32_t player = 0;
    plan::LevelId level;
    bool stood = false;
    plan::Micros from;
    plan::Micros to = plan::Micros::never();
    plan::WaypointId at; ///< where it stood, if it did
    plan::PathId on;     ///< the path it was on, if it was on one
};

/// A time in which a veil hid the game from a player.
struct Veiled {
    std::uint32_t player = 0;
    plan::VeilId veil;
    plan::Micros from;
    plan::Micros to = plan::Micros::never();
};

/// A stretch of time in which a rule was broken.
struct RuleBreach {
    plan::Breach what; ///< as it was at the beginning
    plan::Micros from;
    plan::Micros to = plan::Micros::never();
};

/// What became of one level in one transition, one row of transitions.csv.
struct LevelOutcome {
    std::uint32_t transition = 0; ///< its number
    plan::LevelId level;
    plan::Micros asked;
    std::optional<plan::Micros> ready, shown; ///< unset: it never was
    std::optional<plan::Micros> needed;       ///< the first time at or after the firing
    std::optional<plan::Micros> slack;        ///< needed less shown
    std::optional<double> lead;               ///< metres walked between firing and need
    bool held = false; ///< players could not come too soon: a switch or a gate held them
};

/// What one transition did as a whole.
struct TransitionOutcome {
    std::uint32_t transition = 0;
    plan::Micros settled; ///< when all it asked for had settled, or the walk's end
    plan::Micros stall;   ///< how long players stalled meanwhile, in all
    plan::Bytes peak;     ///< most memory in use meanwhile
    plan::Micros peak_at;
    plan::Bytes overlap; ///< what old and new content held at once at the worst moment
};

/// A stretch in which what every frame takes is more than a frame may (section 4).
struct SlowFrames {
    plan::Micros from;
    plan::Micros to;
    plan::Micros work;  ///< the most of any frame
    plan::Micros frame; ///< how long that one lasts
    std::vector<std::pair<plan::LevelId, plan::Micros>>
        levels; ///< shown then; what costs most first
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

/// How much longer a transition's waits took on account of other machines (section 11).
struct WaitedFor {
    std::uint32_t transition = 0;
    plan::Micros waited;  ///< all its waits together
    plan::Micros longest; ///< of them
    plan::MachineId whom; ///< that one's last; unset: nobody was waited for
    plan::Micros at;      ///< when that one ended
};

/// An order of the game's keeper to this machine.
struct OrderSent {
    plan::Micros sent;
    plan::Micros reached; ///< `never`: not before the end
    bool operator==(const OrderSent&) const = default;
};

/// A player stood in a level that its machine was never told to load.
struct UnknownThere {
    plan::Micros at;
    std::uint32_t player = 0;
    plan::LevelId level;
};

/// A straight stretch that a player walked without stopping.
struct Track {
    std::uint32_t player = 0;
    plan::PathId path;
    plan::Micros from;
    plan::Micros to;
    plan::Vec3 start{}; ///< metres, in the world of the path
    plan::Vec3 end{};
};

/// When a player was at which step of its route.
struct RouteStepTime {
    std::uint32_t player = 0;
    std::size_t step = 0; ///< of the player's steps
    plan::Micros from;    ///< its turn came
    plan::Micros to;      ///< it was over; the walk's end where it never was
};

/// What an `expect` of a route came to (docs/model.md section 7).
struct Expectation {
    enum class Outcome : std::uint8_t {
        held,
        failed,
        cut_short,     ///< it still waited when the session ended or the game was launched again
        never_reached, ///< its turn never came
        kept,          ///< `expect: now`: what holds is told
    };
    std::uint32_t player = 0;
    std::size_t step = 0; ///< of the player's steps
    Outcome outcome = Outcome::held;
    plan::Micros since;                  ///< its turn came; never reached: the walk's end
    plan::Micros at;                     ///< when it was decided
    std::vector<plan::TermValue> values; ///< of the condition, then; empty: never reached, kept
    plan::WaypointId place; ///< where the player stood then; unset: on its way, nowhere
    plan::PathId path;      ///< that it was on
    // kept:
    std::vector<plan::LevelId> shown;
    std::vector<std::int64_t> facts; ///< by fact
};

/// Why a walk could not go on.
enum class StuckKind : std::uint8_t {
    boot_waits,   ///< levels: those the boot waits for
    list_waits,   ///< list, step; levels, or its condition
    at_gate,      ///< route step: the player waits at a gate for levels
    cannot_go,    ///< route step: no way leads there, or the player is nowhere
    cannot_press, ///< route step: the menu is not open, or the item's `when` does not hold
    until,        ///< route step: what it waits for never comes true
    frozen,       ///< route step: the player is frozen for good
    endless,      ///< list: it runs over and over, without end
    out_of_time,  ///< `limits.walk` has passed, and nothing waits
};
struct Stuck {
    StuckKind kind = StuckKind::out_of_time;
    plan::Micros since;
    plan::ListId list;
    std::size_t step = 0; ///< of the list, or of the route
    plan::Awaited awaited = plan::Awaited::shown;
    std::vector<plan::LevelId> levels; ///< that are missing, those of groups included
    std::vector<std::string> lacking;  ///< what is missing, by name: groups of which one will do
    plan::ConditionId until;           ///< list_waits: what it waits for, where that is no level
    std::vector<std::uint32_t> unmet;  ///< until: terms of the condition that do not hold
    plan::ListId repeats;              ///< what goes on for ever; unset: nothing does
    std::size_t times = 0;             ///< how often it placed a player, or (none placed) ran
    bool places = false;
    std::uint32_t player = 0;        ///< whose route step it is
    plan::GateId gate;               ///< at_gate
    std::vector<plan::MenuId> menus; ///< frozen: open ones that stop movement
    plan::MachineId machine;         ///< on which; unset: all players share one
    bool out_of_time = false; ///< `limits.walk` has passed; the rest says what was waited for
    bool nowhere = false;     ///< cannot_go: the player is nowhere
    bool menu_open = false;   ///< cannot_press: it is, but `when` does not hold
};

/// How everything stands at one moment of a walk, once its instant has run.
struct Standing {
    plan::Micros at;
    std::size_t events = 0; ///< of the record, that were by then
    bool booted = false;
    bool ended = false; ///< the session is over
    struct Player {
        plan::WaypointId at;   ///< unset: on its way, or nowhere
        plan::WaypointId goal; ///< where it goes; unset: it does not
        plan::PathId path;     ///< that it is on, or waits at the gate of
        bool at_gate = false;
        bool frozen = false;
        std::vector<plan::VeilId> veils;    ///< that hide the game from it
        std::vector<plan::LevelId> missing; ///< that it stands in or could see, not shown
        std::vector<plan::ItemId> items;    ///< that it can press
        std::vector<std::int64_t> facts;    ///< by fact, as they are for it
    };
    std::vector<Player> players;
    plan::Table<plan::LevelId, loading::LevelCondition> levels;
    loading::MemoryRow memory;
    std::vector<plan::MenuId> menus; ///< open ones
    std::optional<plan::Checkpoint> checkpoint;
    /// A list that runs, and what it waits for.
    struct Running {
        plan::ListId list; ///< unset: the boot, or the switch of an abandoned list
        std::size_t step = 0;
        plan::Micros since;
        plan::Awaited awaited = plan::Awaited::shown;
        std::vector<plan::LevelId> missing;
        plan::ConditionId until;
    };
    std::vector<Running> running; ///< oldest first
};

using plan::Verdict;

/// One route on one device.
struct Record {
    plan::RouteId route;
    plan::DeviceId device;
    /// Of a session over several machines (section 11).
    plan::MachineId machine;             ///< unset: all players share one
    std::vector<plan::DeviceId> devices; ///< of all machines
    bool joined = true;                  ///< its boot ended, and the keeper of the game knew it
    std::vector<WaitedFor> waited;       ///< by transition
    std::vector<OrderSent> orders;       ///< to it, in the order in which they were sent
    std::vector<UnknownThere> unknown;   ///< in order of time

    std::optional<plan::Micros> boot; ///< how long it took; unset: it never ended
    plan::Micros end; ///< when the walk was done, or from when on it is stuck; nothing lies after
    std::optional<Stuck> stuck;
    bool routes_done = false;          ///< every step of them is over
    bool session_ended = false;        ///< by an `end` step, and not launched again
    TimeShares shares;                 ///< of all players together
    std::vector<TimeShares> shares_of; ///< by player
    std::vector<Spell> spells;         ///< by player and time
    std::vector<RouteStepTime> steps;  ///< in the order in which they ended
    std::vector<Track> tracks;         ///< in the order in which they ended
    std::vector<Needed> needed;
    std::vector<Gap> gaps;
    std::vector<Veiled> veiled;                ///< by when it began
    std::vector<RuleBreach> breaches;          ///< in order of time
    std::vector<BeyondEdition> beyond_edition; ///< in order of time
    std::vector<EndedGo> ended_goes;           ///< in order of time
    std::vector<Expectation> expectations;     ///< in order of time, those never reached last
    flow::Carries carries;                     ///< what became of facts
    std::vector<plan::Micros> launches;        ///< when the game was launched again
    std::vector<LevelOutcome> outcomes;        ///< by transition and order of asking
    std::vector<TransitionOutcome> transition_outcomes; ///< one for each transition
    std::optional<flow::KeptStore> saved;               ///< as the walk left it
    std::vector<plan::Finding> findings;                ///< in order of time, without the allowed
    Verdict verdict = Verdict::fine;

    std::vector<Event> events;
    std::vector<Transition> transitions;
    std::vector<loading::LoadRecord> loads;
    std::vector<loading::Hitch> hitches;
    std::vector<loading::FrameRow> frames; ///< what every frame takes, from each moment on
    std::vector<SlowFrames> slow_frames;   ///< in order of time
    plan::Micros longest_frame;            ///< most work of a frame that counts (section 4)
    plan::Micros longest_frame_at;
    std::vector<loading::MemoryRow> memory;
    std::vector<loading::Holding> holdings; ///< `to` is at most `end`
    std::vector<loading::Overrun> overruns; ///< `to` is at most `end`

    /// How it stood when the routes were done, or could not go on; only where it was asked for.
    std::optional<Standing> standing;
    /// And at its end, where it came to one with nothing going on.
    std::optional<flow::Snapshot> snapshot;

    plan::Bytes peak;                      ///< most memory in use at any moment
    plan::Micros peak_at;                  ///< the first such moment
    std::vector<loading::Holding> at_peak; ///< what was held then, largest first
};

/// By how much the worst frame exceeds its period; 0 where none does.
/// How many frames took too long, standstills included.
inline std::uint64_t hitches_in(const Record& record) {
    std::uint64_t count = 0;
    for (const loading::Hitch& hitch : record.hitches)
        count += static_cast<std::uint64_t>(hitch.frames);
    return count;
}
inline plan::Micros worst_hitch(const Record& record) {
    plan::Micros worst;
    for (const loading::Hitch& hitch : record.hitches) worst = std::max(worst, hitch.length);
    return worst;
}

/// The least slack of any load that players could have outrun; unset where there is none.
inline std::optional<plan::Micros> worst_slack(const Record& record) {
    std::optional<plan::Micros> worst;
    for (const LevelOutcome& outcome : record.outcomes) {
        if (outcome.slack && !outcome.held && (!worst || *outcome.slack < *worst))
            worst = outcome.slack;
    }
    return worst;
}

/// How long all gaps last together.
inline plan::Micros gap_time(const Record& record) {
    plan::Micros sum;
    for (const Gap& gap : record.gaps) sum += gap.to - gap.from;
    return sum;
}

} // namespace hestrel::walk
