#pragma once
// What is going to happen in a walk, apart from loading: an event queue whose events can be called
// off.

#include "loading/loader.hpp"

#include <cstdint>
#include <functional>
#include <queue>
#include <vector>

namespace hestrel::walk {

/// One event to come.
struct Planned {
    enum class Kind : std::uint8_t {
        crossing,  ///< index: which crossing of the player's present piece of way
        piece_end, ///< the player is at the end of its present piece of way
        pause_end, ///< the player's `pause` is over
        patience,  ///< index: step of the player's route, an `expect` whose time is over
        alarm,     ///< index: an alarm of the interpreter's
        parcel,    ///< index: one that arrives
        join,      ///< of a machine: its boot begins
        order,     ///< to a machine: the next one arrives
        message,   ///< from a machine: the next one arrives
        cue,       ///< index: of what a script tells
    };
    loading::Due due;
    Kind kind = Kind::crossing;
    std::uint32_t of = 0;         ///< the player, or the machine
    std::uint32_t generation = 0; ///< holds while the player's, or the machine's, is the same
    std::uint32_t index = 0;

    bool operator>(const Planned& other) const { return due > other.due; }
};

/// Events in the order in which they happen.
using Agenda = std::priority_queue<Planned, std::vector<Planned>, std::greater<>>;

} // namespace hestrel::walk
