// Rules about the ways players come: around a trigger, into one, too soon after it.

#include "check/context.hpp"
#include "loading/alone.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <queue>

namespace hestrel::check {

using geometry::end_of;
using geometry::Leg;
using plan::LevelId;
using plan::Micros;
using plan::ThingKind;
using plan::TriggerId;
using plan::WaypointId;
using Crossed = ComingFrom::Crossed;

namespace {

/// A gate on that path holds players until one of `levels` (sorted) is shown.
bool gated_for(const plan::Plan& plan, plan::PathId path, const std::vector<LevelId>& levels) {
    const plan::GateId gate = plan.paths[path].gate;
    if (!gate) return false;
    const auto& needs = plan.gates[gate].needs;
    return std::any_of(needs.begin(), needs.end(),
                       [&](LevelId level) { return among(levels, level); });
}

std::string names_of(const plan::Plan& plan, const std::vector<TriggerId>& triggers) {
    constexpr std::size_t most = 3;
    std::string names;
    for (std::size_t i = 0; i < std::min(most, triggers.size()); ++i)
        names += (i == 0 ? "" : ", ") + plan.triggers[triggers[i]].name;
    return names + (triggers.size() > most ? ", …" : "");
}

// --- way-around
// ---------------------------------------------------------------------------------------

/// Whether crossing a trigger can leave `level` unloaded.
bool lets_go(const Context& context, TriggerId trigger, LevelId level) {
    const Effects& effect = context.effects[context.plan.triggers[trigger].steps];
    const bool left = effect.leaves_all && !among(effect.keeps, level);
    return among(effect.unloads, level) || (left && !context.plan.levels[level].persist);
}

/// What it means for `level` that players crossed a trigger that does not bring it.
Crossed crossed_elsewhere(const Context& context, TriggerId id, LevelId level) {
    const plan::Trigger& trigger = context.plan.triggers[id];
    // Nobody walks on from where it takes everyone somewhere else.
    if (context.effects[trigger.steps].moves_on && !trigger.when) return Crossed::stops;
    return lets_go(context, id, level) ? Crossed::found : Crossed::nothing;
}

/// Whether players can find themselves at a waypoint while nothing has asked for `level`.
bool begin_without(const Context& context, WaypointId waypoint, LevelId level) {
    const auto& here = context.arrivals_at[waypoint];
    return std::any_of(here.begin(), here.end(), [&](std::size_t arrival) {
        return !among(context.arrivals[arrival].asked, level);
    });
}

std::string origin_text(const plan::Plan& plan, const ComingFrom::Origin& origin) {
    return origin.trigger
               ? "the trigger " + plan.triggers[origin.trigger].name + ", which lets it go,"
               : plan.waypoints[origin.waypoint].name;
}

} // namespace

void way_around(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    ComingFrom search(plan, context.map);
    for (const LevelId level : plan.levels.ids()) {
        const std::vector<TriggerId>& bringers = context.brought_by[level];
        const bool always = among(context.always, level) || plan.levels[level].near;
        if (bringers.empty() || always || !context.sound({ThingKind::level, level.value})) continue;
        const std::vector<LevelId> itself{level};
        search.inside = level;
        search.crossed = [&](TriggerId trigger) {
            if (contains(bringers, trigger)) return Crossed::stops;
            return crossed_elsewhere(context, trigger, level);
        };
        search.standing = [&](WaypointId waypoint) {
            return begin_without(context, waypoint, level) ? Crossed::found : Crossed::nothing;
        };
        search.closed = [&](Leg leg) { return gated_for(plan, leg.path, itself); };
        for (const plan::PathId path : context.map.paths_into[level]) {
            if (gated_for(plan, path, itself)) continue;
            std::optional<ComingFrom::Origin> origin;
            for (const Leg leg : legs_of(plan, path)) {
                for (const Need& need : context.map.needs[path]) {
                    if (need.level != level || !need.area || origin) continue;
                    const Part part = context.map.on_leg(leg, need.from, need.to);
                    if (part.from > 0) origin = search.search(leg, part.from);
                }
            }
            if (!origin) continue;
            report.add(plan.paths[path].place, {ThingKind::level, level.value},
                       "players who come from " + origin_text(plan, *origin) + " get into " +
                           plan.levels[level].name +
                           " on this path without crossing what brings it (" +
                           names_of(plan, bringers) + ")");
        }
    }
}

// --- switch-before-gate
// -------------------------------------------------------------------------------

void switch_before_gate(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    ComingFrom search(plan, context.map);
    for (const plan::PathId path : plan.paths.ids()) {
        const plan::GateId gate = plan.paths[path].gate;
        if (!gate) continue;
        std::vector<LevelId> needs = plan.gates[gate].needs;
        std::sort(needs.begin(), needs.end());
        TriggerId first;
        search.crossed = [&](TriggerId id) {
            const plan::Trigger& trigger = plan.triggers[id];
            const Effects& effect = context.effects[trigger.steps];
            const bool brings_all =
                std::includes(effect.asks.begin(), effect.asks.end(), needs.begin(), needs.end());
            if (!effect.switches || brings_all || trigger.when) return Crossed::nothing;
            if (!first) first = id;
            return Crossed::stops;
        };
        search.standing = [&](WaypointId waypoint) {
            return context.arrivals_at[waypoint].empty() ? Crossed::nothing : Crossed::found;
        };
        // Nobody has come through the gate that this is about.
        search.closed = [&](Leg leg) { return leg.path == path; };
        if (search.search(plan.paths[path].from) || !first) continue;
        report.add(
            plan.triggers[first].place, {ThingKind::trigger, first.value},
            "players come into this trigger, which switches away, before they reach the gate " +
                plan.gates[gate].name);
    }
}

// --- trigger-too-late
// ---------------------------------------------------------------------------------

namespace {

/// The shortest time from crossing a trigger to needing a level, at top speed; searches no further
/// than `most` seconds.
class SoonestNeed {
public:
    SoonestNeed(const Context& context, TriggerId trigger, LevelId level, double top, double most)
        : context_(context), map_(context.map), trigger_(trigger), level_(level), top_(top),
          soonest_(most) {}

    /// Seconds; `most` where it is not needed sooner.
    double seconds() {
        const plan::Plan& plan = context_.plan;
        const bool on_exit = plan.triggers[trigger_].fires == plan::Fires::on_exit;
        for (const plan::PathId path : map_.paths_through[trigger_]) {
            for (const Leg leg : legs_of(plan, path)) {
                for (const Meeting& meeting : map_.meetings[path]) {
                    if (meeting.trigger != trigger_) continue;
                    const Part part = map_.on_leg(leg, meeting.from, meeting.to);
                    const double from = on_exit ? part.to : part.from;
                    // Inside from the leg's start on: it fired before that.
                    if ((!on_exit && from <= 0) || gated(leg)) continue;
                    walk(leg, from, 0);
                }
            }
        }
        while (!open_.empty()) {
            const auto [time, at] = open_.top();
            open_.pop();
            if (time >= soonest_) break;
            if (const auto best = reached_.find(at.value); best->second < time) continue;
            for (const Leg leg : map_.legs_from[at]) {
                if (!gated(leg)) walk(leg, 0, time);
            }
        }
        return soonest_;
    }

private:
    [[nodiscard]] bool gated(Leg leg) const {
        return gated_for(context_.plan, leg.path,
                         context_.effects[context_.plan.triggers[trigger_].steps].asks);
    }

    void walk(Leg leg, double from, double time) {
        const double speed = std::min(top_, context_.plan.paths[leg.path].speed.value_or(top_));
        for (const Need& need : map_.needs[leg.path]) {
            if (need.level != level_) continue;
            const Part part = map_.on_leg(leg, need.from, need.to);
            if (part.to < from) continue;
            soonest_ = std::min(soonest_, time + std::max(0.0, part.from - from) / speed);
        }
        const double end = time + (map_.lengths[leg.path] - from) / speed;
        if (end >= soonest_) return;
        const WaypointId at = end_of(context_.plan, leg);
        auto [best, fresh] = reached_.try_emplace(at.value, end);
        if (!fresh && best->second <= end) return;
        best->second = end;
        open_.emplace(end, at);
    }

    using Candidate = std::pair<double, WaypointId>;
    const Context& context_;
    const Geography& map_;
    TriggerId trigger_;
    LevelId level_;
    double top_;
    double soonest_;
    std::map<std::uint32_t, double> reached_; ///< by waypoint: soonest there
    std::priority_queue<Candidate, std::vector<Candidate>, std::greater<>> open_;
};

/// Whether a list hides what it loads, or holds players meanwhile.
bool hides_loading(const plan::StepList& list) {
    return std::any_of(list.steps.begin(), list.steps.end(), [](const plan::Step& step) {
        return std::holds_alternative<plan::VeilStep>(step.what) ||
               std::holds_alternative<plan::FreezeStep>(step.what) || switch_of(step) != nullptr;
    });
}

/// How far behind its need a trigger's load is, on the device where that is worst.
struct Late {
    plan::DeviceId device;
    Micros load;
    double need = 0; ///< seconds
    std::string others;
};

std::optional<Late> how_late(const Context& context, TriggerId id, LevelId level, double top,
                             const loading::LoadedAlone& what) {
    const plan::Plan& plan = context.plan;
    double most = 0;
    for (const loading::Catalogue& catalogue : context.catalogues)
        most = std::max(most, plan::in_seconds(loading::load_alone_at_most(catalogue, what)));
    const double need = SoonestNeed(context, id, level, top, most).seconds();
    if (need >= most) return std::nullopt;
    std::optional<Late> worst;
    for (const plan::DeviceId device : plan.devices.ids()) {
        if (!context.sound({ThingKind::device, device.value})) continue;
        const Micros load = loading::load_alone(context.catalogues[device.value], what).shown;
        if (plan::in_seconds(load) <= need) continue;
        if (!worst || load > worst->load) {
            const std::string others =
                worst ? worst->others + ", " + plan.devices[worst->device].name : std::string();
            worst = Late{device, load, need, others};
        } else {
            worst->others += ", " + plan.devices[device].name;
        }
    }
    return worst;
}

/// Whether players can cross this trigger while nothing has asked for the level before.
bool crossed_first(const Context& context, TriggerId id, LevelId level) {
    const plan::Plan& plan = context.plan;
    ComingFrom search(plan, context.map);
    search.crossed = [&](TriggerId trigger) {
        if (trigger == id) return Crossed::nothing;
        if (contains(context.brought_by[level], trigger)) return Crossed::stops;
        return crossed_elsewhere(context, trigger, level);
    };
    search.standing = [&](WaypointId waypoint) {
        return begin_without(context, waypoint, level) ? Crossed::found : Crossed::nothing;
    };
    for (const plan::PathId path : context.map.paths_through[id]) {
        for (const Leg leg : legs_of(plan, path)) {
            for (const Meeting& meeting : context.map.meetings[path]) {
                if (meeting.trigger != id) continue;
                const double from = context.map.on_leg(leg, meeting.from, meeting.to).from;
                if (search.search(leg, from)) return true;
            }
        }
    }
    return false;
}

/// Levels that are shown where a trigger stands: its own, else those whose area it is in.
std::vector<LevelId> there_at(const Context& context, TriggerId id) {
    const plan::Trigger& trigger = context.plan.triggers[id];
    std::vector<LevelId> there = context.there_with(trigger.in);
    if (trigger.in) return there;
    for (const plan::PathId path : context.map.paths_through[id]) {
        for (const Need& need : context.map.needs[path]) {
            if (!need.area || contains(context.brought_by[need.level], id)) continue;
            const auto& meetings = context.map.meetings[path];
            const bool here =
                std::any_of(meetings.begin(), meetings.end(), [&](const Meeting& meeting) {
                    return meeting.trigger == id && meeting.from >= need.from &&
                           meeting.from <= need.to;
                });
            if (!here) continue;
            const auto family = plan::asked_with(context.tree, need.level);
            there.insert(there.end(), family.begin(), family.end());
        }
    }
    std::sort(there.begin(), there.end());
    return there;
}

std::string late_text(const plan::Plan& plan, LevelId level, const Late& late, double top) {
    const auto metres =
        static_cast<std::int64_t>(std::ceil((plan::in_seconds(late.load) - late.need) * top));
    return "at top speed " + plan.levels[level].name + " is needed " +
           time_text({std::llround(late.need * 1e6)}) +
           " after this fires, but is shown only after " + time_text(late.load) + " on " +
           plan.devices[late.device].name +
           (late.others.empty() ? "" : " (too late on" + late.others.substr(1) + " as well)") +
           ": it stands " + std::to_string(metres) + " m too near";
}

} // namespace

void trigger_too_late(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        const double top = top_speed(plan, trigger.tags);
        if (context.map.paths_through[id].empty() || top <= 0) continue;
        if (hides_loading(plan.lists[trigger.steps])) continue;
        if (trigger.in && !context.sound({ThingKind::level, trigger.in.value})) continue;
        std::optional<std::vector<LevelId>> there;
        for (const LevelId level : context.effects[trigger.steps].shows) {
            const bool somewhere =
                !plan.levels[level].area.empty() || !plan.levels[level].seen_from.empty();
            if (!somewhere || context.shown_without_steps[level]) continue;
            if (!context.sound({ThingKind::level, level.value})) continue;
            if (!there) there = there_at(context, id);
            if (among(*there, level)) continue;
            const auto late =
                how_late(context, id, level, top, {*there, {level}, plan::Priority::soon});
            if (!late || !crossed_first(context, id, level)) continue;
            report.add(trigger.place, {ThingKind::trigger, id.value},
                       late_text(plan, level, *late, top));
        }
    }
}

// --- fixed-wait-for-load
// ------------------------------------------------------------------------------

namespace {

/// Whether a step behind a fixed wait relies on `levels` having been loaded by then.
bool relies_on_load(const plan::Step& step, const std::vector<LevelId>& levels) {
    // Taking away the very levels that were waited for needs nothing of them.
    const auto takes_others = [&](const std::vector<LevelId>& taken) {
        return std::any_of(taken.begin(), taken.end(),
                           [&](LevelId level) { return !contains(levels, level); });
    };
    if (const auto* hide = std::get_if<plan::HideStep>(&step.what))
        return takes_others(hide->levels);
    if (const auto* unload = std::get_if<plan::UnloadStep>(&step.what))
        return takes_others(unload->levels);
    return std::holds_alternative<plan::ShowStep>(step.what) ||
           std::holds_alternative<plan::UnveilStep>(step.what) ||
           std::holds_alternative<plan::ThawStep>(step.what) ||
           std::holds_alternative<plan::PlaceStep>(step.what);
}

struct FixedWait {
    const plan::Step* step = nullptr;
    Micros time;
    bool shown = false; ///< what is loaded was to be shown too
    std::vector<LevelId> levels;
};

/// Fixed waits that stand where a wait for what the list loads would be.
std::vector<FixedWait> fixed_waits(const plan::StepList& list) {
    std::vector<FixedWait> found;
    std::vector<LevelId> loading;
    bool shown = false;
    const FixedWait none;
    FixedWait open;
    for (const plan::Step& step : list.steps) {
        if (const auto* load = std::get_if<plan::LoadStep>(&step.what)) {
            loading.insert(loading.end(), load->levels.begin(), load->levels.end());
        } else if (const auto* show = std::get_if<plan::ShowStep>(&step.what); show && !open.step) {
            loading.insert(loading.end(), show->levels.begin(), show->levels.end());
            shown = true;
        } else if (const auto* wait = std::get_if<plan::WaitStep>(&step.what)) {
            if (wait->time && !loading.empty()) {
                open = {&step, open.time + *wait->time, shown, loading};
            } else {
                loading.clear();
                open = none;
            }
        }
        if (open.step == nullptr || !relies_on_load(step, open.levels)) continue;
        found.push_back(open);
        open = none;
        loading.clear();
    }
    return found;
}

} // namespace

void fixed_wait_for_load(const Context& context, Report& report) {
    const plan::Plan& plan = context.plan;
    for (const plan::StepList& list : plan.lists) {
        for (const FixedWait& wait : fixed_waits(list)) {
            const loading::LoadedAlone what{context.there_with(list.level), wait.levels,
                                            plan::Priority::soon};
            std::string short_on;
            for (const plan::DeviceId device : plan.devices.ids()) {
                if (!context.sound({ThingKind::device, device.value})) continue;
                const auto times = loading::load_alone(context.catalogues[device.value], what);
                const Micros needed = wait.shown ? times.shown : times.ready;
                if (needed <= wait.time) continue;
                short_on += (short_on.empty() ? "" : ", ") + time_text(needed) + " on " +
                            plan.devices[device].name;
            }
            const std::string levels = check::names_of(plan, wait.levels);
            const std::string state = wait.shown ? "shown" : "ready";
            if (short_on.empty()) {
                report.add(wait.step->place, owner_of(list),
                           "this waits a fixed time for " + levels + "; wait until " +
                               (wait.levels.size() == 1 ? "it is " : "they are ") + state +
                               " instead");
            } else {
                report.add(wait.step->place, owner_of(list),
                           "this waits " + time_text(wait.time) + " for " + levels +
                               ", but until " + (wait.levels.size() == 1 ? "it is " : "they are ") +
                               state + " it takes " + short_on,
                           plan::Severity::error);
            }
        }
    }
}

} // namespace hestrel::check
