#pragma once
// The residency figure: levels down, the steps of a route across, and what each level was there.

#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"
#include "walk/timeline.hpp"

#include <string>
#include <vector>

namespace hestrel::figure {

/// What a level was while players took a step of their route; the strongest counts.
enum class Presence : std::uint8_t {
    absent,
    on_its_way, ///< queued, being read or unpacked, or leaving
    ready,      ///< resident, hidden
    shown,      ///< and not needed
    needed,     ///< and shown
    gap,        ///< needed, and not shown for a while
};

/// The data of the figure.
struct Residency {
    struct Column {
        std::string name; ///< the step, with the player's name where there are several
        plan::Micros from;
        plan::Micros to;
    };
    struct Row {
        std::string name;
        std::vector<plan::LevelId> levels; ///< more than one: lumped, the strongest counts
        std::vector<Presence> cells;       ///< by column
    };
    std::vector<Column> columns;
    std::vector<Row> rows;
};
constexpr std::size_t most_residency_rows = 44;
constexpr std::size_t most_residency_columns = 48;

/// Levels that were ever on their way or missing, in plan order; the boot, and steps that take
/// time.
Residency residency_of(const plan::Plan& plan, const walk::Record& record);

Figure residency_figure(const plan::Plan& plan, const walk::Record& record,
                        const Residency& residency);

} // namespace hestrel::figure
