#pragma once
// What would mend a plan, and what it would cost (docs/model.md section 12): each piece of advice
// is a few small changes, has been walked, and asks for no more than is needed.

#include "advise/edits.hpp"
#include "advise/judge.hpp"
#include "advise/load_times.hpp"
#include "walk/casts.hpp"

#include <cstdint>
#include <functional>
#include <optional>
#include <string_view>
#include <vector>

namespace hestrel::advise {

/// What is to be done; the cheapest first.
enum class Kind : std::uint8_t {
    names_order, ///< a list names the level before others
    priority,    ///< it is read before what others ask for
    deepen,      ///< a trigger's shape reaches so many metres farther
    near,        ///< a near rule loads so many metres farther away
    wait,        ///< a fixed wait of so many tenths of a second
    veil_min,    ///< a veil that is there lasts so many tenths of a second
    veil,        ///< a new veil of so many tenths of a second
    gate,        ///< a new gate holds players until it is shown
    free_first,  ///< a switch lets the old levels go before it loads
    unload,      ///< a list unloads a level that nobody needs any more
    hide,        ///< a list hides it: frames are shorter
    let_go,      ///< a level that persists need not
    persist,     ///< a level is kept, so many MiB
    lighter,     ///< a level's own content is so many MiB smaller
    quicker,     ///< a level is made in so many tenths of a second less
    makers,      ///< a device has so many makers more
};

/// What a change does on one device, all routes together.
struct Effect {
    plan::DeviceId device;
    plan::Micros waiting_before, waiting_after; ///< boots, stalls, gaps and time under veils
    plan::Bytes peak_before, peak_after;        ///< the most of any route
    plan::Micros slow_before, slow_after;       ///< how long frames are slow, all routes together
};

/// One piece of advice.
struct Advice {
    Kind kind = Kind::names_order;
    std::vector<Edit> edits;
    std::int64_t amount =
        0;               ///< metres, tenths of a second, MiB or makers; 0 where it is not counted
    plan::LevelId level; ///< what it is about
    plan::ListId list;   ///< in which something changes; may be unset
    std::optional<Judgement> then;     ///< of the load it fixes, the worst of all devices
    std::optional<Judgement> one_less; ///< with one of them less
    std::vector<Harm> harms;           ///< what it makes worse elsewhere
    std::vector<Effect> effects;       ///< of what is about the plan as a whole
};

/// A load that players outrun, and what would mend it.
struct Problem {
    std::size_t load = 0;             ///< index into Advised::loads
    std::vector<plan::DeviceId> late; ///< devices on which it comes too late
    bool walked = true;    ///< walking shows it; else it is only reckoned, and nothing can be tried
    plan::Micros short_by; ///< on the worst of them, the wanted slack included
    plan::DeviceId worst;
    std::vector<Advice> fixes; ///< without harm first, then the cheapest first
};

/// How long loads under a veil take on a device: from its raising until all that is asked for while
/// it is up is shown, or ready where it is only loaded.
struct VeilTime {
    plan::VeilId veil;
    plan::DeviceId device;
    Cause cause; ///< the load that takes longest
    plan::LevelId level;
    plan::Micros takes; ///< isolated or in the worst contended, whichever is longer
    std::optional<ContendedTime> contended; ///< set where that is longer
    plan::Micros least;                     ///< `min` that hides it, in tenths of a second
};

/// A fixed wait against the load that it waits for.
struct WaitTime {
    plan::ListId list;
    std::size_t step = 0;
    plan::Micros time; ///< as the plan has it
    std::vector<plan::LevelId> levels;
    bool shown = false; ///< waits for them to be shown; else to be ready
    plan::DeviceId slowest;
    plan::Micros takes; ///< there
    plan::Micros least; ///< in tenths of a second, for all devices
    /// Where it is too short, or more than a second too long, and no problem's advice sets it.
    std::optional<Advice> fix;
};

/// A session with one of its machines keeping the game, walked (docs/model.md section 11).
struct KeeperTrial {
    walk::Cast cast;
    plan::MachineId keeper; ///< the first: as it is
    plan::Verdict verdict = plan::Verdict::fine;
    plan::Micros waiting; ///< stalls, gaps and time under veils, of all players
    plan::Micros others;  ///< how long machines wait for others, in all
};

struct Options {
    std::vector<plan::DeviceId> devices;
    unsigned jobs = 1;
    std::size_t most_problems = 20; ///< the worst; the others are only counted
    /// Of the problems that are looked into and the changes that are tried, kind by kind: called
    /// with what they are and how many when they begin, and after each. May be empty.
    std::function<void(std::string_view what, std::size_t of)> begins;
    std::function<void()> one_more;
};

struct Advised {
    plan::Micros wanted; ///< slack: the plan's limit, else none
    std::vector<Load> loads;
    std::vector<Problem> problems; ///< the worst first
    std::size_t more_problems = 0; ///< not looked into
    std::vector<VeilTime> veils;
    std::vector<WaitTime> waits;
    std::vector<KeeperTrial> keepers; ///< of sessions that several machines could keep
    std::vector<Advice> whole;        ///< about the plan as a whole

    /// Every piece of advice, in the order of the numbers that people see (from 1).
    [[nodiscard]] std::vector<const Advice*> all() const;
};

/// Works it all out. `records`: walks of the plan, whose routes tell of contended, and on which
/// each change is tried. The same on any number of jobs.
Advised advise(const plan::Plan& plan, const std::vector<walk::Record>& records,
               const Options& options);

/// Of that alone how far a trigger must reach so that what it loads comes in time: the first such
/// advice for any of its loads. Nothing where none of them is late, or reaching farther is no help.
std::optional<Advice> reach_of(const plan::Plan& plan, const std::vector<walk::Record>& records,
                               plan::TriggerId trigger, const std::vector<plan::DeviceId>& devices);

// --- its parts

/// What would mend one load; `problem.fixes` is set.
void find_fixes(const Judge& judge, const Load& load, plan::Micros wanted, Problem& problem);

/// The least of `to` units that is fine, where none is not; looked for around `guess`, up to
/// `most`. Nothing where that is not fine either. `fine(n)` is asked of numbers from 1 on.
template <class Fine>
std::optional<std::int64_t> least_amount(std::int64_t guess, std::int64_t most, Fine fine);

/// What is about the plan as a whole: levels that are better kept, or not, or let go sooner.
std::vector<Advice> whole_plan(const Judge& judge, const Options& options);

/// What a change does to waiting and memory.
std::vector<Effect> effects_of(const std::vector<walk::Record>& before,
                               const std::vector<walk::Record>& after);

/// The veils and fixed waits of a plan.
std::vector<VeilTime> veil_times(const study::Study& study,
                                 const std::vector<plan::DeviceId>& devices,
                                 const std::vector<walk::Record>& records);
std::vector<WaitTime> wait_times(const Judge& judge, const std::vector<Load>& loads,
                                 const Options& options);

/// Session after session, each machine that could keep the game, the one that does first.
std::vector<KeeperTrial> keeper_trials(const plan::Plan& plan,
                                       const std::vector<walk::Record>& records, unsigned jobs);

/// In microseconds.
inline constexpr std::int64_t tenth = 100'000;
/// A time in whole tenths of a second, rounded up.
std::int64_t tenths(plan::Micros time);

template <class Fine>
std::optional<std::int64_t> least_amount(std::int64_t guess, std::int64_t most, Fine fine) {
    std::int64_t not_fine = 0;
    std::int64_t is_fine = guess < 1 ? 1 : guess;
    if (is_fine > most) is_fine = most;
    if (is_fine < 1) return std::nullopt;
    while (!fine(is_fine)) {
        if (is_fine == most) return std::nullopt;
        not_fine = is_fine;
        is_fine = is_fine < most / 2 ? is_fine * 2 : most;
    }
    // The guess is mostly right, or one off: look just below first.
    for (std::int64_t step = 1; is_fine - not_fine > 1; step *= 2) {
        const std::int64_t tried =
            is_fine - step > not_fine ? is_fine - step : not_fine + (is_fine - not_fine) / 2;
        if (fine(tried)) {
            is_fine = tried;
        } else {
            not_fine = tried;
            step = 1;
            while (is_fine - not_fine > 1) {
                const std::int64_t middle = not_fine + (is_fine - not_fine) / 2;
                (fine(middle) ? is_fine : not_fine) = middle;
            }
        }
    }
    return is_fine;
}

} // namespace hestrel::advise
