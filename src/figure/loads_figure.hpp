#pragma once
// The loads figure: what became of each piece over time, when it was needed, and what hid it.

#include "figure/frame.hpp"
#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"
#include "walk/timeline.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::figure {

/// The colour and the word of what a piece is, the same in every figure.
std::string_view colour_of(walk::LevelCondition condition);
std::string_view word_of(walk::LevelCondition condition);

/// The rows of the figure: pieces in order of asking; where they are too many, those that took
/// longest or had gaps, and one row for the others together.
struct LoadRows {
    struct Row {
        std::string name;
        std::vector<loading::PieceId> pieces; ///< more than one: cells of a grid, or the others
        std::vector<walk::Stretch> stretches; ///< of several: where any of them is on its way
        plan::GridId grid = {};               ///< whose cells they are

        /// One piece by itself, whose every condition is drawn.
        [[nodiscard]] bool alone() const { return pieces.size() == 1 && !grid; }
    };
    std::vector<Row> rows;
    [[nodiscard]] std::vector<std::string> names() const;
};
constexpr std::size_t most_load_rows = 40;
constexpr double load_row_height = 18;

LoadRows load_rows(const plan::Plan& plan, const walk::Record& record);

std::vector<Swatch> loads_legend(const walk::Record& record, const LoadRows& rows);

Figure loads_figure(const plan::Plan& plan, const walk::Record& record, const LoadRows& rows,
                    const TimeFrame& frame);

// Parts of it, for who puts several on one sheet.

/// The times in which veils are up.
void draw_veils(Sheet& sheet, const plan::Plan& plan, const walk::Record& record,
                const TimeFrame& frame, double top, double bottom);
/// The rows, from `top` down.
void draw_load_rows(Sheet& sheet, const plan::Plan& plan, const walk::Record& record,
                    const LoadRows& rows, const TimeFrame& frame, double top);

} // namespace hestrel::figure
