#include "figure/budget_figure.hpp"

#include "figure/frame.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace hestrel::figure {

using plan::Bytes;
using plan::DeviceId;

namespace {

constexpr double budget_row_height = 20;
constexpr double budget_bar_height = 13;
constexpr double group_gap = 10;
constexpr double budget_bars_width = 560;

double share(const BudgetBar& bar) {
    return bar.budget.count == 0
               ? 0
               : static_cast<double>(bar.most.count) / static_cast<double>(bar.budget.count);
}

/// The bars that fit.
std::vector<BudgetBar> fitting(std::vector<BudgetBar> bars) {
    if (bars.size() <= most_budget_bars) return bars;
    std::erase_if(bars, [](const BudgetBar& bar) { return bool(bar.pool); });
    if (bars.size() <= most_budget_bars) return bars;
    std::stable_sort(bars.begin(), bars.end(), [](const BudgetBar& one, const BudgetBar& other) {
        return share(one) > share(other);
    });
    bars.resize(most_budget_bars);
    std::stable_sort(bars.begin(), bars.end(), [](const BudgetBar& one, const BudgetBar& other) {
        return one.device < other.device;
    });
    return bars;
}

std::string name_of(const plan::Plan& plan, const BudgetBar& bar) {
    return bar.pool ? plan.pools[bar.pool] : plan.devices[bar.device].name;
}

std::string figures_of(const plan::Plan& plan, const std::vector<walk::Record>& records,
                       const BudgetBar& bar) {
    return fmt::format("{} of {} – {}, {}", tables::short_mebibytes(bar.most),
                       tables::short_memory(bar.budget),
                       plan.routes[records[bar.record].route].name, tables::short_time(bar.at));
}

} // namespace

std::vector<BudgetBar> budget_bars(const plan::Plan& plan,
                                   const std::vector<walk::Record>& records) {
    std::vector<BudgetBar> bars;
    std::set<DeviceId> walked;
    for (const walk::Record& record : records) walked.insert(record.device);
    for (const DeviceId device : walked) {
        const plan::MemoryBudget& memory = plan.devices[device].memory;
        std::vector<BudgetBar> of_device{{device, {}, memory.total, {}, 0, {}}};
        for (const auto& [pool, budget] : memory.pools)
            of_device.push_back({device, pool, budget, {}, 0, {}});
        for (std::size_t i = 0; i < records.size(); ++i) {
            if (records[i].device != device) continue;
            for (const loading::MemoryRow& row : records[i].memory) {
                for (BudgetBar& bar : of_device) {
                    const Bytes used = bar.pool ? row.pools[bar.pool.value] : row.total;
                    if (used <= bar.most) continue;
                    bar.most = used;
                    bar.record = i;
                    bar.at = row.at;
                }
            }
        }
        bars.insert(bars.end(), of_device.begin(), of_device.end());
    }
    return bars;
}

Figure budget_figure(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    const std::vector<BudgetBar> all = budget_bars(plan, records);
    const std::vector<BudgetBar> bars = fitting(all);
    const std::string title =
        fmt::format("Budget – {}, the most in use on any route walked", on_one_line(plan.name));
    double left = 60;
    double figures_width = 0;
    double highest = 1;
    double height = 0;
    for (const BudgetBar& bar : bars) {
        left = std::max(left, text_width(name_of(plan, bar), normal_text) + 3 * margin);
        figures_width =
            std::max(figures_width, text_width(figures_of(plan, records, bar), normal_text));
        highest = std::max(highest, share(bar));
        height += budget_row_height + (bar.pool ? 0 : group_gap);
    }
    std::vector<Swatch> legend{{"in use", palette::shown},
                               {"the budget", palette::ink, Swatch::Kind::dashed}};
    if (highest > 1) legend.push_back({"over the budget", palette::overrun});
    const double right = left + budget_bars_width;
    const double width = std::ceil(right + figures_width + 3 * margin);
    const double legend_top = title_height(title, width);
    const double top = legend_top + legend_line(nullptr, {}, width - 2 * margin, legend);
    const double bottom = top + height + group_gap;
    const bool left_out = bars.size() < all.size();
    Figure figure{Sheet(width, bottom + time_axis_height + (left_out ? legend_row : 0)), title, {}};
    Sheet& sheet = figure.sheet;
    draw_title(sheet, title);
    legend_line(&sheet, {margin, legend_top}, width - 2 * margin, legend);
    const double most = highest * 1.04;
    const auto x = [&](double value) { return left + (right - left) * value / most; };
    constexpr int most_ticks = 8;
    const double step = tick_step(most, most_ticks);
    for (int i = 0; i * step <= most; ++i) {
        sheet.line({{x(i * step), top}, {x(i * step), bottom}}, palette::faint);
        sheet.text({{x(i * step), bottom + 12},
                    tick_text(100 * i * step, 100 * step),
                    Align::centre,
                    normal_text,
                    palette::ink});
    }
    double y = top;
    for (const BudgetBar& bar : bars) {
        if (!bar.pool) y += group_gap;
        const double middle = y + budget_row_height / 2;
        const double over_from = std::min(share(bar), 1.0);
        const auto strip = [&](double from, double to) {
            return Extent{{x(from), middle - budget_bar_height / 2},
                          {x(to), middle + budget_bar_height / 2}};
        };
        sheet.rect(strip(0, over_from), palette::shown);
        if (share(bar) > 1) sheet.rect(strip(1, share(bar)), palette::overrun);
        const std::string figures = figures_of(plan, records, bar);
        sheet.text({{left - 8, middle},
                    name_of(plan, bar),
                    Align::right,
                    normal_text,
                    bar.pool ? palette::muted : palette::ink});
        sheet.text({{right + margin, middle},
                    figures,
                    Align::left,
                    normal_text,
                    share(bar) > 1 ? palette::overrun : palette::ink});
        sheet.hot(strip(0, most), fmt::format("{} {}: {}", plan.devices[bar.device].name,
                                              bar.pool ? plan.pools[bar.pool] : "total", figures));
        figure.description += fmt::format("{}{} {}: {}.", figure.description.empty() ? "" : " ",
                                          plan.devices[bar.device].name,
                                          bar.pool ? plan.pools[bar.pool] : "total", figures);
        y += budget_row_height;
    }
    sheet.line({{x(1), top}, {x(1), bottom}}, palette::ink, 2, Dash::dashed);
    sheet.text({{(left + right) / 2, bottom + time_axis_height - 12},
                "share of the budget (%)",
                Align::centre,
                normal_text,
                palette::ink});
    if (left_out) {
        sheet.text({{margin, bottom + time_axis_height + 2},
                    fmt::format("{} of {} bars: pools, and devices further from their budget, are "
                                "left out",
                                bars.size(), all.size()),
                    Align::left,
                    small_text,
                    palette::muted});
    }
    return figure;
}

} // namespace hestrel::figure
