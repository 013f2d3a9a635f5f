#include "figure/memory_figure.hpp"

#include "plan/level_tree.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <functional>
#include <map>
#include <numeric>
#include <set>

namespace hestrel::figure {

using loading::Holder;
using loading::Holding;
using plan::Bytes;
using plan::LevelId;
using plan::Micros;

namespace {

constexpr double plot_height = 360;
constexpr double marks_height = 22;

/// What several holdings take together, as changes at some of the times.
class Changes {
public:
    /// A holding, from the first time at which it is held to the first at which it is not.
    void add(const std::vector<Micros>& times, const Holding& holding) {
        const auto at = [&](Micros moment) {
            return static_cast<std::size_t>(std::lower_bound(times.begin(), times.end(), moment) -
                                            times.begin());
        };
        const std::size_t from = at(holding.from);
        const std::size_t to = holding.to >= times.back() ? times.size() : at(holding.to);
        if (from >= to) return;
        changes_.emplace_back(from, holding.size);
        changes_.emplace_back(to, Bytes{-holding.size.count});
    }
    /// The most at any time.
    [[nodiscard]] Bytes most() {
        std::sort(changes_.begin(), changes_.end(),
                  [](const auto& one, const auto& other) { return one.first < other.first; });
        Bytes held;
        Bytes highest;
        for (std::size_t i = 0; i < changes_.size(); ++i) {
            held += changes_[i].second;
            const bool last = i + 1 == changes_.size() || changes_[i + 1].first > changes_[i].first;
            if (last) highest = std::max(highest, held);
        }
        return highest;
    }
    /// At each time.
    [[nodiscard]] std::vector<Bytes> sizes(std::size_t times) const {
        std::vector<Bytes> all(times + 1);
        for (const auto& [at, change] : changes_) all[at] += change;
        all.pop_back();
        std::partial_sum(all.begin(), all.end(), all.begin(), std::plus<>());
        return all;
    }
    void append(const Changes& others) {
        changes_.insert(changes_.end(), others.changes_.begin(), others.changes_.end());
    }

private:
    std::vector<std::pair<std::size_t, Bytes>> changes_; ///< by number of the time
};

/// What a level holds, with its sublevels.
struct LevelHoldings {
    Changes changes;
    std::set<std::uint32_t> pieces;
};

/// Which level, with its sublevels, a piece's memory is counted to; unset for a kit.
LevelId counted_to(const plan::Plan& plan, std::uint32_t piece) {
    return piece < plan.levels.size() ? plan::root_of(plan.levels, LevelId{piece}) : LevelId{};
}

/// By outermost level, in plan order.
std::map<LevelId, LevelHoldings> holdings_of_levels(const plan::Plan& plan,
                                                    const walk::Record& record,
                                                    const std::vector<Micros>& times) {
    std::map<LevelId, LevelHoldings> levels;
    for (const Holding& holding : record.holdings) {
        if (holding.holder != Holder::piece || holding.size.count == 0) continue;
        const LevelId level = counted_to(plan, holding.index);
        if (!level) continue;
        LevelHoldings& of_level = levels[level];
        of_level.changes.add(times, holding);
        of_level.pieces.insert(holding.index);
    }
    return levels;
}

std::string band_name(const plan::Plan& plan, LevelId level, const LevelHoldings& holdings) {
    const std::size_t sublevels =
        holdings.pieces.size() - (holdings.pieces.contains(level.value) ? 1 : 0);
    if (sublevels == 0) return plan.levels[level].name;
    return fmt::format("{} + {} sublevel{}", plan.levels[level].name, sublevels,
                       sublevels == 1 ? "" : "s");
}

/// A band for each level, the smallest joined, so that as many are left as there are colours.
void add_levels(const plan::Plan& plan, std::map<LevelId, LevelHoldings>&& levels,
                std::vector<Band>& bands, std::size_t times) {
    std::vector<std::pair<Bytes, LevelId>> ranked;
    for (auto& [level, holdings] : levels) ranked.emplace_back(holdings.changes.most(), level);
    std::stable_sort(ranked.begin(), ranked.end(),
                     [](const auto& one, const auto& other) { return one.first > other.first; });
    std::set<LevelId> alone;
    for (std::size_t i = 0; i < ranked.size() && i < palette::levels.size(); ++i)
        alone.insert(ranked[i].second);
    std::string others_name = fmt::format("{} other levels", levels.size() - alone.size());
    Changes others;
    std::size_t colour = 0;
    for (const auto& [level, holdings] : levels) {
        std::string name = band_name(plan, level, holdings);
        if (alone.contains(level)) {
            bands.push_back(
                {std::move(name), palette::levels.at(colour++), holdings.changes.sizes(times)});
            continue;
        }
        others.append(holdings.changes);
        if (levels.size() == alone.size() + 1) others_name = std::move(name);
    }
    bands.push_back({std::move(others_name), palette::others, others.sizes(times)});
}

/// The stack's columns that a figure can tell apart: of those in one pixel the highest.
std::vector<std::size_t> columns_of(const MemoryStack& stack, const TimeFrame& frame) {
    std::vector<std::size_t> columns;
    Bytes highest;
    double since = -1;
    for (std::size_t i = 0; i < stack.times.size(); ++i) {
        Bytes height;
        for (const Band& band : stack.bands) height += band.sizes[i];
        const double x = frame.x(stack.times[i]);
        const bool last = i + 1 == stack.times.size();
        if (columns.empty() || x - since >= 1 || last) {
            columns.push_back(i);
            highest = height;
            since = x;
        } else if (height > highest) {
            columns.back() = i;
            highest = height;
        }
    }
    return columns;
}

/// A line of steps through the columns, left to right, without needless points.
std::vector<Point> steps(const std::vector<double>& xs, const std::vector<double>& ys) {
    std::vector<Point> points;
    for (std::size_t i = 0; i < xs.size(); ++i) {
        const bool level = i > 0 && ys[i] == ys[i - 1];
        if (level && i + 1 < xs.size()) continue;
        if (i > 0) points.push_back({xs[i], ys[i - 1]});
        if (!level) points.push_back({xs[i], ys[i]});
    }
    return points;
}

struct Plot {
    const TimeFrame& frame;
    double top = 0;
    double bottom = 0;
    double most = 1; ///< MiB at the top
    [[nodiscard]] double y(Bytes size) const {
        return bottom - (bottom - top) * plan::in_mebibytes(size) / most;
    }
};

void draw_bands(Sheet& sheet, const Plot& plot, const MemoryStack& stack, Bytes budget) {
    const std::vector<std::size_t> columns = columns_of(stack, plot.frame);
    std::vector<double> xs;
    for (const std::size_t i : columns) xs.push_back(plot.frame.x(stack.times[i]));
    std::vector<Bytes> below(columns.size());
    const auto edge = [&](const std::vector<Bytes>& heights) {
        std::vector<double> ys;
        for (const Bytes height : heights) ys.push_back(plot.y(height));
        return steps(xs, ys);
    };
    const auto between = [&](const std::vector<Bytes>& low, const std::vector<Bytes>& high) {
        std::vector<Point> corners = edge(low);
        std::vector<Point> upper = edge(high);
        corners.insert(corners.end(), upper.rbegin(), upper.rend());
        return corners;
    };
    for (const Band& band : stack.bands) {
        std::vector<Bytes> above = below;
        for (std::size_t i = 0; i < columns.size(); ++i) above[i] += band.sizes[columns[i]];
        sheet.polygon(between(below, above), band.colour);
        below = std::move(above);
    }
    std::vector<Bytes> allowed;
    for (const Bytes height : below) allowed.push_back(std::min(height, budget));
    if (allowed != below) sheet.polygon(between(allowed, below), palette::overrun, Fill::hatched);
}

/// What is held, stretch by stretch, for who points at it.
void add_hot(Sheet& sheet, const Plot& plot, const MemoryStack& stack, Bytes budget) {
    const std::vector<std::size_t> columns = columns_of(stack, plot.frame);
    for (std::size_t column = 0; column + 1 < columns.size(); ++column) {
        const std::size_t i = columns[column];
        const Micros next = stack.times[columns[column + 1]];
        Bytes total;
        std::string parts;
        for (auto band = stack.bands.rbegin(); band != stack.bands.rend(); ++band) {
            const Bytes size = band->sizes[i];
            total += size;
            if (size.count > 0)
                parts += fmt::format("\n{}: {}", band->name, tables::short_mebibytes(size));
        }
        sheet.hot({{plot.frame.x(stack.times[i]), plot.top}, {plot.frame.x(next), plot.bottom}},
                  fmt::format("{:.2f} to {:.2f} s: {} of {}{}", plan::in_seconds(stack.times[i]),
                              plan::in_seconds(next), tables::short_mebibytes(total),
                              tables::short_memory(budget), parts));
    }
}

/// A line where each transition began, with its number where there is room for it.
void draw_transitions(Sheet& sheet, const Plot& plot, const walk::Record& record) {
    double free_from = 0;
    double line_from = 0;
    for (const walk::Transition& transition : record.transitions) {
        if (transition.elsewhere) continue;
        const double x = plot.frame.x(transition.fired);
        if (x >= line_from) {
            sheet.line({{x, plot.top - 6}, {x, plot.bottom}}, palette::muted, 0.5, Dash::dotted);
            line_from = x + 1;
        }
        Text number{{x, plot.top - 13},
                    std::to_string(transition.number),
                    Align::centre,
                    small_text,
                    palette::muted};
        const Extent room = extent_of(number);
        if (room.from.x < free_from) continue;
        free_from = room.to.x + 4;
        sheet.text(std::move(number));
    }
}

std::string memory_description(const plan::Plan& plan, const walk::Record& record) {
    const Bytes budget = plan.devices[record.device].memory.total;
    std::string text =
        fmt::format("At most {} of {} are in use, at {}.", tables::short_mebibytes(record.peak),
                    tables::short_memory(budget), tables::short_time(record.peak_at));
    std::size_t most_named = 3;
    for (const Holding& holding : record.at_peak) {
        if (most_named-- == 0) break;
        text += fmt::format(" {} holds {}.", tables::holder_name(plan, holding),
                            tables::short_memory(holding.size));
    }
    if (!record.overruns.empty())
        text += fmt::format(" Over a budget {}.", tables::counted(record.overruns.size(), "time"));
    return text;
}

} // namespace

MemoryStack memory_stack(const plan::Plan& plan, const walk::Record& record) {
    MemoryStack stack;
    for (const loading::MemoryRow& row : record.memory) stack.times.push_back(row.at);
    Micros end = record.end;
    if (!stack.times.empty()) end = std::max(end, stack.times.back());
    if (stack.times.empty() || stack.times.back() < end) stack.times.push_back(end);

    Changes base;
    Changes players;
    Changes kits;
    Changes staging;
    Changes veils;
    for (const Holding& holding : record.holdings) {
        switch (holding.holder) {
        case Holder::base: base.add(stack.times, holding); break;
        case Holder::players: players.add(stack.times, holding); break;
        case Holder::staging: staging.add(stack.times, holding); break;
        case Holder::veil: veils.add(stack.times, holding); break;
        case Holder::piece:
            if (!counted_to(plan, holding.index)) kits.add(stack.times, holding);
            break;
        }
    }
    const auto add_band = [&](const char* name, std::string_view colour, const Changes& changes) {
        stack.bands.push_back({name, colour, changes.sizes(stack.times.size())});
    };
    add_band("base", palette::base, base);
    add_band("players", palette::players, players);
    add_band("kits", palette::kits, kits);
    add_levels(plan, holdings_of_levels(plan, record, stack.times), stack.bands,
               stack.times.size());
    add_band("staging", palette::staging, staging);
    add_band("veils", palette::veils, veils);
    std::erase_if(stack.bands, [](const Band& band) {
        return std::max_element(band.sizes.begin(), band.sizes.end())->count == 0;
    });
    return stack;
}

std::vector<Swatch> memory_legend(const plan::Plan& plan, const walk::Record& record,
                                  const MemoryStack& stack) {
    const Bytes budget = plan.devices[record.device].memory.total;
    std::vector<Swatch> legend{
        {"budget " + tables::short_memory(budget), palette::ink, Swatch::Kind::dashed}};
    if (record.peak > budget)
        legend.push_back({"over budget", palette::overrun, Swatch::Kind::hatched});
    for (auto band = stack.bands.rbegin(); band != stack.bands.rend(); ++band)
        legend.push_back({band->name, band->colour, Swatch::Kind::filled});
    if (!record.transitions.empty())
        legend.push_back({"transition, by number", palette::muted, Swatch::Kind::dotted});
    return legend;
}

ValueAxis memory_axis(const plan::Plan& plan, const walk::Record& record, double top,
                      double bottom) {
    const Bytes budget = plan.devices[record.device].memory.total;
    constexpr double headroom = 1.06;
    const double most =
        std::max({plan::in_mebibytes(record.peak), plan::in_mebibytes(budget), 1.0}) * headroom;
    return {top, bottom, most, bottom - top < plot_height ? 4 : 8, "MiB"};
}

void draw_memory(Sheet& sheet, const plan::Plan& plan, const walk::Record& record,
                 const MemoryStack& stack, const TimeFrame& frame, const ValueAxis& axis) {
    const Bytes budget = plan.devices[record.device].memory.total;
    const Plot plot{frame, axis.top, axis.bottom, axis.most};
    draw_bands(sheet, plot, stack, budget);
    draw_transitions(sheet, plot, record);
    sheet.line({{frame.left, plot.y(budget)}, {frame.right, plot.y(budget)}}, palette::ink, 2,
               Dash::dashed);
}

void point_at_memory(Sheet& sheet, const plan::Plan& plan, const walk::Record& record,
                     const MemoryStack& stack, const TimeFrame& frame, const ValueAxis& axis) {
    const Plot plot{frame, axis.top, axis.bottom, axis.most};
    add_hot(sheet, plot, stack, plan.devices[record.device].memory.total);
}

Figure memory_figure(const plan::Plan& plan, const walk::Record& record, const MemoryStack& stack,
                     const TimeFrame& frame) {
    const std::string title = "Memory – " + where_walked(plan, record);
    const std::vector<Swatch> legend = memory_legend(plan, record, stack);
    const double top = title_height(title, frame.width) + marks_height;
    const double bottom =
        top + std::max(plot_height, legend_row * static_cast<double>(legend.size()));
    Figure figure{Sheet(frame.width, bottom + time_axis_height), title,
                  memory_description(plan, record)};
    draw_title(figure.sheet, title);
    const ValueAxis axis = memory_axis(plan, record, top, bottom);
    draw_value_axis(figure.sheet, frame, axis);
    draw_time_axis(figure.sheet, frame, bottom, bottom);
    draw_memory(figure.sheet, plan, record, stack, frame, axis);
    draw_legend(figure.sheet, {frame.right + margin, top}, legend);
    point_at_memory(figure.sheet, plan, record, stack, frame, axis);
    return figure;
}

} // namespace hestrel::figure
