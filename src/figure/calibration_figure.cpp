#include "figure/calibration_figure.hpp"

#include "figure/frame.hpp"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace hestrel::figure {

namespace {

using calibrate::Fitted;

constexpr double panel_width = 380;
constexpr double panel_height = 300;
constexpr double axis_width = 62;
constexpr double panel_title = 24;
constexpr double dot_radius = 2.2;
constexpr int most_axis_ticks = 6;

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
    const auto at = [&](double size, double seconds) {
        return Point{extent.from.x + extent.width() * size / largest,
                     extent.to.y - (extent.to.y - extent.from.y) * seconds / longest};
    };
    const double size_step = tick_step(largest, most_axis_ticks);
    for (int i = 0; i * size_step <= largest; ++i) {
        const double x = at(i * size_step, 0).x;
        sheet.line({{x, extent.from.y}, {x, extent.to.y}}, palette::faint);
        sheet.text({{x, extent.to.y + 12},
                    tick_text(i * size_step, size_step),
                    Align::centre,
                    normal_text,
                    palette::ink});
    }
    const double time_step = tick_step(longest * scale, most_axis_ticks);
    for (int i = 0; i * time_step <= longest * scale; ++i) {
        const double y = at(0, i * time_step / scale).y;
        sheet.line({{extent.from.x, y}, {extent.to.x, y}}, palette::faint);
        sheet.text({{extent.from.x - 6, y},
                    tick_text(i * time_step, time_step),
                    Align::right,
                    normal_text,
                    palette::ink});
    }
    sheet.frame(extent, palette::muted);
    const calibrate::Line& line = *fitted.line;
    for (std::size_t i = 0; i < fitted.samples.size(); ++i) {
        const Point point = at(fitted.samples[i].size, fitted.samples[i].seconds);
        if (line.outliers[i]) {
            sheet.diamond(point, 2 * dot_radius, palette::overrun);
        } else {
            sheet.disc(point, dot_radius, palette::shown_less);
        }
    }
    const double reach = std::min(largest, (longest - line.at_zero) / line.per_unit);
    sheet.line({at(0, line.at_zero), at(reach, line.at(reach))}, palette::ink, 1.5);
    const double middle = (extent.from.x + extent.to.x) / 2;
    sheet.text({{middle, extent.from.y - panel_title / 2},
                fmt::format("{}, {}", name_of(fitted.part), scale == 1 ? "s" : "ms"),
                Align::centre,
                normal_text,
                palette::ink});
    const std::string_view unit = unit_of(fitted.part);
    sheet.text({{middle, extent.to.y + 30},
                std::string(fitted.part == calibrate::Part::read     ? "packed, "
                            : fitted.part == calibrate::Part::unpack ? "unpacked, "
                                                                     : "") +
                    std::string(unit),
                Align::centre,
                normal_text,
                palette::ink});
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
                                          (panel_width + axis_width);
    std::vector<Swatch> legend{{"measured", palette::shown_less},
                               {"fitted", palette::ink, Swatch::Kind::line}};
    if (any_outlier)
        legend.push_back({"outlier, left out", palette::overrun, Swatch::Kind::diamond});
    const double legend_top = title_height(title, width);
    const double top =
        legend_top + legend_line(nullptr, {}, width - 2 * margin, legend) + panel_title;
    Figure figure{Sheet(width, top + panel_height + time_axis_height + margin), title, {}};
    draw_title(figure.sheet, title);
    legend_line(&figure.sheet, {margin, legend_top}, width - 2 * margin, legend);
    double left = margin + axis_width;
    for (const Fitted& each : fitted) {
        if (!each.line) continue;
        draw_panel(figure.sheet, {{left, top}, {left + panel_width - margin, top + panel_height}},
                   each);
        left += panel_width + axis_width;
        figure.description += fmt::format(
            "{}{}: {} measured, {} left out.", figure.description.empty() ? "" : " ",
            name_of(each.part), each.samples.size(), each.samples.size() - each.line->used);
    }
    return figure;
}

} // namespace hestrel::figure
