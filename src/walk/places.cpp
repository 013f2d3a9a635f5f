#include "walk/places.hpp"

#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::walk {

using plan::Micros;
using plan::Vec3;

namespace {

/// A player's way as it becomes known, in order of time.
class Way {
public:
    Way(const plan::Plan& plan, plan::WaypointId start, Micros least) : plan_(plan), least_(least) {
        frames_.emplace_back();
        put({}, start);
    }

    void put(Micros moment, plan::WaypointId at) {
        const plan::WorldId world = at ? plan_.waypoints[at].world : plan::WorldId{};
        jump(moment, at ? plan_.waypoints[at].at : frames_.back().place, world);
    }
    void go(const Track& track) {
        const plan::WorldId world = plan_.waypoints[plan_.paths[track.path].from].world;
        jump(track.from, track.start, world);
        add({track.to, track.end, world});
    }
    std::vector<Keyframe> take() { return std::move(frames_); }

private:
    /// It stays where it is until then.
    void jump(Micros moment, Vec3 place, plan::WorldId world) {
        const bool moves = frames_.back().place != place || frames_.back().world != world;
        Keyframe stays = frames_.back();
        stays.at = moves ? moment - least_ : moment;
        if (stays.at >= frames_.back().at + least_) {
            frames_.push_back(stays);
        } else if (moves && frames_.size() > 1 &&
                   frames_[frames_.size() - 2].at + least_ <= stays.at) {
            // It came just there, and is somewhere else at once.
            frames_.back() = walk::place_at(std::span(frames_).last(2), stays.at);
        }
        add({moment, place, world});
    }
    void add(const Keyframe& frame) {
        if (frame.at >= frames_.back().at + least_) {
            frames_.push_back(frame);
        } else {
            frames_.back().place = frame.place;
            frames_.back().world = frame.world;
        }
    }

    const plan::Plan& plan_;
    Micros least_;
    std::vector<Keyframe> frames_;
};

Vec3 between(Vec3 from, const Vec3& to, double share) {
    for (std::size_t axis = 0; axis < from.size(); ++axis)
        from[axis] += (to[axis] - from[axis]) * share;
    return from;
}

/// What moves a player.
struct Moved {
    Micros at;
    const Track* track = nullptr; ///< null: placed
    plan::WaypointId placed;
};

} // namespace

std::vector<Keyframe> places_of(const plan::Plan& plan, std::span<const Record> walk,
                                std::uint32_t player, Micros least) {
    // Each machine tells of its own players; where all do, what they tell is the same.
    const auto tells = std::find_if(walk.begin(), walk.end(), [&](const Record& record) {
        return std::any_of(record.tracks.begin(), record.tracks.end(),
                           [&](const Track& track) { return track.player == player; });
    });
    const Record& record = tells == walk.end() ? walk.front() : *tells;
    const plan::Route& route = plan.routes[record.route];
    std::vector<Moved> moves;
    for (const Event& event : record.events) {
        if (event.kind == EventKind::launched)
            moves.push_back({event.at, nullptr,
                             plan::first_entry(plan.levels[plan::launched_in(plan, route)])});
        if (event.kind == EventKind::placed && event.subject == player)
            moves.push_back({event.at, nullptr, plan::WaypointId{event.detail}});
    }
    for (const Track& track : record.tracks) {
        if (track.player == player) moves.push_back({track.from, &track, {}});
    }
    std::stable_sort(moves.begin(), moves.end(),
                     [](const Moved& one, const Moved& other) { return one.at < other.at; });
    Way way(plan, route.start.at, least);
    for (const Moved& each : moves) {
        if (each.track != nullptr)
            way.go(*each.track);
        else
            way.put(each.at, each.placed);
    }
    return way.take();
}

Keyframe place_at(std::span<const Keyframe> places, Micros moment) {
    const auto next =
        std::upper_bound(places.begin(), places.end(), moment,
                         [](Micros at, const Keyframe& frame) { return at < frame.at; });
    if (next == places.begin()) return places.front();
    Keyframe now = *(next - 1);
    if (next == places.end() || next->at == now.at) {
        now.at = moment;
        return now;
    }
    const double share = static_cast<double>((moment - now.at).count) /
                         static_cast<double>((next->at - now.at).count);
    now.place = between(now.place, next->place, share);
    now.at = moment;
    return now;
}

Vec3 place_on(const Track& track, Micros moment) {
    const double length = plan::in_seconds(track.to - track.from);
    const double share =
        length > 0 ? std::clamp(plan::in_seconds(moment - track.from) / length, 0.0, 1.0) : 1;
    return between(track.start, track.end, share);
}

} // namespace hestrel::walk
