#include "figure/heat_figure.hpp"

#include "explore/explored.hpp"
#include "figure/frame.hpp"
#include "figure/map_layout.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace hestrel::figure {

namespace {

/// How hot a place is: shares of the budget up to `to`.
struct Step {
    double to = 0;
    std::string_view colour;
    double radius = 0; ///< pixels
    std::string_view text;
};
constexpr std::array<Step, 5> heat_steps{{{0.5, palette::ready, 4, "up to 50% of the budget"},
                                          {0.75, palette::shown_less, 5, "up to 75%"},
                                          {0.9, palette::shown, 6, "up to 90%"},
                                          {1, palette::little_slack, 7, "up to 100%"},
                                          {1e300, palette::overrun, 9, "over budget"}}};

const Step& step_of(double share) {
    return *std::find_if(heat_steps.begin(), heat_steps.end(),
                         [&](const Step& step) { return share <= step.to; });
}

/// The tightest of a place.
struct Tightest {
    double share = 0;
    std::string said; ///< on which device, how much of what
};

/// To a tenth near the budget, where it matters on which side of it a place is.
std::string percent(double share) {
    const double of_hundred = 100 * std::min(share, 99.0);
    return fmt::format("{:.{}f}%", of_hundred, std::abs(of_hundred - 100) < 1.5 ? 1 : 0);
}

class Reckoning {
public:
    Reckoning(const explore::Explorer& explorer, HeatOf of)
        : explorer_(explorer), plan_(explorer.plan()), of_(of) {}

    [[nodiscard]] Tightest of(const explore::Heat& heat) const {
        const plan::DeviceId id = explorer_.options().devices[heat.device];
        const plan::Device& device = plan_.devices[id];
        if (of_ == HeatOf::frames) {
            const plan::Micros most = plan::longest_frame(plan_, device);
            return {share(heat.most.frame.count, most.count),
                    fmt::format("{}: a frame has {} of work, and may have {}", device.name,
                                plan::frame_time(heat.most.frame), plan::frame_time(most))};
        }
        Tightest tightest = memory(device.name, "", heat.most.total, device.memory.total);
        for (const auto& [pool, budget] : device.memory.pools) {
            Tightest one = memory(device.name, " of " + plan_.pools[pool],
                                  heat.most.pools[pool.value], budget);
            if (one.share > tightest.share) tightest = std::move(one);
        }
        return tightest;
    }

private:
    static double share(std::int64_t used, std::int64_t budget) {
        if (budget > 0) return static_cast<double>(used) / static_cast<double>(budget);
        return used > 0 ? 2 : 0; // over what there is not
    }
    static Tightest memory(const std::string& device, const std::string& what, plan::Bytes used,
                           plan::Bytes budget) {
        return {share(used.count, budget.count),
                fmt::format("{}: {} of {}{}", device, tables::short_mebibytes(used),
                            tables::short_memory(budget), what)};
    }

    const explore::Explorer& explorer_;
    const plan::Plan& plan_;
    HeatOf of_;
};

} // namespace

std::optional<Figure> heat_figure(const explore::Explorer& explorer,
                                  const std::vector<explore::Heat>& heat, HeatOf of) {
    const plan::Plan& plan = explorer.plan();
    if (heat.empty() || (of == HeatOf::frames && !plan::has_frame_costs(plan))) return std::nullopt;
    const Reckoning reckoning(explorer, of);
    std::map<plan::WaypointId, Tightest> places;
    for (const explore::Heat& each : heat) {
        Tightest tightest = reckoning.of(each);
        const auto [at, fresh] = places.try_emplace(each.at, tightest);
        if (!fresh && tightest.share > at->second.share) at->second = std::move(tightest);
    }
    std::vector<Swatch> legend = ground_legend(plan, {});
    for (const Step& step : heat_steps) {
        const bool any = std::any_of(places.begin(), places.end(), [&](const auto& place) {
            return &step_of(place.second.share) == &step;
        });
        if (any) legend.push_back({std::string(step.text), step.colour});
    }
    const std::string title = fmt::format("{} by place – {}, edition {}, any device",
                                          of == HeatOf::memory ? "Most memory" : "Longest frame",
                                          on_one_line(plan.name), explore::edition_name(explorer));
    const MapGround ground(plan);
    std::optional<Figure> figure =
        map_of(ground, title, legend, {}, [&](MapPanel& panel, plan::WorldId world) {
            panel.draw_places();
            for (const auto& [at, tightest] : places) {
                const plan::Waypoint& place = plan.waypoints[at];
                if (place.world != world) continue;
                const Step& step = step_of(tightest.share);
                panel.disc(place.at, step.radius, step.colour, place.name + "\n" + tightest.said,
                           percent(tightest.share));
            }
        });
    if (!figure) return std::nullopt;
    const auto worst =
        std::max_element(places.begin(), places.end(), [](const auto& one, const auto& other) {
            return one.second.share < other.second.share;
        });
    figure->description = fmt::format(
        "What any situation comes to while a player stands at each of {}. The tightest is {}, on "
        "{}.",
        tables::counted(places.size(), "place"), plan.waypoints[worst->first].name,
        worst->second.said);
    return figure;
}

} // namespace hestrel::figure
