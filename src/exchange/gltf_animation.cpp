#include "exchange/gltf_animation.hpp"

#include "walk/timeline.hpp"

#include <algorithm>

namespace hestrel::exchange {

using plan::Micros;
using plan::Vec3;

namespace {

/// A player's way as it becomes known, in order of time.
class Way {
public:
    Way(const plan::Plan& plan, plan::WaypointId start, Micros least) : plan_(plan), least_(least) {
        frames_.emplace_back();
        place_at({}, start);
    }

    void place_at(Micros moment, plan::WaypointId at) {
        const plan::WorldId world = at ? plan_.waypoints[at].world : plan::WorldId{};
        jump(moment, at ? plan_.waypoints[at].at : frames_.back().place, world);
    }
    void go(const walk::Track& track) {
        const plan::WorldId world = plan_.waypoints[plan_.paths[track.path].from].world;
        jump(track.from, track.start, world);
        add({track.to, track.end, world});
    }
    std::vector<Keyframe> take() { return std::move(frames_); }

private:
    /// It stays where it is until then.
    void jump(Micros moment, Vec3 place, plan::WorldId world) {
        Keyframe stays = frames_.back();
        const bool moves = stays.place != place || stays.world != world;
        stays.at = moves ? moment - least_ : moment;
        if (stays.at >= frames_.back().at + least_) frames_.push_back(stays);
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

Presence::Kind kind_of(walk::LevelCondition condition) {
    switch (condition) {
    case walk::LevelCondition::shown: return Presence::Kind::shown;
    case walk::LevelCondition::ready:
    case walk::LevelCondition::attaching: return Presence::Kind::loaded;
    default: return Presence::Kind::absent;
    }
}

} // namespace

std::vector<Keyframe> places_of(const plan::Plan& plan, std::span<const walk::Record> walk,
                                std::uint32_t player, Micros least) {
    // Each machine tells of its own players; where all do, what they tell is the same.
    struct Moment {
        Micros at;
        const walk::Track* track = nullptr; ///< null: placed
        plan::WaypointId placed;
    };
    std::vector<Moment> moments;
    const auto tells = std::find_if(walk.begin(), walk.end(), [&](const walk::Record& record) {
        return std::any_of(record.tracks.begin(), record.tracks.end(),
                           [&](const walk::Track& track) { return track.player == player; });
    });
    const walk::Record& record = tells == walk.end() ? walk.front() : *tells;
    for (const walk::Event& event : record.events) {
        if (event.kind == walk::EventKind::placed && event.subject == player)
            moments.push_back({event.at, nullptr, plan::WaypointId{event.detail}});
    }
    for (const walk::Track& track : record.tracks) {
        if (track.player == player) moments.push_back({track.from, &track, {}});
    }
    std::stable_sort(moments.begin(), moments.end(),
                     [](const Moment& one, const Moment& other) { return one.at < other.at; });
    Way way(plan, plan.routes[record.route].start.at, least);
    for (const Moment& each : moments) {
        if (each.track != nullptr) {
            way.go(*each.track);
        } else {
            way.place_at(each.at, each.placed);
        }
    }
    return way.take();
}

plan::Table<plan::LevelId, std::vector<Presence>> presences_of(const plan::Plan& plan,
                                                               const walk::Record& record) {
    const walk::Timeline timeline = walk::timeline_of(plan, record);
    plan::Table<plan::LevelId, std::vector<Presence>> presences(plan.levels.size());
    for (const plan::LevelId level : plan.levels.ids()) {
        std::vector<Presence>& all = presences[level];
        const auto add = [&](Micros from, Presence::Kind kind) {
            if (all.empty() || all.back().from < from) {
                if (all.empty() || all.back().kind != kind) all.push_back({from, kind});
            } else {
                all.back().kind = kind;
            }
        };
        add({}, Presence::Kind::absent);
        Micros until;
        for (const walk::Stretch& stretch : timeline[loading::PieceId{level.value}]) {
            if (until < stretch.from) add(until, Presence::Kind::absent);
            add(stretch.from, kind_of(stretch.condition));
            until = stretch.to;
        }
        if (until < record.end) add(until, Presence::Kind::absent);
    }
    return presences;
}

} // namespace hestrel::exchange
