#include "exchange/gltf_animation.hpp"

#include "walk/timeline.hpp"

namespace hestrel::exchange {

using plan::Micros;

namespace {

Presence::Kind kind_of(walk::LevelCondition condition) {
    switch (condition) {
    case walk::LevelCondition::shown: return Presence::Kind::shown;
    case walk::LevelCondition::ready:
    case walk::LevelCondition::attaching: return Presence::Kind::loaded;
    default: return Presence::Kind::absent;
    }
}

} // namespace

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
