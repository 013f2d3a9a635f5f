#include "figure/spread_figure.hpp"

#include "figure/chart.hpp"
#include "figure/frame.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::figure {

namespace {

using spread::Measure;

constexpr double histogram_width = 560;
constexpr double histogram_height = 260;
constexpr std::size_t bins = 40;

double in_unit(Measure measure, std::int64_t value) {
    return measure == Measure::peak ? plan::in_mebibytes({value}) : plan::in_seconds({value});
}

struct Histogram {
    double from = 0;
    double to = 1;
    std::vector<double> shares; ///< of all trials, by bin
};

Histogram histogram_of(const std::vector<std::int64_t>& values, Measure measure,
                       std::size_t trials) {
    const auto [least, most] = std::minmax_element(values.begin(), values.end());
    Histogram histogram{in_unit(measure, *least), in_unit(measure, *most),
                        std::vector<double>(bins)};
    for (const std::int64_t value : values) {
        const double place =
            (in_unit(measure, value) - histogram.from) / (histogram.to - histogram.from);
        const auto bin = static_cast<std::size_t>(place * static_cast<double>(bins));
        histogram.shares[std::min(bin, bins - 1)] += 100 / static_cast<double>(trials);
    }
    return histogram;
}

void draw_histogram(Sheet& sheet, const Extent& extent, const tables::TrialSet& set,
                    Measure measure, const spread::Trial& walk) {
    const auto values = spread::values_of(set.trials, measure);
    const Histogram histogram = histogram_of(values, measure, set.trials.size());
    const double tallest = *std::max_element(histogram.shares.begin(), histogram.shares.end());
    constexpr double room = 1.08;
    const double margin_across = (histogram.to - histogram.from) / 50;
    double from = histogram.from;
    double to = histogram.to;
    const auto walked = spread::values_of(std::span(&walk, 1), measure);
    if (!walked.empty()) {
        from = std::min(from, in_unit(measure, walked.front()));
        to = std::max(to, in_unit(measure, walked.front()));
    }
    const Chart chart(
        sheet, extent,
        {from - margin_across, to + margin_across,
         fmt::format("{}, {}", name_of(measure), measure == Measure::peak ? "MiB" : "s")},
        {0, tallest * room, "% of trials"});
    const double width = (histogram.to - histogram.from) / static_cast<double>(bins);
    for (std::size_t bin = 0; bin < bins; ++bin) {
        if (histogram.shares[bin] == 0) continue;
        const double left = histogram.from + static_cast<double>(bin) * width;
        const Point low = chart.at(left, 0);
        const Point high = chart.at(left + width, histogram.shares[bin]);
        const Extent bar{{low.x, high.y}, {high.x, low.y}};
        const bool late = measure == Measure::slack && left + width <= 0;
        sheet.rect(bar, late ? palette::overrun : palette::shown);
        sheet.hot(bar, fmt::format("{:.2f} to {:.2f}: {:.1f} % of trials", left, left + width,
                                   histogram.shares[bin]));
    }
    if (walked.empty()) return;
    const double x = in_unit(measure, walked.front());
    sheet.line({chart.at(x, 0), chart.at(x, tallest * room)}, palette::ink, 1.5, Dash::dashed);
}

} // namespace

Figure spread_figure(const plan::Plan& plan, const tables::TrialSet& set,
                     const spread::Trial& walk) {
    const std::string title =
        fmt::format("Spread over {} trials – {}, route {}, device {}", set.trials.size(),
                    on_one_line(plan.name), plan.routes[set.cast.route].name,
                    walk::devices_text(plan, set.cast.devices));
    std::vector<Measure> drawn;
    bool late = false;
    for (const Measure measure : {Measure::slack, Measure::stalls}) {
        const auto values = spread::values_of(set.trials, measure);
        if (values.empty()) continue;
        const auto [least, most] = std::minmax_element(values.begin(), values.end());
        if (*least == *most) continue;
        drawn.push_back(measure);
        late = late || (measure == Measure::slack && *least < 0);
    }
    std::vector<Swatch> legend{{"trials", palette::shown},
                               {"the plan as it is", palette::ink, Swatch::Kind::dashed}};
    if (late) legend.push_back({"late", palette::overrun});
    const double panel = histogram_width + Chart::left_room;
    const double width =
        2 * margin + panel * static_cast<double>(std::max<std::size_t>(1, drawn.size()));
    const double legend_top = title_height(title, width);
    const double top =
        legend_top + legend_line(nullptr, {}, width - 2 * margin, legend) + Chart::top_room;
    Figure figure{Sheet(width, top + histogram_height + Chart::bottom_room), title, {}};
    draw_title(figure.sheet, title);
    legend_line(&figure.sheet, {margin, legend_top}, width - 2 * margin, legend);
    double left = margin + Chart::left_room;
    for (const Measure measure : drawn) {
        draw_histogram(figure.sheet,
                       {{left, top}, {left + histogram_width - margin, top + histogram_height}},
                       set, measure, walk);
        left += panel;
        figure.description +=
            fmt::format("{}{}: half of the trials within {}, 99 % within {}.",
                        figure.description.empty() ? "" : " ", name_of(measure),
                        tables::measure_text(measure, *within(set.trials, measure, 0.5)),
                        tables::measure_text(measure, *within(set.trials, measure, 0.99)));
    }
    if (drawn.empty()) {
        figure.description = "Neither slack nor stalls vary.";
        figure.sheet.text(
            {{margin, top}, figure.description, Align::left, normal_text, palette::muted});
    }
    return figure;
}

} // namespace hestrel::figure
