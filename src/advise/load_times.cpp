#include "advise/load_times.hpp"

#include "check/level_ways.hpp"
#include "check/trigger_loads.hpp"
#include "geometry/crossing.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace hestrel::advise {

using check::Context;
using check::OnLeg;
using plan::LevelId;
using plan::ListId;
using plan::Micros;

namespace {

void append_new(std::vector<LevelId>& levels, LevelId level) {
    if (!check::contains(levels, level)) levels.push_back(level);
}

/// Plays a list's loads with nothing else going on.
class ListAlone {
public:
    ListAlone(const loading::Catalogue& catalogue, std::vector<LevelId> there)
        : catalogue_(catalogue), there_(std::move(there)) {}

    void play(const plan::StepList& list) {
        for (const plan::Step& step : list.steps) play(step);
        flush();
    }
    /// As a switch there: all at once.
    void go_to(const std::vector<LevelId>& levels, bool veiled) {
        veiled_ = veiled;
        std::erase_if(there_, [&](LevelId level) { return check::contains(levels, level); });
        for (const LevelId level : levels) append_new(asked_, level);
        flush();
    }
    [[nodiscard]] const std::map<LevelId, IsolatedTimes>& times() const { return times_; }

private:
    void play(const plan::Step& step) {
        if (const auto* load = std::get_if<plan::LoadStep>(&step.what)) {
            for (const LevelId level : load->levels) append_new(asked_, level);
        } else if (const auto* show = std::get_if<plan::ShowStep>(&step.what)) {
            for (const LevelId level : show->levels) this->show(level);
        } else if (std::holds_alternative<plan::VeilStep>(step.what)) {
            veiled_ = true;
        } else if (std::holds_alternative<plan::UnveilStep>(step.what)) {
            flush();
            veiled_ = false;
        } else if (const auto* wait = std::get_if<plan::WaitStep>(&step.what)) {
            flush();
            if (wait->time) now_ += *wait->time;
            for (const LevelId level : wait->levels) {
                const auto found = times_.find(level);
                if (found == times_.end()) continue;
                const bool shown = wait->awaited == plan::Awaited::shown;
                now_ = std::max(now_, shown ? found->second.shown : found->second.ready);
            }
        }
    }
    void show(LevelId level) {
        const auto loaded = times_.find(level);
        if (loaded == times_.end()) {
            append_new(asked_, level);
            return;
        }
        // Loaded by an earlier step: what is left is attaching.
        IsolatedTimes& isolated = loaded->second;
        const Micros attaching = isolated.shown - isolated.ready;
        isolated.shown = std::max(now_, isolated.ready) + attaching;
    }
    void flush() {
        if (asked_.empty()) return;
        const loading::AloneLoader loader(catalogue_,
                                          {there_, asked_, plan::Priority::soon, veiled_});
        std::vector<std::size_t> order(loader.count());
        for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
        IsolatedTimes all;
        for (const loading::AlonePiece& piece : loader.detail_of(order)) {
            all.to_read += catalogue_.pieces[piece.piece].packed;
            all.read = std::max(all.read, piece.read_end.value_or(Micros{}));
            const Micros ready =
                piece.unpack_end ? *piece.unpack_end : piece.read_end.value_or(Micros{});
            all.ready = std::max(all.ready, ready);
            if (!catalogue_.is_level(piece.piece)) continue;
            // Pieces stand in the order of asking: what a level needs stands before it.
            IsolatedTimes own = all;
            own.shown = piece.shown.value_or(all.ready);
            shift(own);
            times_[catalogue_.level_of(piece.piece)] = own;
        }
        for (const LevelId level : asked_)
            times_.try_emplace(level, IsolatedTimes{now_, now_, now_, {}});
        there_.insert(there_.end(), asked_.begin(), asked_.end());
        std::sort(there_.begin(), there_.end());
        asked_.clear();
    }
    void shift(IsolatedTimes& isolated) const {
        isolated.read += now_;
        isolated.ready += now_;
        isolated.shown += now_;
    }

    const loading::Catalogue& catalogue_;
    std::vector<LevelId> there_;
    std::vector<LevelId> asked_;
    bool veiled_ = false;
    Micros now_;
    std::map<LevelId, IsolatedTimes> times_;
};

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
                    seen.contended = ContendedTime{took, record.route, by.fired};
            }
            if (outcome.slack && !outcome.held && (!seen.slack || *outcome.slack < *seen.slack))
                seen.slack = outcome.slack;
        }
    }
    return all;
}

/// Where players can stand when an item is pressed: inside the levels in which its menu is met.
std::vector<OnLeg> around_menu(const plan::Plan& plan, const check::Geography& map, ListId list) {
    std::vector<OnLeg> starts;
    for (const LevelId level : check::met_in(plan, list)) {
        if (!level) continue;
        for (const plan::WaypointId waypoint : plan.waypoints.ids()) {
            if (!check::stands_in(plan, waypoint, level)) continue;
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
        for (const geometry::Leg leg : check::legs_of(plan, path)) {
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

/// What the steps of one list (not of its branches) do for what they load.
struct Hiding {
    std::vector<LevelId> held; ///< a veil or freeze lasts until these are shown
    Micros hidden;             ///< a veil's `min`
};
Hiding hiding_of(const plan::Plan& plan, const plan::StepList& list) {
    Hiding hiding;
    bool covered = false;
    for (const plan::Step& step : list.steps) {
        if (const auto* veil = std::get_if<plan::VeilStep>(&step.what)) {
            covered = true;
            hiding.hidden = std::max(hiding.hidden, plan.veils[veil->veil].min);
        }
        if (std::holds_alternative<plan::FreezeStep>(step.what)) covered = true;
        const auto* wait = std::get_if<plan::WaitStep>(&step.what);
        if (wait == nullptr || !covered) continue;
        if (wait->time) hiding.hidden = std::max(hiding.hidden, *wait->time);
        if (wait->awaited == plan::Awaited::shown && !wait->at_most)
            hiding.held.insert(hiding.held.end(), wait->levels.begin(), wait->levels.end());
    }
    return hiding;
}

/// Works out all loads of a plan.
class LoadTimes {
public:
    LoadTimes(const Context& context, const std::vector<plan::DeviceId>& devices,
              const std::vector<walk::Record>& records)
        : context_(context), plan_(context.plan), devices_(devices), seen_(seen_in(records)) {}

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
        const ListId top = check::top_list(plan_, list);
        const plan::StepList& steps = plan_.lists[list];
        std::vector<LevelId> called;
        for (const plan::Step& step : steps.steps) {
            const bool loads = check::switch_of(step) == nullptr &&
                               !std::holds_alternative<plan::MarkStep>(step.what);
            if (!loads) continue;
            for (const LevelId level : check::levels_called(step)) append_new(called, level);
        }
        const Hiding hiding = hiding_of(plan_, steps);
        const std::vector<LevelId> there = there_at(top);
        add_what_comes_along(called, there);
        std::vector<std::map<LevelId, IsolatedTimes>> isolated;
        for (const plan::DeviceId device : devices_) {
            ListAlone play(context_.catalogues[device.value], there);
            play.play(steps);
            isolated.push_back(play.times());
        }
        for (const LevelId level : called) {
            Load load;
            load.cause.list = top;
            load.level = level;
            load.shows = check::among(context_.effects[top].shows, level);
            load.held = check::contains(hiding.held, level);
            load.hidden = hiding.hidden;
            add(load, [&](std::size_t i) { return time_in(isolated[i], level); });
        }
        for (const plan::Step& step : steps.steps) {
            const plan::SwitchStep* change = check::switch_of(step);
            if (change == nullptr) continue;
            for (const LevelId target : targets_of(*change, top)) {
                if (check::contains(called, target)) continue;
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
            for (const LevelId each : plan::asked_with(context_.tree, level)) {
                const plan::Level& along = plan_.levels[each];
                const bool somewhere = !along.area.empty() || !along.seen_from.empty();
                if (somewhere && !check::among(there, each)) append_new(called, each);
            }
        }
    }
    /// Where a switch leads; by position, next or back: along the editions, and on the routes.
    [[nodiscard]] std::vector<LevelId> targets_of(const plan::SwitchStep& change,
                                                  ListId top) const {
        if (change.to) return {change.to};
        std::vector<LevelId> targets;
        for (const LevelId from : check::met_in(plan_, top)) {
            for (const LevelId level : check::along_editions(plan_, change, from))
                append_new(targets, level);
        }
        const auto from = seen_.lower_bound({Cause{top, {}}, LevelId{std::size_t{0}}, {}});
        for (auto each = from; each != seen_.end() && std::get<0>(each->first).list == top;
             ++each) {
            // What was asked for with its target has a parent, or was named.
            const LevelId level = std::get<1>(each->first);
            if (!plan_.levels[level].parent && !check::contains(change.with, level))
                append_new(targets, level);
        }
        return targets;
    }
    void add_switch(ListId top, const plan::StepList& steps, const plan::SwitchStep& change,
                    LevelId target) {
        std::vector<LevelId> asked{target};
        for (const LevelId level : change.with) append_new(asked, level);
        Load load;
        load.cause.list = top;
        load.level = target;
        load.held = true;
        add(load, [&](std::size_t i) {
            ListAlone play(context_.catalogues[devices_[i].value], there_at(top));
            play.play(steps);
            play.go_to(asked, bool{change.veil});
            // It goes on when the last of all that was asked for is shown.
            IsolatedTimes last;
            for (const LevelId level : asked) {
                const IsolatedTimes own = time_in(play.times(), level);
                if (own.shown >= last.shown) last = own;
            }
            return last;
        });
    }
    [[nodiscard]] static IsolatedTimes time_in(const std::map<LevelId, IsolatedTimes>& times,
                                               LevelId level) {
        const auto found = times.find(level);
        return found == times.end() ? IsolatedTimes{} : found->second;
    }

    void add_near(LevelId level) {
        Load load;
        load.cause.near = level;
        load.level = level;
        add(load, [&](std::size_t i) {
            ListAlone play(context_.catalogues[devices_[i].value], context_.always);
            plan::StepList show;
            show.steps.push_back({{}, plan::ShowStep{{level}, plan::Priority::soon}});
            play.play(show);
            return time_in(play.times(), level);
        });
    }

    template <class AloneOn>
    void add(Load& load, AloneOn alone_on) {
        load.top = check::top_speed(plan_, tags_of(plan_, load.cause));
        if (load.shows && !load.held && load.top > 0)
            load.way = way_of(plan_, context_.map, load.cause, load.level,
                              family_of(context_.tree, load.level), load.top);
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
        const Micros wanted = plan_.limits.slack.value_or(Micros{});
        const bool late =
            std::any_of(load.times.begin(), load.times.end(),
                        [&](const DeviceTime& time) { return time.slack && *time.slack < wanted; });
        if (late) load.first = comes_first(load.cause, load.level);
        loads_.push_back(std::move(load));
    }

    [[nodiscard]] bool comes_first(const Cause& cause, LevelId level) const {
        if (context_.shown_without_steps[level] && level != cause.near) return false;
        const plan::TriggerId trigger = trigger_of(plan_, cause);
        if (!trigger) return true;
        const bool shaped = !context_.map.paths_through[trigger].empty();
        return !shaped || check::crossed_first(context_, trigger, level);
    }
    [[nodiscard]] std::vector<LevelId> there_at(ListId list) const {
        const plan::TriggerId trigger = trigger_of(plan_, {list, {}});
        return trigger ? check::there_at(context_, trigger)
                       : context_.there_with(plan_.lists[list].level);
    }

    const Context& context_;
    const plan::Plan& plan_;
    const std::vector<plan::DeviceId>& devices_;
    std::map<SeenKey, Seen> seen_;
    std::vector<Load> loads_;
};

} // namespace

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

std::vector<OnLeg> starts_of(const plan::Plan& plan, const check::Geography& map,
                             const Cause& cause) {
    if (!cause.list) return coming_near(plan, cause.near);
    const plan::TriggerId trigger = trigger_of(plan, cause);
    return trigger ? check::firings_of(plan, map, trigger) : around_menu(plan, map, cause.list);
}

std::optional<check::SoonestNeed> way_of(const plan::Plan& plan, const check::Geography& map,
                                         const Cause& cause, LevelId level,
                                         const std::vector<LevelId>& asked, double top) {
    return check::soonest_need(plan, map, starts_of(plan, map, cause),
                               {level, asked, top, latest_need});
}

std::vector<LevelId> family_of(const plan::LevelTree& tree, LevelId level) {
    std::vector<LevelId> family = plan::asked_with(tree, level);
    std::sort(family.begin(), family.end());
    return family;
}

std::vector<Load> load_times(const Context& context, const std::vector<plan::DeviceId>& devices,
                             const std::vector<walk::Record>& records) {
    return LoadTimes(context, devices, records).all();
}

} // namespace hestrel::advise
