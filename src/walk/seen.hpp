#pragma once
// What a player sees over a walk: its storyboard.

#include "walk/record.hpp"

#include <vector>

namespace hestrel::walk {

/// What a player sees for a while. Where several things are true the first of these counts.
struct Seen {
    enum class What : std::uint8_t {
        veil,    ///< veil
        gap,     ///< level that it stands in or could see, and that is not shown
        stalled, ///< level that it sees while it can't go on
        level,   ///< level: the innermost that it stands in, else what was switched to last
        black,   ///< nothing is shown, or the game boots
    };
    What what = What::black;
    std::uint32_t subject = 0; ///< veil or level; `no_level`: none
    plan::Micros from;
    plan::Micros to;

    static constexpr std::uint32_t no_level = UINT32_MAX;
};

/// From time 0 to the record's end, without breaks and in order; neighbours differ. Empty where the
/// player is on another machine, or the record takes no time.
std::vector<Seen> seen_by(const plan::Plan& plan, const Record& record, std::uint32_t player);

} // namespace hestrel::walk
