#include "study/coming_from.hpp"

#include <algorithm>
#include <tuple>

namespace hestrel::study {

using geometry::Leg;
using geometry::start_of;
using plan::TriggerId;
using plan::WaypointId;

namespace {

auto leg_of(const Crossings::Crossing& crossing) {
    return std::tuple(crossing.about, crossing.leg.path, crossing.leg.forward);
}

/// Of two that fire at one place, the one that the path meets first counts.
bool is_before(const Crossings::Crossing& one, const Crossings::Crossing& other) {
    return std::tie(one.from, one.trigger) < std::tie(other.from, other.trigger);
}

} // namespace

void Crossings::add(const plan::Plan& plan, const Geography& map, TriggerId trigger,
                    plan::LevelId about) {
    for (const Meeting& meeting : map.meetings[trigger]) {
        for (const Leg leg : legs_of(plan, meeting.path))
            all_.push_back(
                {about, leg, map.fires_at(plan, trigger, leg, meeting), meeting.from, trigger});
    }
}

void Crossings::sort() {
    std::sort(all_.begin(), all_.end(), [](const Crossing& one, const Crossing& other) {
        const auto here = leg_of(one);
        const auto there = leg_of(other);
        if (here != there) return here < there;
        return one.at != other.at ? one.at < other.at : is_before(one, other);
    });
}

std::span<const Crossings::Crossing> Crossings::on(Leg leg, plan::LevelId about) const {
    const auto [first, last] = std::equal_range(
        all_.begin(), all_.end(), Crossing{about, leg, 0, 0, {}},
        [](const Crossing& one, const Crossing& other) { return leg_of(one) < leg_of(other); });
    return {first, last};
}

/// What a walker of `leg` crossed last before it was `metres` from its start.
ComingFrom::Found ComingFrom::along(Leg leg, double metres) const {
    Found last;
    const Crossings::Crossing* at = nullptr;
    for (const LooksAt& each : looks_at_) {
        const std::span<const Crossings::Crossing> on_leg = each.crossings->on(leg, each.about);
        auto next = std::upper_bound(
            on_leg.begin(), on_leg.end(), metres,
            [](double place, const Crossings::Crossing& crossing) { return place < crossing.at; });
        while (next != on_leg.begin()) {
            const Crossings::Crossing& crossing = *--next;
            if (at != nullptr && crossing.at < at->at) break;
            if (at != nullptr && crossing.at == at->at && !is_before(crossing, *at)) continue;
            const Crossed what = crossed(crossing.trigger);
            if (what == Crossed::nothing) continue;
            last = {what, {{}, crossing.trigger}};
            at = &crossing;
        }
    }
    if (!inside) return last;
    for (const Need& need : map_.needs_on(leg.path, *inside)) {
        if (!need.area) continue;
        const Part part = map_.on_leg(leg, need.from, need.to);
        if (part.from >= metres || (at != nullptr && part.to <= at->at)) continue;
        return {Crossed::stops, {}}; // they were in it already
    }
    return last;
}

ComingFrom::Found ComingFrom::at(WaypointId waypoint) const {
    for (const TriggerId trigger : map_.around[waypoint]) {
        const Crossed what = crossed(trigger);
        if (what != Crossed::nothing) return {what, {{}, trigger}};
    }
    return {standing(waypoint), {waypoint, {}}};
}

std::optional<ComingFrom::Origin> ComingFrom::search(Leg leg, double metres) {
    const Found on_the_way = along(leg, metres);
    if (on_the_way.what == Crossed::stops) return std::nullopt;
    if (on_the_way.what == Crossed::found) return on_the_way.origin;
    return search(start_of(plan_, leg));
}

std::optional<ComingFrom::Origin> ComingFrom::search(WaypointId waypoint) {
    if (seen_.empty()) seen_.resize(plan_.waypoints.size());
    ++search_;
    stopped_at_ = {};
    stopped_on_.reset();
    std::vector<WaypointId> open{waypoint};
    seen_[waypoint] = search_;
    // Breadth first, so that what is said is the nearest.
    for (std::size_t next = 0; next < open.size(); ++next) {
        const Found here = at(open[next]);
        if (here.what == Crossed::found) return here.origin;
        if (here.what == Crossed::stops) {
            if (!stopped_at_) stopped_at_ = here.origin.trigger;
            continue;
        }
        if (surely && surely(open[next])) return Origin{open[next], {}};
        for (const Leg leg : map_.legs_to[open[next]]) {
            if (closed && closed(leg)) continue;
            const Found found = along(leg, map_.lengths[leg.path]);
            if (found.what == Crossed::found) return found.origin;
            if (found.what == Crossed::stops && !stopped_at_) {
                stopped_at_ = found.origin.trigger;
                stopped_on_ = leg;
            }
            const WaypointId from = start_of(plan_, leg);
            if (found.what == Crossed::stops || seen_[from] == search_) continue;
            seen_[from] = search_;
            open.push_back(from);
        }
    }
    return std::nullopt;
}

plan::TriggerId ComingFrom::first_stop() const {
    if (!stopped_on_) return stopped_at_;
    const Crossings::Crossing* first = nullptr;
    for (const LooksAt& each : looks_at_) {
        for (const Crossings::Crossing& crossing : each.crossings->on(*stopped_on_, each.about)) {
            if (crossed(crossing.trigger) == Crossed::stops &&
                (first == nullptr || is_before(crossing, *first)))
                first = &crossing;
        }
    }
    return first->trigger;
}

} // namespace hestrel::study
