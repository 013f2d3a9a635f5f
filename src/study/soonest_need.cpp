#include "study/soonest_need.hpp"

#include "plan/questions.hpp"

#include <algorithm>
#include <functional>
#include <map>
#include <queue>

namespace hestrel::study {

using geometry::Leg;
using plan::WaypointId;

namespace {

/// Searches outward from the starts, soonest first.
class NeedSearch {
public:
    NeedSearch(const plan::Plan& plan, const Geography& map, const Wanted& wanted)
        : plan_(plan), map_(map), wanted_(wanted) {}

    std::optional<SoonestNeed> from(const std::vector<OnLeg>& starts) {
        for (const OnLeg& start : starts) {
            if (gated(start.leg)) continue;
            walk({start.leg, start.metres, {}, 0, 0, start});
        }
        while (!open_.empty()) {
            const auto [time, at] = open_.top();
            open_.pop();
            if (time >= limit()) break;
            const Reached here = reached_.at(at.value);
            if (here.seconds < time) continue;
            for (const Leg leg : map_.legs_from[at]) {
                if (!gated(leg)) walk({leg, 0, at, time, here.metres, here.start});
            }
        }
        if (found_) find_legs();
        return found_;
    }

private:
    /// A stretch that is walked: along `leg` from so many metres on.
    struct Stretch {
        Leg leg;
        double from = 0;
        WaypointId before; ///< unset: it is the first
        double seconds = 0;
        double metres = 0;
        OnLeg start;
    };
    struct Reached {
        double seconds = 0;
        double metres = 0;
        Leg by;
        WaypointId before;
        OnLeg start;
    };

    [[nodiscard]] bool gated(Leg leg) const { return gated_for(plan_, leg.path, wanted_.asked); }
    [[nodiscard]] double limit() const { return found_ ? found_->seconds : wanted_.most; }

    void walk(const Stretch& stretch) {
        const Leg leg = stretch.leg;
        const double speed =
            std::min(wanted_.top, plan_.paths[leg.path].speed.value_or(wanted_.top));
        for (const Need& need : map_.needs_on(leg.path, wanted_.level)) {
            const Part part = map_.on_leg(leg, need.from, need.to);
            if (part.to < stretch.from) continue;
            const double metres = std::max(0.0, part.from - stretch.from);
            const double seconds = stretch.seconds + metres / speed;
            if (seconds >= limit()) continue;
            found_ = SoonestNeed{
                seconds,  stretch.metres + metres, stretch.start, {leg, stretch.from + metres}, {},
                need.area};
            before_found_ = stretch.before;
        }
        const double rest = map_.lengths[leg.path] - stretch.from;
        const double end = stretch.seconds + rest / speed;
        if (end >= limit()) return;
        const WaypointId at = end_of(plan_, leg);
        const Reached reached{end, stretch.metres + rest, leg, stretch.before, stretch.start};
        const auto [best, fresh] = reached_.try_emplace(at.value, reached);
        if (!fresh && best->second.seconds <= end) return;
        best->second = reached;
        open_.emplace(end, at);
    }

    void find_legs() {
        std::vector<Leg>& legs = found_->legs;
        legs.push_back(found_->to.leg);
        for (WaypointId at = before_found_; at;) {
            const Reached& reached = reached_.at(at.value);
            legs.push_back(reached.by);
            at = reached.before;
        }
        std::reverse(legs.begin(), legs.end());
    }

    using Candidate = std::pair<double, WaypointId>;
    const plan::Plan& plan_;
    const Geography& map_;
    const Wanted& wanted_;
    std::optional<SoonestNeed> found_;
    WaypointId before_found_;
    std::map<std::uint32_t, Reached> reached_; ///< by waypoint: soonest there
    std::priority_queue<Candidate, std::vector<Candidate>, std::greater<>> open_;
};

} // namespace

std::optional<SoonestNeed> soonest_need(const plan::Plan& plan, const Geography& map,
                                        const std::vector<OnLeg>& starts, const Wanted& wanted) {
    return NeedSearch(plan, map, wanted).from(starts);
}

std::vector<OnLeg> firings_of(const plan::Plan& plan, const Geography& map,
                              plan::TriggerId trigger) {
    std::vector<OnLeg> starts;
    const bool on_exit = plan.triggers[trigger].fires == plan::Fires::on_exit;
    for (const plan::PathId path : map.paths_through(trigger)) {
        for (const Leg leg : legs_of(plan, path)) {
            for (const Meeting& meeting : map.meetings_on(path, trigger)) {
                const double from = map.fires_at(plan, trigger, leg, meeting);
                if (on_exit || from > 0) starts.push_back({leg, from});
            }
        }
    }
    return starts;
}

bool gated_for(const plan::Plan& plan, plan::PathId path,
               const std::vector<plan::LevelId>& levels) {
    const plan::GateId gate = plan.paths[path].gate;
    if (!gate) return false;
    const auto needs = plan::all_looked_at(plan, plan.gates[gate].needs, plan.gates[gate].any_of);
    return std::any_of(needs.begin(), needs.end(), [&](plan::LevelId level) {
        return std::binary_search(levels.begin(), levels.end(), level);
    });
}

} // namespace hestrel::study
