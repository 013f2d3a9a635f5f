#pragma once
// The memory figure: what is held, stacked over time, against the device's budget.

#include "figure/frame.hpp"
#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::figure {

/// One band of the stack: what holds the memory and how much at each of `MemoryStack::times`.
struct Band {
    std::string name;
    std::string_view colour;
    std::vector<plan::Bytes> sizes;
};

/// The data of the figure. At each time the bands add up to the memory in use from then on.
struct MemoryStack {
    std::vector<plan::Micros>
        times;               ///< ascending, the moments at which memory changed, and the end
    std::vector<Band> bands; ///< from the bottom up
};

/// Stacks a record's holdings: base, players, all kits together, the nine levels (each with its
/// sublevels) that ever hold most, the other levels together, staging, veils.
MemoryStack memory_stack(const plan::Plan& plan, const walk::Record& record);

/// From the top band down, then the budget.
std::vector<Swatch> memory_legend(const plan::Plan& plan, const walk::Record& record,
                                  const MemoryStack& stack);

Figure memory_figure(const plan::Plan& plan, const walk::Record& record, const MemoryStack& stack,
                     const TimeFrame& frame);

// Parts of it, for who puts several on one sheet.

/// Its axis, so high that budget and peak fit.
ValueAxis memory_axis(const plan::Plan& plan, const walk::Record& record, double top,
                      double bottom);
/// What is held, transitions and the budget.
void draw_memory(Sheet& sheet, const plan::Plan& plan, const walk::Record& record,
                 const MemoryStack& stack, const TimeFrame& frame, const ValueAxis& axis);
/// What is held when, for who points at it.
void point_at_memory(Sheet& sheet, const plan::Plan& plan, const walk::Record& record,
                     const MemoryStack& stack, const TimeFrame& frame, const ValueAxis& axis);

} // namespace hestrel::figure
