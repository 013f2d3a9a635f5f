#include "walk/known_levels.hpp"

namespace hestrel::walk {

using flow::LevelChange;
using plan::LevelId;

void KnownLevels::tell_asked(LevelId level, OrderNumber order) {
    levels_[level].asked_by = order;
    asked_.insert(level);
}

void KnownLevels::tell_hidden(LevelId level, OrderNumber order,
                              std::vector<flow::LevelEvent>& events) {
    Known& known = levels_[level];
    known.hidden_by = order;
    if (known.shown) events.push_back({level, LevelChange::hidden});
    known.shown = false;
}

void KnownLevels::tell_unloaded(LevelId level, OrderNumber order,
                                std::vector<flow::LevelEvent>& events) {
    tell_hidden(level, order, events);
    levels_[level].unloaded_by = order;
    levels_[level].ready = false;
    if (asked_.erase(level) > 0) events.push_back({level, LevelChange::unloaded});
}

bool KnownLevels::learn(LevelId level, LevelChange change, OrderNumber carried_out) {
    Known& known = levels_[level];
    if (carried_out < known.unloaded_by) return false;
    switch (change) {
    case LevelChange::ready:
        if (known.ready) return false;
        known.ready = true;
        known.ready_after = carried_out;
        asked_.insert(level);
        return true;
    case LevelChange::shown:
        if (carried_out < known.hidden_by || known.shown) return false;
        known.shown = true;
        return true;
    case LevelChange::hidden: return std::exchange(known.shown, false);
    case LevelChange::unloaded: {
        const bool was_asked = asked_.contains(level);
        known.ready = false;
        known.shown = false;
        if (carried_out >= known.asked_by) asked_.erase(level); // else it is on its way again
        return was_asked;
    }
    }
    return false;
}

} // namespace hestrel::walk
