#include "figure/calibration_figure.hpp"

#include "figure/chart.hpp"
#include "figure/frame.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::figure {

namespace {

using calibrate::Fitted;

constexpr double panel_width = 380;
constexpr double panel_height = 300;
constexpr double dot_radius = 2.2;

/// Time over size, in `extent`.
void draw_panel(Sheet& sheet, const Extent& extent, const Fitted& fitted) {
    double largest = 0;
    double longest = 0;
    for (const calibrate::Sample& sample : fitted.samples) {
        largest = std::max(largest, sample.size);
        longest = std::max(longest, sample.seconds);
    }
    constexpr double room = 1.05;
    largest *= room;
    longest *= room;
    // Milliseconds, where seconds would be small figures.
    const double scale = longest < 1 ? 1'000 : 1;
    std::string across(unit_of(fitted.part));
    if (fitted.part == calibrate::Part::read) across.insert(0, "packed, ");
    if (fitted.part == calibrate::Part::unpack) across.insert(0, "unpacked, ");
    if (fitted.part == calibrate::Part::make) across.insert(0, "as planned, ");
    const Chart chart(
        sheet, extent, {0, largest, across},
        {0, longest * scale, fmt::format("{}, {}", name_of(fitted.part), scale == 1 ? "s" : "ms")});
    const calibrate::Line& line = *fitted.line;
    for (std::size_t i = 0; i < fitted.samples.size(); ++i) {
        const Point point = chart.at(fitted.samples[i].size, fitted.samples[i].seconds * scale);
        if (line.outliers[i]) {
            sheet.diamond(point, 2 * dot_radius, palette::overrun);
        } else {
            sheet.disc(point, dot_radius, palette::shown_less);
        }
    }
    const double reach = std::min(largest, (longest - line.at_zero) / line.per_unit);
    sheet.line({chart.at(0, line.at_zero * scale), chart.at(reach, line.at(reach) * scale)},
               palette::ink, 1.5);
}

} // namespace

Figure calibration_figure(std::span<const Fitted> fitted, const std::string& log) {
    std::size_t panels = 0;
    bool any_outlier = false;
    for (const Fitted& each : fitted) {
        if (!each.line) continue;
        ++panels;
        any_outlier = any_outlier || each.line->used < each.samples.size();
    }
    const std::string title = fmt::format("Measured loads – {}", on_one_line(log));
    const double width = 2 * margin + static_cast<double>(std::max<std::size_t>(panels, 1)) *
                                          (panel_width + Chart::left_room);
    std::vector<Swatch> legend{{"measured", palette::shown_less},
                               {"fitted", palette::ink, Swatch::Kind::line}};
    if (any_outlier)
        legend.push_back({"outlier, left out", palette::overrun, Swatch::Kind::diamond});
    const double legend_top = title_height(title, width);
    const double top =
        legend_top + legend_line(nullptr, {}, width - 2 * margin, legend) + Chart::top_room;
    Figure figure{Sheet(width, top + panel_height + Chart::bottom_room + margin), title, {}};
    draw_title(figure.sheet, title);
    legend_line(&figure.sheet, {margin, legend_top}, width - 2 * margin, legend);
    double left = margin + Chart::left_room;
    for (const Fitted& each : fitted) {
        if (!each.line) continue;
        draw_panel(figure.sheet, {{left, top}, {left + panel_width - margin, top + panel_height}},
                   each);
        left += panel_width + Chart::left_room;
        figure.description += fmt::format(
            "{}{}: {} measured, {} left out.", figure.description.empty() ? "" : " ",
            name_of(each.part), each.samples.size(), each.samples.size() - each.line->used);
    }
    return figure;
}

} // namespace hestrel::figure
