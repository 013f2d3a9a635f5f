#include "advise/load_times.hpp"

#include "geometry/crossing.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"
#include "study/level_ways.hpp"
#include "study/trigger_loads.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace hestrel::advise {

using plan::LevelId;
using plan::ListId;
using plan::Micros;
using study::OnLeg;
using study::Study;

namespace {

/// What walks made of a load on one device.
struct Seen {
    std::optional<ContendedTime> contended;
    std::optional<Micros> slack;
};
using SeenKey = std::tuple<Cause, LevelId, plan::DeviceId>;

std::map<SeenKey, Seen> seen_in(const std::vector<walk::Record>& records) {
    std::map<SeenKey, Seen> all;
    for (const walk::Record& record : records) {
        for (const walk::LevelOutcome& outcome : record.outcomes) {
            const walk::Transition& by = record.transitions[outcome.transition - 1];
            if (by.went_far) continue;
            Seen& seen = all[{Cause{by.list, by.near}, outcome.level, record.device}];
            const auto& there = outcome.shown ? outcome.shown : outcome.ready;
            if (there) {
                const Micros took = *there - by.fired;
                if (!seen.contended || took > seen.contended->took)
                    seen.contended =
                        ContendedTime{took, outcome.asked - by.fired, record.route, by.fired};
            }
            if (outcome.slack && !outcome.held && (!seen.slack || *outcome.slack < *seen.slack))
                seen.slack = outcome.slack;
        }
    }
    return all;
}

/// Where players can stand when an item is pressed: inside the levels in which its menu is met.
std::vector<OnLeg> around_menu(const plan::Plan& plan, const study::Geography& map, ListId list) {
    std::vector<OnLeg> starts;
    for (const LevelId level : study::met_in(plan, list)) {
        if (!level) continue;
        for (const plan::WaypointId waypoint : plan.waypoints.ids()) {
            if (!study::stands_in(plan, waypoint, level)) continue;
            for (const geometry::Leg leg : map.legs_from[waypoint]) starts.push_back({leg, 0});
        }
    }
    return starts;
}

/// Where players come within reach of a level.
std::vector<OnLeg> coming_near(const plan::Plan& plan, LevelId level) {
    std::vector<OnLeg> starts;
    const double reach = plan.levels[level].near->load;
    for (const plan::PathId path : plan.paths.ids()) {
        if (plan.waypoints[plan.paths[path].from].world != plan.levels[level].world) continue;
        for (const geometry::Leg leg : study::legs_of(plan, path)) {
            const std::vector<plan::Vec3> corners = geometry::corners_of(plan, leg);
            const auto far_from = [&](const plan::Vec3& point) {
                return std::all_of(
                    plan.levels[level].area.begin(), plan.levels[level].area.end(),
                    [&](const plan::Box& box) { return geometry::distance(box, point) > reach; });
            };
            if (!far_from(corners.front())) continue;
            double walked = 0;
            std::optional<double> first;
            for (std::size_t i = 1; i < corners.size() && !first; ++i) {
                const double length = geometry::distance(corners[i - 1], corners[i]);
                for (const plan::Box& box : plan.levels[level].area) {
                    const auto in = geometry::crossing_near(box, reach, corners[i - 1], corners[i]);
                    if (!in) continue;
                    const double at = walked + static_cast<double>(in->from) * length;
                    first = std::min(first.value_or(at), at);
                }
                walked += length;
            }
            if (first) starts.push_back({leg, *first});
        }
    }
    return starts;
}

/// Works out all loads of a plan.
class LoadTimes {
public:
    LoadTimes(const study::Study& study, const std::vector<plan::DeviceId>& devices,
              const std::vector<walk::Record>& records)
        : study_(study), plan_(study.plan), flow_(study.plan), devices_(devices),
          seen_(seen_in(records)) {}

    std::vector<Load> all() {
        for (const ListId list : plan_.lists.ids()) {
            const plan::StepList& steps = plan_.lists[list];
            const bool set_off =
                steps.owner == plan::OwnerKind::trigger || steps.owner == plan::OwnerKind::item;
            if (set_off) add_list(list);
        }
        for (const LevelId level : plan_.levels.ids()) {
            if (plan_.levels[level].near) add_near(level);
        }
        return std::move(loads_);
    }

private:
    void add_list(ListId list) {
        const ListId top = plan::top_list(plan_, list);
        const plan::StepList& steps = plan_.lists[list];
        std::vector<LevelId> called;
        for (const plan::Step& step : steps.steps) {
            const bool loads = study::switch_of(step) == nullptr &&
                               !std::holds_alternative<plan::MarkStep>(step.what);
            if (!loads) continue;
            for (const LevelId level : study::levels_called(step)) plan::append_new(called, level);
        }
        const study::Hiding hiding = study::hiding_of(plan_, steps);
        const std::vector<LevelId> there = there_when(study_, top);
        add_what_comes_along(called, there);
        std::vector<study::IsolatedList> isolated;
        for (const plan::DeviceId device : devices_) {
            study::IsolatedList play(study_.catalogues[device.value], there);
            play.run(plan_, steps);
            isolated.push_back(std::move(play));
        }
        for (const LevelId level : called) {
            Load load;
            load.cause.list = top;
            load.level = level;
            load.shows = plan::among(study_.effects[top].shows, level);
            load.held = plan::contains(hiding.held, level);
            load.hidden = hiding.hidden;
            add(load, [&](std::size_t i) { return isolated[i].time_of(level); });
        }
        for (const plan::Step& step : steps.steps) {
            const plan::SwitchStep* change = study::switch_of(step);
            if (change == nullptr) continue;
            for (const LevelId target : targets_of(*change, top)) {
                if (plan::contains(called, target)) continue;
                called.push_back(target);
                add_switch(top, steps, *change, target);
            }
        }
    }
    /// What is asked for with levels that are named, and can be needed itself.
    void add_what_comes_along(std::vector<LevelId>& called,
                              const std::vector<LevelId>& there) const {
        const std::vector<LevelId> named = called;
        for (const LevelId level : named) {
            for (const LevelId each : plan::asked_with(study_.tree, level)) {
                const plan::Level& along = plan_.levels[each];
                const bool somewhere = !along.area.empty() || !along.seen_from.empty();
                if (somewhere && !plan::among(there, each)) plan::append_new(called, each);
            }
        }
    }
    /// Where a switch leads; by position, next or back: along the editions, and on the routes.
    [[nodiscard]] std::vector<LevelId> targets_of(const plan::SwitchStep& change,
                                                  ListId top) const {
        if (change.to) return {change.to};
        std::vector<LevelId> targets = flow_.leads_to(change, top);
        const auto from = seen_.lower_bound({Cause{top, {}}, LevelId{std::size_t{0}}, {}});
        for (auto each = from; each != seen_.end() && std::get<0>(each->first).list == top;
             ++each) {
            // What was asked for with its target has a parent, or was named.
            const LevelId level = std::get<1>(each->first);
            if (!plan_.levels[level].parent && !plan::contains(change.with, level))
                plan::append_new(targets, level);
        }
        return targets;
    }
    void add_switch(ListId top, const plan::StepList& steps, const plan::SwitchStep& change,
                    LevelId target) {
        std::vector<LevelId> asked{target};
        for (const LevelId level : change.with) plan::append_new(asked, level);
        Load load;
        load.cause.list = top;
        load.level = target;
        load.held = true;
        add(load, [&](std::size_t i) {
            study::IsolatedList play(study_.catalogues[devices_[i].value], there_when(study_, top));
            play.run(plan_, steps);
            play.go_to(asked, change.veil);
            // It goes on when the last of all that was asked for is shown.
            study::IsolatedTimes last;
            for (const LevelId level : asked) {
                const study::IsolatedTimes own = play.time_of(level);
                if (own.shown >= last.shown) last = own;
            }
            return last;
        });
    }
    void add_near(LevelId level) {
        Load load;
        load.cause.near = level;
        load.level = level;
        add(load, [&](std::size_t i) {
            study::IsolatedList play(study_.catalogues[devices_[i].value], study_.always);
            plan::StepList show;
            show.steps.push_back({{}, 0, plan::ShowStep{{level}, plan::Priority::soon}});
            play.run(plan_, show);
            return play.time_of(level);
        });
    }

    template <class AloneOn>
    void add(Load& load, AloneOn alone_on) {
        load.top = plan::top_speed(plan_, tags_of(plan_, load.cause));
        if (load.shows && !load.held && load.top > 0)
            load.way = way_of(plan_, study_.map, load.cause, load.level,
                              family_of(study_.tree, load.level), load.top);
        const auto lead = load.lead();
        for (std::size_t i = 0; i < devices_.size(); ++i) {
            DeviceTime time;
            time.device = devices_[i];
            time.isolated = alone_on(i);
            if (!load.shows) time.isolated.shown = time.isolated.ready;
            const auto seen = seen_.find({load.cause, load.level, devices_[i]});
            if (seen != seen_.end()) {
                time.contended = seen->second.contended;
                time.seen_slack = seen->second.slack;
            }
            const bool there = time.longest() == Micros{};
            if (lead && !there) time.slack = *lead - time.longest();
            load.times.push_back(time);
        }
        // Asked only where it matters: it looks at all ways that lead there.
        const Micros wanted = plan::wanted_slack(plan_);
        const bool late =
            std::any_of(load.times.begin(), load.times.end(),
                        [&](const DeviceTime& time) { return time.slack && *time.slack < wanted; });
        if (late) load.first = comes_first(load.cause, load.level);
        loads_.push_back(std::move(load));
    }

    [[nodiscard]] bool comes_first(const Cause& cause, LevelId level) const {
        if (study_.shown_without_steps[level] && level != cause.near) return false;
        const plan::TriggerId trigger = trigger_of(plan_, cause);
        if (!trigger) return true;
        const bool shaped = !study_.map.meetings[trigger].empty();
        return !shaped || study::crossed_first(study_, trigger, level);
    }

    const study::Study& study_;
    const plan::Plan& plan_;
    study::LevelFlow flow_;
    const std::vector<plan::DeviceId>& devices_;
    std::map<SeenKey, Seen> seen_;
    std::vector<Load> loads_;
};

} // namespace

std::vector<LevelId> there_when(const study::Study& study, ListId list) {
    const plan::TriggerId trigger = trigger_of(study.plan, {list, {}});
    return trigger ? study::there_at(study, trigger) : study.there_with(study.plan.lists[list]);
}

std::optional<Micros> Load::lead() const {
    if (!way) return std::nullopt;
    const Micros walked{static_cast<std::int64_t>(std::ceil(way->seconds * 1e6 - 1e-3))};
    return std::max(walked, hidden);
}

const DeviceTime& Load::on(plan::DeviceId device) const {
    return *std::find_if(times.begin(), times.end(),
                         [&](const DeviceTime& time) { return time.device == device; });
}

plan::TriggerId trigger_of(const plan::Plan& plan, const Cause& cause) {
    if (!cause.list || plan.lists[cause.list].owner != plan::OwnerKind::trigger) return {};
    return plan::TriggerId{plan.lists[cause.list].index};
}

plan::ItemId item_of(const plan::Plan& plan, const Cause& cause) {
    if (!cause.list || plan.lists[cause.list].owner != plan::OwnerKind::item) return {};
    return plan::ItemId{plan.lists[cause.list].index};
}

const std::vector<plan::WordId>& tags_of(const plan::Plan& plan, const Cause& cause) {
    static const std::vector<plan::WordId> anybody;
    const plan::TriggerId trigger = trigger_of(plan, cause);
    return trigger ? plan.triggers[trigger].tags : anybody;
}

std::vector<OnLeg> starts_of(const plan::Plan& plan, const study::Geography& map,
                             const Cause& cause) {
    if (!cause.list) return coming_near(plan, cause.near);
    const plan::TriggerId trigger = trigger_of(plan, cause);
    return trigger ? study::firings_of(plan, map, trigger) : around_menu(plan, map, cause.list);
}

std::optional<study::SoonestNeed> way_of(const plan::Plan& plan, const study::Geography& map,
                                         const Cause& cause, LevelId level,
                                         const std::vector<LevelId>& asked, double top) {
    return study::soonest_need(plan, map, starts_of(plan, map, cause),
                               {level, asked, top, latest_need});
}

std::vector<LevelId> family_of(const plan::LevelTree& tree, LevelId level) {
    std::vector<LevelId> family = plan::asked_with(tree, level);
    std::sort(family.begin(), family.end());
    return family;
}

std::vector<Load> load_times(const study::Study& study, const std::vector<plan::DeviceId>& devices,
                             const std::vector<walk::Record>& records) {
    return LoadTimes(study, devices, records).all();
}

} // namespace hestrel::advise
