// Rules about triggers and where they stand.

#include "check/report.hpp"
#include "geometry/crossing.hpp"
#include "geometry/ways.hpp"
#include "plan/names.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <string>

namespace hestrel::check {

using plan::LevelId;
using plan::ThingKind;
using plan::TriggerId;

void trigger_fits_nobody(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        bool somebody_fits = false;
        for (const plan::PlayerKindId kind : plan.players.ids())
            somebody_fits = somebody_fits || plan::fits(plan, kind, trigger.tags);
        if (trigger.tags.empty() || somebody_fits) continue;
        report.add(trigger.place, {ThingKind::trigger, id.value},
                   "no player has the tag " + plan.words[trigger.tags.front()] +
                       ", so this never fires");
    }
}

void trigger_brings_own_level(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        if (trigger.in.empty()) continue;
        const auto by_itself = [&](LevelId level) {
            const std::vector<plan::ListId>& by = study.shown_by[level];
            return !by.empty() && !study.shown_without_steps[level] &&
                   std::all_of(by.begin(), by.end(),
                               [&](plan::ListId list) { return list == trigger.steps; });
        };
        if (!std::all_of(trigger.in.begin(), trigger.in.end(), by_itself)) continue;
        report.add(trigger.place, {ThingKind::trigger, id.value},
                   "only this trigger shows " + plan::level_names(plan, trigger.in, " and ") +
                       ", the level it is in: it never fires, and the level is never shown");
    }
}

void trigger_off_paths(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    std::vector<bool> met(plan.triggers.size());
    for (const auto& here : study.map.around) {
        for (const TriggerId id : here) met[id.value] = true;
    }
    for (const TriggerId id : plan.triggers.ids()) {
        const bool shapeless = std::holds_alternative<std::monostate>(plan.triggers[id].shape);
        if (shapeless || met[id.value] || !study.map.meetings[id].empty()) continue;
        report.add(plan.triggers[id].place, {ThingKind::trigger, id.value},
                   "no path leads through this trigger");
    }
}

void trigger_too_thin(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    const double top = top_speed(plan, {});
    const plan::Device* slowest = nullptr;
    for (const plan::DeviceId id : plan.devices.ids()) {
        if (!study.sound({ThingKind::device, id.value})) continue; // nobody knows its frame
        const plan::Device& device = plan.devices[id];
        if (slowest == nullptr || device.frame.period > slowest->frame.period) slowest = &device;
    }
    if (slowest == nullptr || top <= 0) return;
    const double period = plan::in_seconds(slowest->frame.period);
    struct Thin {
        double seconds = 1e9;
        double speed = 0; ///< m/s
    };
    for (const TriggerId id : plan.triggers.ids()) {
        Thin thin;
        for (const study::Meeting& meeting : study.map.meetings[id]) {
            if (meeting.from <= 0 || meeting.to >= study.map.lengths[meeting.path])
                continue; // a player can stand in it
            const double speed = std::min(top, plan.paths[meeting.path].speed.value_or(top));
            const double seconds = (meeting.to - meeting.from) / speed;
            if (seconds < thin.seconds) thin = {seconds, speed};
        }
        if (thin.seconds >= period) continue;
        const auto centimetres = static_cast<std::int64_t>(std::ceil(thin.speed * period * 100));
        report.add(plan.triggers[id].place, {ThingKind::trigger, id.value},
                   "at top speed a player is through this trigger in " +
                       std::to_string(std::lround(thin.seconds * 1000)) +
                       " ms, less than a frame of " + std::to_string(std::lround(period * 1000)) +
                       " ms on " + slowest->name + ": on the way through it must be " +
                       std::to_string(centimetres) + " cm thick");
    }
}

// --- arriving in one ---------------------------------------------------------

namespace {

/// Values that facts have when players arrive, as far as the steps that bring them there say so.
std::map<plan::FactId, plan::Value> known_values(const Study& study,
                                                 const study::Arrival& arrival) {
    std::map<plan::FactId, plan::Value> known;
    const auto note = [&](plan::ListId list) {
        for (const plan::Step& step : study.plan.lists[list].steps) {
            if (step.place == arrival.place) return;
            const auto* set = std::get_if<plan::SetStep>(&step.what);
            if (set == nullptr) continue;
            for (const plan::Assignment& each : set->facts) {
                known.erase(each.fact);
                if (!each.adds) known.emplace(each.fact, each.value);
            }
        }
    };
    if (arrival.list) note(arrival.list);
    if (!arrival.target) return known;
    for (const plan::LevelId level : plan::asked_with(study.tree, arrival.target)) {
        if (study.plan.levels[level].arrive) note(study.plan.levels[level].arrive);
    }
    return known;
}

/// Whether a list that is set off by an arrival changes anything.
bool does_something(const Study& study, const study::Arrival& arrival, plan::ListId list) {
    const auto known = known_values(study, arrival);
    const auto all_there = [&](const std::vector<plan::LevelId>& levels) {
        return std::all_of(levels.begin(), levels.end(),
                           [&](plan::LevelId level) { return among(arrival.asked, level); });
    };
    const auto nothing = [&](const plan::Step& step) {
        if (const auto* mark = std::get_if<plan::MarkStep>(&step.what))
            return mark->at == arrival.at;
        if (const auto* load = std::get_if<plan::LoadStep>(&step.what))
            return all_there(load->levels);
        if (const auto* show = std::get_if<plan::ShowStep>(&step.what))
            return all_there(show->levels);
        if (const auto* set = std::get_if<plan::SetStep>(&step.what)) {
            return std::all_of(
                set->facts.begin(), set->facts.end(), [&](const plan::Assignment& each) {
                    const auto found = known.find(each.fact);
                    return !each.adds && found != known.end() && found->second == each.value;
                });
        }
        return std::holds_alternative<plan::WaitStep>(step.what);
    };
    const auto& steps = study.plan.lists[list].steps;
    return !std::all_of(steps.begin(), steps.end(), nothing);
}

/// Triggers that fire because a player arrives, and do something: it is inside their shape, and
/// they are live then.
std::vector<TriggerId> fired_by(const Study& study, const study::Arrival& arrival) {
    const plan::Plan& plan = study.plan;
    std::vector<TriggerId> fired;
    for (const TriggerId id : study.map.around[arrival.at]) {
        const plan::Trigger& trigger = plan.triggers[id];
        const bool on_arrival =
            trigger.fires == plan::Fires::on_enter || trigger.fires == plan::Fires::while_inside;
        const bool live = trigger.in.empty() || !arrival.leaves_all ||
                          std::any_of(trigger.in.begin(), trigger.in.end(),
                                      [&](LevelId level) { return among(arrival.asked, level); });
        // One with a condition is thought to know what it does.
        if (!on_arrival || !live || trigger.when || !study.sound({ThingKind::trigger, id.value}))
            continue;
        if (!does_something(study, arrival, trigger.steps)) continue;
        fired.push_back(id);
    }
    return fired;
}

/// Whether a trigger that fires on an arrival leads, arrival by arrival, back to itself.
bool loops(const plan::Table<TriggerId, std::vector<TriggerId>>& next, TriggerId start) {
    std::vector<TriggerId> open = next[start];
    std::set<TriggerId> seen;
    while (!open.empty()) {
        const TriggerId at = open.back();
        open.pop_back();
        if (at == start) return true;
        if (seen.insert(at).second) open.insert(open.end(), next[at].begin(), next[at].end());
    }
    return false;
}

} // namespace

void arrival_in_trigger(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    plan::Table<TriggerId, std::vector<TriggerId>> next(plan.triggers.size());
    std::vector<std::vector<TriggerId>> fired;
    for (const study::Arrival& arrival : study.arrivals) {
        fired.push_back(fired_by(study, arrival));
        if (arrival.about.kind != ThingKind::trigger || !arrival.list) continue;
        const TriggerId from{arrival.about.index};
        for (const TriggerId id : fired.back()) {
            if (!plan.triggers[id].once) next[from].push_back(id);
        }
    }
    std::set<std::pair<plan::Place, TriggerId>> said;
    for (std::size_t i = 0; i < fired.size(); ++i) {
        const study::Arrival& arrival = study.arrivals[i];
        for (const TriggerId id : fired[i]) {
            if (!said.emplace(arrival.place, id).second) continue;
            const bool loop = arrival.about.kind == ThingKind::trigger &&
                              contains(next[TriggerId{arrival.about.index}], id) && loops(next, id);
            report.add(arrival.place, arrival.about,
                       "players arrive at " + plan.waypoints[arrival.at].name +
                           " inside the trigger " + plan.triggers[id].name +
                           (loop ? ", which fires at once, and again each time it leads back here"
                                 : ", which fires at once"),
                       loop ? plan::Severity::error : plan::Severity::warning);
        }
    }
}

// --- catching what falls -----------------------------------------------------

namespace {

bool brings_back(const plan::StepList& list) {
    return std::any_of(list.steps.begin(), list.steps.end(), [](const plan::Step& step) {
        return std::holds_alternative<plan::ReturnStep>(step.what) ||
               std::holds_alternative<plan::PlaceStep>(step.what) || switch_of(step) != nullptr;
    });
}

/// A box around several boxes, turned ones included.
plan::Box around(const std::vector<plan::Box>& boxes) {
    plan::Box bounds = geometry::bounds_of(boxes.front());
    for (const plan::Box& box : boxes) {
        const plan::Box each = geometry::bounds_of(box);
        for (std::size_t axis = 0; axis < 3; ++axis) {
            bounds.min[axis] = std::min(bounds.min[axis], each.min[axis]);
            bounds.max[axis] = std::max(bounds.max[axis], each.max[axis]);
        }
    }
    return bounds;
}

} // namespace

void catch_too_small(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        if (trigger.in.empty() || !brings_back(plan.lists[trigger.steps])) continue;
        if (std::holds_alternative<plan::Beyond>(trigger.shape)) continue; // nobody falls past that
        if (std::holds_alternative<std::monostate>(trigger.shape)) continue;
        // Of several levels under all of which it lies, the first stands for all.
        const plan::Level& level = plan.levels[trigger.in.front()];
        if (level.area.empty()) continue;
        const plan::Box area = around(level.area);
        const plan::Box shape = geometry::bounds_of(trigger.shape);
        if (shape.max[1] > area.min[1]) continue; // not underneath
        double missed = 0;
        for (const plan::Box& box : level.area) {
            const plan::Box part = geometry::bounds_of(box);
            for (const std::size_t axis : {std::size_t{0}, std::size_t{2}}) {
                missed = std::max(
                    {missed, shape.min[axis] - part.min[axis], part.max[axis] - shape.max[axis]});
            }
        }
        // Straight down from every corner of the level's area, at the shape's own middle height.
        const double height = (shape.min[1] + shape.max[1]) / 2;
        const bool corners_caught =
            std::all_of(level.area.begin(), level.area.end(), [&](const plan::Box& box) {
                const plan::Box part = geometry::bounds_of(box);
                return geometry::contains(trigger.shape, {part.min[0], height, part.min[2]}) &&
                       geometry::contains(trigger.shape, {part.min[0], height, part.max[2]}) &&
                       geometry::contains(trigger.shape, {part.max[0], height, part.min[2]}) &&
                       geometry::contains(trigger.shape, {part.max[0], height, part.max[2]});
            });
        if (corners_caught) continue;
        report.add(
            trigger.place, {ThingKind::trigger, id.value},
            "this lies under " + level.name + " to catch who falls, but does not reach as far" +
                (missed > 0
                     ? ": " + std::to_string(std::lround(std::ceil(missed))) + " m are missing"
                     : ""));
    }
}

} // namespace hestrel::check
