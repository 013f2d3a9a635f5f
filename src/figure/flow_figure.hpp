#pragma once
// The flow figure: levels as boxes, an arrow for every way from one to another.

#include "figure/svg.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <string>
#include <vector>

namespace hestrel::figure {

/// One arrow: all ways from one box to another that one list makes.
struct FlowArrow {
    std::size_t from = 0; ///< boxes
    std::size_t to = 0;
    plan::ListId list;                 ///< the one with the least slack
    std::size_t lists = 1;             ///< how many lists lead there; a figure names one
    bool switches = false;             ///< any of them
    std::optional<plan::Micros> slack; ///< the least of any walk; unset: never needed
    std::size_t record = 0;            ///< the walk in which it was
};

/// The data of the figure. Sublevels are boxes inside their parent; where there are too many
/// levels, sublevels stand for their outermost level, and the levels with the fewest ways are one
/// box. Levels that no arrow leads from or to, nor from or to their sublevels, have no boxes.
struct FlowChart {
    struct Box {
        std::string name;
        std::string about;                 ///< title and how it streams; empty where there is none
        std::vector<plan::LevelId> levels; ///< none: anywhere
        std::vector<std::size_t> inside;   ///< boxes of its sublevels
        bool outermost = true;
    };
    std::vector<Box> boxes;
    std::vector<FlowArrow> arrows;
    std::size_t merged = 0; ///< levels without a box of their own
    /// Outermost levels without arrows, in plan order.
    struct Loose {
        plan::LevelId level;
        std::size_t sublevels = 0; ///< and below them, without cells of grids
    };
    std::vector<Loose> loose;
};
constexpr std::size_t most_flow_boxes = 48;
constexpr std::size_t most_loose_levels = 240; ///< that the figure names

FlowChart flow_chart(const plan::Plan& plan, const std::vector<walk::Record>& records);

/// The chart as a graph for Graphviz, as wide as a page, with the loose levels in rows below it.
/// Arrows are coloured by their slack against the plan's own limit.
Graph flow_figure(const plan::Plan& plan, const std::vector<walk::Record>& records,
                  const FlowChart& chart);

} // namespace hestrel::figure
