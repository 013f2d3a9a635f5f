#include "figure/chart.hpp"

#include "figure/frame.hpp"

#include <cmath>

namespace hestrel::figure {

namespace {

constexpr int most_chart_ticks = 6;

} // namespace

Chart::Chart(Sheet& sheet, const Extent& extent, Axis across, Axis up)
    : extent_(extent), across_(std::move(across)), up_(std::move(up)) {
    const auto ticks = [](const Axis& axis, auto&& draw) {
        const double step = tick_step(axis.to - axis.from, most_chart_ticks);
        for (double i = std::ceil(axis.from / step - 1e-9); i * step <= axis.to; ++i)
            draw(i * step + 0.0, tick_text(i * step + 0.0, step)); // no -0
    };
    ticks(across_, [&](double value, std::string text) {
        const double x = at(value, up_.from).x;
        sheet.line({{x, extent_.from.y}, {x, extent_.to.y}}, palette::faint);
        sheet.text(
            {{x, extent_.to.y + 12}, std::move(text), Align::centre, normal_text, palette::ink});
    });
    ticks(up_, [&](double value, std::string text) {
        const double y = at(across_.from, value).y;
        sheet.line({{extent_.from.x, y}, {extent_.to.x, y}}, palette::faint);
        sheet.text(
            {{extent_.from.x - 6, y}, std::move(text), Align::right, normal_text, palette::ink});
    });
    sheet.frame(extent_, palette::muted);
    const double middle = (extent_.from.x + extent_.to.x) / 2;
    sheet.text({{middle, extent_.from.y - top_room / 2},
                up_.name,
                Align::centre,
                normal_text,
                palette::ink});
    sheet.text(
        {{middle, extent_.to.y + 30}, across_.name, Align::centre, normal_text, palette::ink});
}

Point Chart::at(double x, double y) const {
    return {extent_.from.x + extent_.width() * (x - across_.from) / (across_.to - across_.from),
            extent_.to.y - (extent_.to.y - extent_.from.y) * (y - up_.from) / (up_.to - up_.from)};
}

} // namespace hestrel::figure
