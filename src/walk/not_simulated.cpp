#include "walk/not_simulated.hpp"

#include <algorithm>
#include <type_traits>

namespace hestrel::walk {

namespace {

using plan::Place;

/// Collects findings.
struct Collector {
    std::vector<plan::Finding> findings;

    void add(Place place, const std::string& what) {
        findings.push_back({plan::Severity::error,
                            "not-simulated",
                            place,
                            "this version can't walk " + what + " yet",
                            {}});
    }
    void add_if(bool there, Place place, const std::string& what) {
        if (there) add(place, what);
    }
};

template <class T>
constexpr bool walked = std::is_same_v<T, plan::LoadStep> || std::is_same_v<T, plan::ShowStep> ||
                        std::is_same_v<T, plan::HideStep> || std::is_same_v<T, plan::UnloadStep> ||
                        std::is_same_v<T, plan::KeepOnlyStep> ||
                        std::is_same_v<T, plan::WaitStep> || std::is_same_v<T, plan::VeilStep> ||
                        std::is_same_v<T, plan::UnveilStep> || std::is_same_v<T, plan::SwitchStep>;

void look_at(const plan::Step& step, Collector& collector) {
    std::visit(
        [&](const auto& what) {
            using What = std::decay_t<decltype(what)>;
            if constexpr (!walked<What>) collector.add(step.place, "this step");
            if constexpr (std::is_same_v<What, plan::WaitStep>) {
                collector.add_if(static_cast<bool>(what.until), step.place,
                                 "a wait until a condition");
            } else if constexpr (std::is_same_v<What, plan::SwitchStep>) {
                collector.add_if(!what.to, step.place, "a switch by position");
            } else if constexpr (std::is_same_v<What, plan::VeilStep> ||
                                 std::is_same_v<What, plan::UnveilStep>) {
                collector.add_if(what.who == plan::Who::firer, step.place, "a veil for one player");
            }
        },
        step.what);
}

void look_at(const plan::Trigger& trigger, Collector& collector) {
    collector.add_if(!std::holds_alternative<plan::Box>(trigger.shape), trigger.place,
                     "triggers without a box");
    collector.add_if(trigger.fires != plan::Fires::on_enter, trigger.place,
                     "triggers that fire other than on-enter");
    collector.add_if(!trigger.tags.empty(), trigger.place, "triggers for some players only");
    collector.add_if(static_cast<bool>(trigger.when), trigger.place, "triggers with a condition");
    collector.add_if(trigger.once || trigger.rearm.count > 0, trigger.place, "once and rearm");
}

void look_at(const plan::Route& route, Collector& collector) {
    collector.add_if(route.players.size() > 1, route.place, "several players");
    for (const plan::RouteStep& step : route.players.front().steps) {
        const bool known = std::holds_alternative<plan::GoStep>(step.what) ||
                           std::holds_alternative<plan::PressStep>(step.what) ||
                           std::holds_alternative<plan::PauseStep>(step.what);
        collector.add_if(!known, step.place, "this route step");
    }
}

} // namespace

std::vector<plan::Finding> not_simulated(const plan::Plan& plan) {
    Collector collector;
    for (const plan::Level& level : plan.levels) {
        collector.add_if(level.near.has_value(), level.place, "near");
        collector.add_if(level.arrive || level.leave, level.place, "arrive and leave steps");
    }
    for (const plan::Path& path : plan.paths)
        collector.add_if(static_cast<bool>(path.gate), path.place, "gates");
    for (const plan::Trigger& trigger : plan.triggers) look_at(trigger, collector);
    for (const plan::Menu& menu : plan.menus) {
        collector.add_if(menu.after || menu.pauses || !menu.in, menu.place,
                         "menus with after, pauses or no level");
    }
    for (const plan::Item& item : plan.items) {
        collector.add_if(item.when || item.stays, item.place, "items with when or stays");
    }
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) look_at(step, collector);
    }
    for (const plan::Route& route : plan.routes) look_at(route, collector);
    std::stable_sort(collector.findings.begin(), collector.findings.end(),
                     [](const auto& one, const auto& other) { return one.place < other.place; });
    return std::move(collector.findings);
}

} // namespace hestrel::walk
