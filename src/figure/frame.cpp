#include "figure/frame.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace hestrel::figure {

namespace {

constexpr double title_row = 20;
constexpr double swatch_width = 16;
constexpr double swatch_height = 11;
constexpr double swatch_gap = 6;
constexpr double entry_gap = 18;
constexpr double plot_width = 900;
constexpr double least_left = 76;

void draw_swatch(Sheet& sheet, Point at, const Swatch& swatch) {
    const Extent box{{at.x, at.y - swatch_height / 2},
                     {at.x + swatch_width, at.y + swatch_height / 2}};
    const std::vector<Point> line{{box.from.x, at.y}, {box.to.x, at.y}};
    switch (swatch.kind) {
    case Swatch::Kind::filled: sheet.rect(box, swatch.colour); break;
    case Swatch::Kind::hatched: sheet.rect(box, swatch.colour, Fill::hatched); break;
    case Swatch::Kind::line: sheet.line(line, swatch.colour, 3); break;
    case Swatch::Kind::dashed: sheet.line(line, swatch.colour, 2, Dash::dashed); break;
    case Swatch::Kind::dotted: sheet.line(line, swatch.colour, 1, Dash::dotted); break;
    case Swatch::Kind::diamond:
        sheet.diamond({at.x + swatch_width / 2, at.y}, swatch_height / 2, swatch.colour);
        break;
    }
    sheet.text({{box.to.x + swatch_gap, at.y},
                on_one_line(swatch.text),
                Align::left,
                normal_text,
                palette::ink});
}

double entry_width(const Swatch& swatch) {
    return swatch_width + swatch_gap + text_width(on_one_line(swatch.text), normal_text);
}

} // namespace

double title_height(const std::string& title, double width) {
    const auto lines = wrapped(title, title_text, width - 2 * margin);
    return margin + static_cast<double>(lines.size()) * title_row;
}

void draw_title(Sheet& sheet, const std::string& title) {
    double y = margin + title_row / 2;
    for (std::string& line : wrapped(title, title_text, sheet.width() - 2 * margin)) {
        sheet.text({{margin, y}, std::move(line), Align::left, title_text, palette::ink});
        y += title_row;
    }
}

double legend_width(const std::vector<Swatch>& legend) {
    double width = 0;
    for (const Swatch& swatch : legend) width = std::max(width, entry_width(swatch));
    return width;
}

void draw_legend(Sheet& sheet, Point at, const std::vector<Swatch>& legend) {
    for (const Swatch& swatch : legend) {
        draw_swatch(sheet, {at.x, at.y + legend_row / 2}, swatch);
        at.y += legend_row;
    }
}

double legend_line(Sheet* sheet, Point at, double width, const std::vector<Swatch>& legend) {
    Point next = at;
    for (const Swatch& swatch : legend) {
        const double wide = entry_width(swatch);
        if (next.x > at.x && next.x + wide > at.x + width) next = {at.x, next.y + legend_row};
        if (sheet != nullptr) draw_swatch(*sheet, {next.x, next.y + legend_row / 2}, swatch);
        next.x += wide + entry_gap;
    }
    return next.y + legend_row - at.y;
}

double tick_step(double span, int most) {
    if (!(span > 0)) return 1;
    const double raw = span / most;
    const double power = std::pow(10.0, std::floor(std::log10(raw)));
    for (const double factor : {1.0, 2.0, 5.0}) {
        if (factor * power >= raw * (1 - 1e-9)) return factor * power;
    }
    return 10 * power;
}

std::string tick_text(double value, double step) {
    const int digits = step >= 1 ? 0 : static_cast<int>(std::ceil(-std::log10(step) - 1e-9));
    return fmt::format("{:.{}f}", std::abs(value) < step / 2 ? 0.0 : value, digits); // no -0
}

double TimeFrame::x(plan::Micros at) const {
    const double share = plan::in_seconds(at) / plan::in_seconds(end);
    return left + (right - left) * std::clamp(share, 0.0, 1.0);
}

TimeFrame time_frame(const walk::Record& record, const std::vector<std::string>& rows,
                     const std::vector<Swatch>& legend) {
    TimeFrame frame;
    frame.left = least_left;
    for (const std::string& row : rows)
        frame.left = std::max(frame.left, text_width(row, normal_text) + 2 * margin);
    frame.right = frame.left + plot_width;
    frame.width = std::ceil(frame.right + 2 * margin + legend_width(legend));
    frame.end = std::max(record.end, plan::milliseconds(1));
    return frame;
}

namespace {

constexpr int most_time_ticks = 12;

}

void draw_time_grid(Sheet& sheet, const TimeFrame& frame, double top, double bottom) {
    const double end = plan::in_seconds(frame.end);
    const double step = tick_step(end, most_time_ticks);
    for (int i = 1; i * step <= end * (1 + 1e-9); ++i) {
        const double x = frame.left + (frame.right - frame.left) * (i * step / end);
        sheet.line({{x, top}, {x, bottom}}, palette::faint);
    }
}

void draw_time_axis(Sheet& sheet, const TimeFrame& frame, double top, double bottom) {
    constexpr double tick_length = 5;
    const double end = plan::in_seconds(frame.end);
    const double step = tick_step(end, most_time_ticks);
    for (int i = 0; i * step <= end * (1 + 1e-9); ++i) {
        const double x = frame.left + (frame.right - frame.left) * (i * step / end);
        if (i > 0) sheet.line({{x, top}, {x, bottom}}, palette::faint);
        sheet.line({{x, bottom}, {x, bottom + tick_length}}, palette::ink);
        sheet.text({{x, bottom + 3 * tick_length},
                    tick_text(i * step, step),
                    Align::centre,
                    normal_text,
                    palette::ink});
    }
    sheet.line({{frame.left, bottom}, {frame.right, bottom}}, palette::ink);
    sheet.text({{(frame.left + frame.right) / 2, bottom + time_axis_height - 10},
                "time (s)",
                Align::centre,
                normal_text,
                palette::ink});
}

void draw_value_axis(Sheet& sheet, const TimeFrame& frame, const ValueAxis& axis) {
    const double step = tick_step(axis.most, axis.most_ticks);
    for (int i = 0; i * step <= axis.most; ++i) {
        const double y = axis.bottom - (axis.bottom - axis.top) * i * step / axis.most;
        sheet.line({{frame.left, y}, {frame.right, y}}, palette::faint);
        sheet.text({{frame.left - 8, y},
                    tick_text(i * step, step),
                    Align::right,
                    normal_text,
                    palette::ink});
    }
    sheet.line({{frame.left, axis.top}, {frame.left, axis.bottom}}, palette::ink);
    sheet.text(
        {{frame.left - 8, axis.top - 14}, axis.unit, Align::right, normal_text, palette::ink});
}

std::string where_walked(const plan::Plan& plan, const walk::Record& record) {
    return fmt::format("{}, route {}, device {}", on_one_line(plan.name),
                       plan.routes[record.route].name, walk::device_text(plan, record));
}

} // namespace hestrel::figure
