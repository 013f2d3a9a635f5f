#pragma once
// The order inside a transition: what a list asks for, when nothing else is loading, and the order
// of asking in which players may go on soonest.

#include "loading/isolated.hpp"
#include "plan/plan.hpp"

#include <vector>

namespace hestrel::order {

/// One list of steps, or near rule, on one device.
struct TransitionOrder {
    plan::ListId list;  ///< unset: a near rule's
    plan::LevelId near; ///< the level that streams; set where `list` is not
    plan::DeviceId device;
    std::vector<plan::LevelId> asked; ///< not there already, in order of asking
    std::vector<plan::LevelId>
        awaited; ///< what players wait for; all that is asked where nothing does
    std::vector<loading::AlonePiece> pieces; ///< in order of asking, with times
    plan::Micros takes;                      ///< until all awaited are shown
    std::vector<plan::LevelId> best;         ///< the order of asking that takes least
    std::vector<loading::AlonePiece> best_pieces;
    plan::Micros best_takes;
    plan::Micros bound; ///< no order takes less than this
    bool exact = true;  ///< no order takes less than `best_takes`
};

/// Of so many levels all orders are weighed, but for those that a bound rules out; of more, what is
/// awaited is asked for first and neighbours are swapped for as long as that helps, and `bound`
/// shows how far off the result can be.
constexpr std::size_t most_tried = 10;
/// So many beginnings of orders are looked at at most, one that has to be loaded counting for ten:
/// several times what ten levels on any device were seen to need, and half a minute at the worst.
/// Beyond, the result is the best of what was looked at, and not `exact`.
constexpr std::size_t most_work = 50'000'000;

/// What every list asks for before it first waits, and every near rule, on a device; those that ask
/// for nothing that is not there where they are met are left out.
std::vector<TransitionOrder> order_transitions(const plan::Plan& plan, plan::DeviceId device);

} // namespace hestrel::order
