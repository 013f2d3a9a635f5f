#include "figure/frames_figure.hpp"

#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::figure {

using plan::Micros;

namespace {

constexpr double strip_height = 110;

double in_ms(Micros time) {
    return plan::in_seconds(time) * 1e3;
}

/// Where values stand.
struct Strip {
    const TimeFrame& frame;
    double top = 0;
    double bottom = 0;
    double most = 1; ///< ms

    [[nodiscard]] double y(Micros work) const {
        return bottom - (bottom - top) * in_ms(work) / most;
    }
};

std::string description(const plan::Plan& plan, const walk::Record& record) {
    const Micros most = plan::longest_frame(plan, plan.devices[record.device]);
    std::string text =
        fmt::format("A frame has at most {} of work, at {}; it may have {}.",
                    plan::frame_time(record.longest_frame),
                    tables::short_time(record.longest_frame_at), plan::frame_time(most));
    for (const walk::SlowFrames& slow : record.slow_frames)
        text += fmt::format(" Slow frames from {} to {}.", tables::short_time(slow.from),
                            tables::short_time(slow.to));
    return text;
}

} // namespace

std::vector<Swatch> frames_legend(const plan::Plan& plan, const walk::Record& record) {
    const plan::Device& device = plan.devices[record.device];
    std::vector<Swatch> legend{{fmt::format("{} {}", plan.limits.longest_frame ? "limit" : "period",
                                            plan::frame_time(plan::longest_frame(plan, device))),
                                palette::ink, Swatch::Kind::dashed},
                               {"what is shown", palette::shown_less},
                               {"base", palette::base}};
    if (!record.slow_frames.empty()) legend.push_back({"slow frames", palette::overrun});
    return legend;
}

Figure frames_figure(const plan::Plan& plan, const walk::Record& record, const TimeFrame& frame) {
    const plan::Device& device = plan.devices[record.device];
    const Micros most = plan::longest_frame(plan, device);
    const std::string title = "Frames – " + where_walked(plan, record);
    const std::vector<Swatch> legend = frames_legend(plan, record);
    Strip strip{frame};
    strip.top = title_height(title, frame.width) + 20;
    strip.bottom =
        strip.top + std::max(strip_height, legend_row * static_cast<double>(legend.size()));
    Micros longest = most;
    for (const loading::FrameRow& row : record.frames) longest = std::max(longest, row.work);
    constexpr double headroom = 1.1;
    strip.most = std::max(in_ms(longest), 1.0) * headroom;
    Figure figure{Sheet(frame.width, strip.bottom + time_axis_height), title,
                  description(plan, record)};
    Sheet& sheet = figure.sheet;
    draw_title(sheet, title);
    draw_value_axis(sheet, frame, {strip.top, strip.bottom, strip.most, 5, "ms"});
    draw_time_axis(sheet, frame, strip.bottom, strip.bottom);
    for (std::size_t i = 0; i < record.frames.size(); ++i) {
        const loading::FrameRow& row = record.frames[i];
        const Micros to = i + 1 < record.frames.size() ? record.frames[i + 1].at : record.end;
        if (to <= row.at) continue;
        const double left = frame.x(row.at);
        const double right = frame.x(to);
        sheet.rect({{left, strip.y(row.work)}, {right, strip.y(device.frame.base)}},
                   palette::shown_less);
        sheet.rect({{left, strip.y(device.frame.base)}, {right, strip.bottom}}, palette::base);
        sheet.hot({{left, strip.top}, {right, strip.bottom}},
                  fmt::format("{:.2f} to {:.2f} s: {} of work in every frame",
                              plan::in_seconds(row.at), plan::in_seconds(to),
                              plan::frame_time(row.work)));
    }
    for (const walk::SlowFrames& slow : record.slow_frames) {
        const Extent mark{{frame.x(slow.from), strip.top - 7},
                          {std::max(frame.x(slow.to), frame.x(slow.from) + 2), strip.top - 2}};
        sheet.rect(mark, palette::overrun);
        sheet.hot(mark, fmt::format("{:.2f} to {:.2f} s: frames last up to {}",
                                    plan::in_seconds(slow.from), plan::in_seconds(slow.to),
                                    plan::frame_text(plan, record.device, slow.work, slow.levels)));
    }
    sheet.line({{frame.left, strip.y(most)}, {frame.right, strip.y(most)}}, palette::ink, 2,
               Dash::dashed);
    draw_legend(sheet, {frame.right + margin, strip.top}, legend);
    return figure;
}

} // namespace hestrel::figure
