#pragma once
// Why something would not begin a list of steps, or stream a level, where a log says that it did.

#include <cstdint>

namespace hestrel::flow {

enum class Objection : std::uint8_t {
    none,
    other_kind,      ///< a trigger for players of other tags
    not_live,        ///< no level to which the trigger belongs is shown
    does_not_hold,   ///< its `when`
    spent,           ///< `once`, and it has fired
    running,         ///< its steps are still running
    too_soon,        ///< its `rearm` has not passed
    not_open,        ///< the menu
    never_comes,     ///< the menu has no `after`
    never_streams,   ///< the level has no `near`
    session_is_over, ///< or nothing goes on any more
    never_booted,
};

} // namespace hestrel::flow
