#include "study/list_reading.hpp"

#include "geometry/crossing.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <set>
#include <type_traits>

namespace hestrel::study {

using plan::contains;
using plan::LevelId;

StepReading read_step(const plan::Step& step) {
    StepReading reading;
    reading.step = &step;
    std::visit(
        [&](const auto& what) {
            using What = std::decay_t<decltype(what)>;
            if constexpr (std::is_same_v<What, plan::LoadStep>) {
                reading.asks = what.levels;
            } else if constexpr (std::is_same_v<What, plan::ShowStep>) {
                reading.asks = what.levels;
                reading.shows = true;
            } else if constexpr (std::is_same_v<What, plan::SwitchStep>) {
                if (what.to) reading.asks.push_back(what.to);
                reading.asks.insert(reading.asks.end(), what.with.begin(), what.with.end());
                reading.shows = true;
                reading.switches = &what;
                reading.behind = what.veil;
            } else if constexpr (std::is_same_v<What, plan::WaitStep>) {
                reading.waits = &what;
            } else if constexpr (std::is_same_v<What, plan::HideStep>) {
                reading.hides = &what.levels;
            } else if constexpr (std::is_same_v<What, plan::UnloadStep>) {
                reading.unloads = &what.levels;
            } else if constexpr (std::is_same_v<What, plan::KeepOnlyStep>) {
                reading.keeps = &what.levels;
            } else if constexpr (std::is_same_v<What, plan::VeilStep>) {
                reading.raises = what.veil;
            } else if constexpr (std::is_same_v<What, plan::UnveilStep>) {
                reading.takes_down = what.veil;
            } else if constexpr (std::is_same_v<What, plan::MarkStep>) {
                reading.marks = what.level;
            } else if constexpr (std::is_same_v<What, plan::PlaceStep>) {
                reading.behind = what.veil;
            } else if constexpr (std::is_same_v<What, plan::ReturnStep>) {
                reading.asks = what.how.with;
                reading.shows = true;
                reading.behind = what.how.veil;
            }
            reading.freezes = std::is_same_v<What, plan::FreezeStep>;
            reading.thaws = std::is_same_v<What, plan::ThawStep>;
            reading.places = std::is_same_v<What, plan::PlaceStep>;
            reading.returns = std::is_same_v<What, plan::ReturnStep>;
            reading.may_do_more =
                std::is_same_v<What, plan::ChooseStep> || std::is_same_v<What, plan::CaseStep>;
        },
        step.what);
    return reading;
}

std::vector<StepReading> read_list(const plan::StepList& list) {
    std::vector<StepReading> readings;
    readings.reserve(list.steps.size());
    for (const plan::Step& step : list.steps) readings.push_back(read_step(step));
    return readings;
}

std::vector<LevelId> near_levels(const plan::Plan& plan, plan::WaypointId at) {
    std::vector<LevelId> levels;
    if (!at) return levels;
    const plan::Waypoint& waypoint = plan.waypoints[at];
    for (const LevelId id : plan.levels.ids()) {
        const plan::Level& level = plan.levels[id];
        if (!level.near || level.world != waypoint.world) continue;
        if (std::any_of(level.area.begin(), level.area.end(), [&](const plan::Box& box) {
                return geometry::is_near(box, level.near->load, waypoint.at);
            }))
            levels.push_back(id);
    }
    return levels;
}

std::vector<StepReading> read_list(const plan::Plan& plan, const plan::StepList& list) {
    std::vector<StepReading> readings = read_list(list);
    for (StepReading& reading : readings) {
        if (const auto* place = std::get_if<plan::PlaceStep>(&reading.step->what))
            reading.comes_near = near_levels(plan, place->at);
    }
    return readings;
}

const plan::SwitchStep* switch_of(const plan::Step& step) {
    return std::get_if<plan::SwitchStep>(&step.what);
}

std::vector<LevelId> levels_called(const plan::Step& step) {
    return read_step(step).called();
}

bool hides_loading(const plan::StepList& list) {
    return std::any_of(list.steps.begin(), list.steps.end(), [](const plan::Step& step) {
        const StepReading reading = read_step(step);
        return reading.covers() || reading.switches != nullptr;
    });
}

Hiding hiding_of(const plan::Plan& plan, const plan::StepList& list) {
    Hiding hiding;
    bool covered = false;
    for (const StepReading& step : read_list(list)) {
        covered = covered || step.covers();
        if (step.raises) hiding.hidden = std::max(hiding.hidden, plan.veils[step.raises].min);
        const plan::WaitStep* wait = step.waits;
        if (wait == nullptr || !covered) continue;
        if (wait->time) hiding.hidden = std::max(hiding.hidden, *wait->time);
        if (wait->awaited == plan::Awaited::shown && !wait->at_most)
            hiding.held.insert(hiding.held.end(), wait->levels.begin(), wait->levels.end());
    }
    return hiding;
}

Asking asking_of(const plan::Plan& plan, const plan::StepList& list) {
    Asking asking;
    for (const StepReading& step : read_list(list)) {
        if (step.waits != nullptr) {
            if (asking.asked.empty()) continue;
            plan::append_new(asking.awaited,
                             plan::all_looked_at(plan, step.waits->levels, step.waits->any_of));
            break;
        }
        plan::append_new(asking.asked, step.asks);
        if (step.switches == nullptr || step.asks.empty()) continue;
        plan::append_new(asking.awaited, step.asks);
        break;
    }
    std::set<LevelId> at_gates;
    for (const plan::Gate& gate : plan.gates) {
        const bool meant =
            std::any_of(asking.asked.begin(), asking.asked.end(),
                        [&](LevelId level) { return plan::needs(plan, gate, level); });
        if (!meant || !asking.awaited.empty()) continue;
        at_gates.insert(gate.needs.begin(), gate.needs.end());
        for (const plan::GroupId group : gate.any_of) { // of these what is asked for
            for (const LevelId level : plan.groups[group].levels) {
                if (contains(asking.asked, level)) at_gates.insert(level);
            }
        }
    }
    plan::append_new(asking.awaited, {at_gates.begin(), at_gates.end()});
    if (asking.awaited.empty()) asking.awaited = asking.asked;
    return asking;
}

namespace {

/// Whether a step behind a fixed wait relies on `levels` having been loaded by then.
bool relies_on_load(const StepReading& step, const std::vector<LevelId>& levels) {
    // Taking away the very levels that were waited for needs nothing of them.
    const auto takes_others = [&](const std::vector<LevelId>& taken) {
        return std::any_of(taken.begin(), taken.end(),
                           [&](LevelId level) { return !contains(levels, level); });
    };
    if (step.hides != nullptr) return takes_others(*step.hides);
    if (step.unloads != nullptr) return takes_others(*step.unloads);
    const bool shows = step.shows && step.switches == nullptr;
    return shows || step.takes_down || step.thaws || step.places;
}

} // namespace

std::vector<FixedWait> fixed_waits(const plan::Plan& plan, const plan::StepList& list) {
    std::vector<FixedWait> found;
    std::vector<LevelId> loading;
    bool shown = false;
    FixedWait open;
    const std::vector<StepReading> steps = read_list(plan, list);
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const StepReading& step = steps[i];
        const bool asks = !step.asks.empty() && step.switches == nullptr;
        if (asks && !(step.shows && open.step != nullptr)) {
            loading.insert(loading.end(), step.asks.begin(), step.asks.end());
            shown = shown || step.shows;
        } else if (step.waits != nullptr) {
            if (step.waits->time && !loading.empty()) {
                open = {step.step, i, open.time + *step.waits->time, shown, loading};
            } else {
                loading.clear();
                open = {};
            }
        }
        if (open.step != nullptr && relies_on_load(step, open.levels)) {
            found.push_back(open);
            open = {};
            loading.clear();
        }
        shown = shown || !step.comes_near.empty();
        plan::append_new(loading, step.comes_near);
    }
    return found;
}

} // namespace hestrel::study
