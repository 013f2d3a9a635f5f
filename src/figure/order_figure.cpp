#include "figure/order_figure.hpp"

#include "figure/frame.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::figure {

using plan::Micros;

namespace {

constexpr double order_row_height = 20;
constexpr double order_bar_height = 12;
constexpr double head_height = 24;
constexpr double order_bars_width = 820;

std::string figures_of(const order::ParcelArrival& parcel) {
    std::string text = fmt::format("{}, arrives {}", tables::short_memory(parcel.size),
                                   tables::short_time(parcel.arrives));
    text += parcel.needed ? ", needed " + tables::short_time(*parcel.needed)
                          : std::string(", never needed");
    if (parcel.late.count > 0) text += ": " + tables::short_time(parcel.late) + " late";
    return text;
}

} // namespace

Figure order_figure(const plan::Plan& plan, const std::vector<order::ParcelOrder>& orders,
                    const std::vector<walk::Record>& records) {
    const plan::Edition& edition = plan.editions[orders.front().edition];
    const std::string title =
        fmt::format("Order – {}, parcels of edition {}", on_one_line(plan.name), edition.name);
    std::vector<Swatch> legend{{"arriving", palette::reading},
                               {"first needed", palette::ink, Swatch::Kind::diamond}};
    Micros end = plan::seconds(1);
    double left = 60;
    double figures_width = 0;
    double height = 0;
    bool late = false;
    for (const order::ParcelOrder& order : orders) {
        height += head_height;
        for (const order::ParcelArrival& parcel : order.worst().parcels) {
            height += order_row_height;
            end = std::max({end, parcel.arrives, parcel.needed.value_or(Micros{})});
            late = late || parcel.late.count > 0;
            left = std::max(left, text_width(edition.parcels[parcel.parcel].name, normal_text) +
                                      3 * margin);
            figures_width = std::max(figures_width, text_width(figures_of(parcel), normal_text));
        }
    }
    if (late) legend.push_back({"players wait", palette::gap});
    TimeFrame frame;
    frame.left = left;
    frame.right = left + order_bars_width;
    frame.width = frame.right + figures_width + 3 * margin;
    frame.end = end;
    const double legend_top = title_height(title, frame.width);
    const double top = legend_top + legend_line(nullptr, {}, frame.width, legend);
    const double bottom = top + height + 6;
    Figure figure{Sheet(frame.width, bottom + time_axis_height), title, {}};
    Sheet& sheet = figure.sheet;
    draw_title(sheet, title);
    legend_line(&sheet, {margin, legend_top}, frame.width - 2 * margin, legend);
    draw_time_axis(sheet, frame, top, bottom);
    double y = top;
    for (const order::ParcelOrder& order : orders) {
        const order::RouteDelivery& route = order.worst();
        const std::string head = fmt::format(
            "{}, {}: {} must be there before play begins", plan.devices[order.device].name,
            plan.routes[records[route.record].route].name, tables::short_memory(route.ahead));
        sheet.text(
            {{margin, y + head_height / 2 + 2}, head, Align::left, normal_text, palette::ink});
        figure.description += (figure.description.empty() ? "" : " ") + head + ".";
        y += head_height;
        Micros since;
        for (const order::ParcelArrival& parcel : route.parcels) {
            const double middle = y + order_row_height / 2;
            const auto strip = [&](Micros from, Micros to, double high) {
                const double x = frame.x(from);
                return Extent{{x, middle - high / 2},
                              {std::max(frame.x(to), x + 1), middle + high / 2}};
            };
            const std::string& name = edition.parcels[parcel.parcel].name;
            sheet.text({{left - 8, middle}, name, Align::right, normal_text, palette::ink});
            sheet.rect(strip(since, parcel.arrives, order_bar_height), palette::reading);
            if (parcel.late.count > 0)
                sheet.rect(strip(*parcel.needed, parcel.arrives, order_bar_height / 3),
                           palette::gap);
            if (parcel.needed)
                sheet.diamond({frame.x(*parcel.needed), middle}, order_bar_height / 2,
                              palette::ink);
            sheet.text({{frame.right + margin, middle},
                        figures_of(parcel),
                        Align::left,
                        normal_text,
                        parcel.late.count > 0 ? palette::overrun : palette::ink});
            sheet.hot({{frame.left, middle - order_row_height / 2},
                       {frame.right, middle + order_row_height / 2}},
                      fmt::format("parcel {}: {}", name, figures_of(parcel)));
            since = parcel.arrives;
            y += order_row_height;
        }
    }
    return figure;
}

} // namespace hestrel::figure
