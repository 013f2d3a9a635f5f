#include "figure/sheet.hpp"

#include "figure/gnuplot.hpp"
#include "source/utf8.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace hestrel::figure {

namespace {

/// Advance widths of ' ' to '~' in DejaVu Sans, in thousandths of its size.
constexpr std::array<std::uint16_t, 95> ascii_widths{
    318, 401, 460, 838, 636, 950, 780, 275, 390, 390, 500, 838, 318, 361,  318, 337, 636, 636, 636,
    636, 636, 636, 636, 636, 636, 636, 337, 337, 838, 838, 838, 531, 1000, 684, 686, 698, 770, 632,
    575, 775, 752, 295, 295, 656, 557, 863, 748, 787, 603, 787, 695, 635,  611, 732, 684, 989, 685,
    611, 685, 390, 337, 390, 838, 500, 500, 613, 635, 550, 635, 615, 352,  635, 634, 278, 278, 579,
    278, 974, 634, 612, 635, 635, 411, 521, 392, 634, 592, 818, 592, 592,  525, 636, 337, 636, 838};
constexpr double letter = 0.72;       ///< of other alphabets
constexpr double ideograph = 1.02;    ///< and of scripts whose signs are as wide as high
constexpr std::size_t wide_bytes = 3; ///< so many UTF-8 bytes make a wide sign
constexpr double line_height = 1.2;   ///< of a text's size

double sign_width(std::string_view sign) {
    if (sign.size() >= wide_bytes) return ideograph;
    if (sign.size() > 1) return letter;
    const auto code = static_cast<unsigned char>(sign.front());
    if (code < ' ' || code > '~') return letter;
    return ascii_widths.at(code - ' ') / 1000.0;
}

} // namespace

double text_width(std::string_view text, double size) {
    double width = 0;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t length = source::sign_length(text, at);
        width += sign_width(text.substr(at, length));
        at += length;
    }
    return width * size;
}

Extent extent_of(const Text& text) {
    const double width = text_width(text.text, text.size);
    const double high = text.size * line_height / 2;
    double from = 0;
    if (text.align == Align::centre) from = -width / 2;
    if (text.align == Align::right) from = -width;
    const double angle = text.turn * std::numbers::pi / 180;
    const double along_x = std::cos(angle);
    const double along_y = -std::sin(angle);
    Extent extent{{1e9, 1e9}, {-1e9, -1e9}};
    for (const double u : {from, from + width}) {
        for (const double v : {-high, high}) {
            const Point corner{text.at.x + u * along_x - v * along_y,
                               text.at.y + u * along_y + v * along_x};
            extent.from = {std::min(extent.from.x, corner.x), std::min(extent.from.y, corner.y)};
            extent.to = {std::max(extent.to.x, corner.x), std::max(extent.to.y, corner.y)};
        }
    }
    return extent;
}

std::string on_one_line(std::string_view text) {
    std::string line(text);
    std::replace_if(
        line.begin(), line.end(), [](char c) { return c == '\n' || c == '\r' || c == '\t'; }, ' ');
    return line;
}

std::vector<std::string> wrapped(std::string_view text, double size, double width) {
    const std::string whole = on_one_line(text);
    std::vector<std::string> lines;
    std::size_t start = 0;
    while (start < whole.size()) {
        std::size_t end = start;
        std::size_t space = std::string::npos;
        double used = 0;
        while (end < whole.size()) {
            const std::size_t length = source::sign_length(whole, end);
            used += sign_width(std::string_view(whole).substr(end, length)) * size;
            if (used > width && end > start) break;
            if (whole[end] == ' ') space = end;
            end += length;
        }
        const bool at_space = end < whole.size() && space != std::string::npos && space > start;
        if (at_space) end = space;
        lines.push_back(whole.substr(start, end - start));
        start = at_space ? end + 1 : end;
    }
    return lines;
}

bool Sheet::Drawn::like(const Drawn& other) const {
    return filled == other.filled && colour == other.colour && fill == other.fill &&
           width == other.width && dash == other.dash;
}

void Sheet::add(Drawn drawn, std::vector<Point> shape) {
    if (drawn_.empty() || !drawn_.back().like(drawn)) drawn_.push_back(std::move(drawn));
    drawn_.back().shapes.push_back(std::move(shape));
}

void Sheet::polygon(std::vector<Point> corners, std::string_view colour, Fill fill) {
    add({true, colour, fill, 1, Dash::solid, {}}, std::move(corners));
}

void Sheet::rect(const Extent& extent, std::string_view colour, Fill fill) {
    polygon({extent.from, {extent.to.x, extent.from.y}, extent.to, {extent.from.x, extent.to.y}},
            colour, fill);
}

void Sheet::line(std::vector<Point> points, std::string_view colour, double width, Dash dash) {
    add({false, colour, Fill::solid, width, dash, {}}, std::move(points));
}

void Sheet::frame(const Extent& extent, std::string_view colour, double width, Dash dash) {
    line({extent.from,
          {extent.to.x, extent.from.y},
          extent.to,
          {extent.from.x, extent.to.y},
          extent.from},
         colour, width, dash);
}

void Sheet::disc(Point centre, double radius, std::string_view colour) {
    constexpr int corners = 12;
    std::vector<Point> ring;
    for (int i = 0; i < corners; ++i) {
        const double angle = 2 * std::numbers::pi * i / corners;
        ring.push_back({centre.x + radius * std::cos(angle), centre.y + radius * std::sin(angle)});
    }
    polygon(std::move(ring), colour);
}

void Sheet::diamond(Point centre, double radius, std::string_view colour) {
    polygon({{centre.x - radius, centre.y},
             {centre.x, centre.y - radius},
             {centre.x + radius, centre.y},
             {centre.x, centre.y + radius}},
            colour);
}

std::string Sheet::script() const {
    std::string script =
        fmt::format("unset border\nunset tics\nunset key\nset lmargin at screen 0\nset rmargin at "
                    "screen 1\nset bmargin at screen 0\nset tmargin at screen 1\nset xrange "
                    "[0:{0:.2f}]\nset yrange [{1:.2f}:0]\n",
                    width_, height_);
    std::string plots;
    for (std::size_t i = 0; i < drawn_.size(); ++i) {
        const Drawn& drawn = drawn_[i];
        script += fmt::format("$d{} << END\n", i);
        for (const auto& shape : drawn.shapes) {
            for (const Point& point : shape)
                script += fmt::format("{:.2f} {:.2f}\n", point.x, point.y);
            script += '\n';
        }
        script += "END\n";
        std::string style;
        if (drawn.filled) {
            style = fmt::format("with filledcurves closed fs {} fc rgb '{}'",
                                drawn.fill == Fill::solid ? "solid 1.0 noborder"
                                                          : "transparent pattern 4 noborder",
                                drawn.colour);
        } else {
            static constexpr std::array<std::string_view, 3> dashes{"1", "(6,4)", "(2,3)"};
            style = fmt::format("with lines lw {:.2f} dt {} lc rgb '{}'", drawn.width,
                                dashes.at(static_cast<std::size_t>(drawn.dash)), drawn.colour);
        }
        plots += fmt::format("{}$d{} using 1:2 {} notitle", plots.empty() ? "plot " : ", \\\n  ", i,
                             style);
    }
    static constexpr std::array<std::string_view, 3> aligns{"left", "center", "right"};
    for (const Text& text : texts_) {
        if (text.text.empty()) continue;
        script += fmt::format("set label {} at {:.2f},{:.2f} {}{} front tc rgb '{}' font ',{}'\n",
                              gnuplot_string(text.text), text.at.x, text.at.y,
                              aligns.at(static_cast<std::size_t>(text.align)),
                              text.turn == 0 ? "" : fmt::format(" rotate by {}", text.turn),
                              text.colour, text.size);
    }
    return script + (plots.empty() ? "plot NaN notitle" : plots) + "\n";
}

} // namespace hestrel::figure
