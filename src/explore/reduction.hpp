#pragma once
// What exploring leaves out because it makes no difference, or none that counts.
//
// Levels that stream by distance can be left out of situations (folded_near.hpp). Of players who
// hurry, most situations differ only in which of the levels on their way have come: with ten on
// their way, 2^10. An end of a load that nothing goes by is invisible, and independent of all other
// moves; so it is never a move by itself (partial-order reduction: it is in no ample set; Clarke,
// Grumberg, Peled, Model Checking, 1999, chapter 10). It comes to pass with the move that needs it:
// a level that is attached has come, and what is unloaded had come if there was time. Their
// proviso, that nothing is put off forever round a circle, asks nothing more here: what is put off
// enables no other move. Nor does memory differ: a level on its way takes no less than one that has
// come, one that leaves no less than one that is gone.

#include "explore/asked_levels.hpp"
#include "explore/folded_near.hpp"
#include "flow/state.hpp"
#include "plan/lists.hpp"

namespace hestrel::explore {

struct Reduction {
    FoldedNear near;
    /// By level, empty where all are told: that it has come, and that it is attached, is no move.
    plan::Table<plan::LevelId, bool> comes_silently, shows_silently;

    [[nodiscard]] bool tells_coming(plan::LevelId level) const {
        return comes_silently.empty() || !comes_silently[level];
    }
    [[nodiscard]] bool tells_showing(plan::LevelId level) const {
        return shows_silently.empty() || !shows_silently[level];
    }
    /// The same while a switch may wait for it.
    [[nodiscard]] bool tells_coming(plan::LevelId level, const flow::State& now) const {
        return tells_coming(level) || is_switched_to(level, now);
    }
    [[nodiscard]] bool tells_showing(plan::LevelId level, const flow::State& now) const {
        return tells_showing(level) || is_switched_to(level, now);
    }
    [[nodiscard]] bool any_silent() const { return !comes_silently.empty(); }

private:
    [[nodiscard]] static bool is_switched_to(plan::LevelId level, const flow::State& now) {
        return now.switching && plan::contains(now.switching->family, level);
    }
};

/// Of loads whose ends nothing goes by, but for levels that somebody `also` asks about.
Reduction silent_ends(const plan::Plan& plan, const plan::LevelTree& tree, plan::EditionId edition,
                      const std::vector<plan::LevelId>& also);

} // namespace hestrel::explore
