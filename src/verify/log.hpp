#pragma once
// What a built game has written about a play (docs/model.md section 13), with names as it wrote
// them.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace hestrel::verify {

/// One line of it.
struct LogEvent {
    /// What it tells beside what a walk tells of itself.
    enum class Figure : std::uint8_t {
        none,
        memory, ///< in use
        hitch,  ///< a frame took too long
    };
    plan::Micros at; ///< on the game's own clock
    walk::EventKind kind = walk::EventKind::ended;
    Figure figure = Figure::none; ///< wins over `kind`
    std::string subject;
    std::string detail;
    std::string player; ///< empty: nobody in particular
    plan::Bytes memory; ///< of a figure of that kind
    plan::Place place;  ///< where the log says so
};

/// It brings a level or kit, on its way or there.
constexpr bool comes(walk::EventKind kind) {
    using enum walk::EventKind;
    return kind == piece_queued || kind == piece_reading || kind == piece_unpacking ||
           kind == piece_making || kind == piece_resident || kind == level_ready ||
           kind == level_attaching || kind == level_shown;
}
/// It takes one out of sight, or out of memory.
constexpr bool goes(walk::EventKind kind) {
    using enum walk::EventKind;
    return kind == level_hidden || kind == level_unloaded || kind == piece_given_up ||
           kind == piece_released;
}

/// A log, whole: of one play, with as many sessions as launches.
struct Log {
    std::string name; ///< its file
    std::vector<LogEvent> events;
    /// How often events of other names are there, which are left out.
    std::map<std::string, std::size_t> others;
};

} // namespace hestrel::verify
