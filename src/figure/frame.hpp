#pragma once
// What figures have in common: a title, axes, a legend.

#include "figure/palette.hpp"
#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::figure {

/// One line of a legend.
struct Swatch {
    std::string text;
    std::string_view colour;
    enum class Kind : std::uint8_t { filled, hatched, line, dashed, dotted, diamond };
    Kind kind = Kind::filled;
};

constexpr double margin = 16;
constexpr double legend_row = 18;

/// The room that a title takes at the top of a sheet of this width.
double title_height(const std::string& title, double width);
void draw_title(Sheet& sheet, const std::string& title);

double legend_width(const std::vector<Swatch>& legend);
/// One below the other, from `at` on.
void draw_legend(Sheet& sheet, Point at, const std::vector<Swatch>& legend);
/// One beside the other, in as many rows as `width` asks for. Returns its height; with no sheet
/// only that.
double legend_line(Sheet* sheet, Point at, double width, const std::vector<Swatch>& legend);

/// Steps of 1, 2 or 5 times a power of ten, at most `most` of them up to `span`.
double tick_step(double span, int most);
/// A tick's number, without needless digits.
std::string tick_text(double value, double step);

/// The time axis that all figures of one record share, so that they fit below each other.
struct TimeFrame {
    double left = 0;
    double right = 0;
    double width = 0; ///< of the whole sheet
    plan::Micros end; ///< the axis ends there; at least a millisecond
    [[nodiscard]] double x(plan::Micros at) const;
};
/// With room for the rows' names on the left, and for legends on the right.
TimeFrame time_frame(const walk::Record& record, const std::vector<std::string>& rows,
                     const std::vector<Swatch>& legend);
/// Ticks, their numbers and the axis' name, below `bottom`; a grid from `top` down where wanted.
void draw_time_axis(Sheet& sheet, const TimeFrame& frame, double top, double bottom);
/// The grid by itself.
void draw_time_grid(Sheet& sheet, const TimeFrame& frame, double top, double bottom);
constexpr double time_axis_height = 44;
constexpr double memory_gap = 34; ///< between loads and the memory below them: its marks

/// An axis of values from 0 up, on the left of a time frame.
struct ValueAxis {
    double top = 0;
    double bottom = 0;
    double most = 1; ///< the value at `top`
    int most_ticks = 8;
    std::string unit; ///< stands above it
};
/// With a grid across the frame.
void draw_value_axis(Sheet& sheet, const TimeFrame& frame, const ValueAxis& axis);

/// "Glasswater Post, route first-round, device handheld".
std::string where_walked(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::figure
