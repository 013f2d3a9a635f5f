#include "play/possible.hpp"

#include "geometry/ways.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::play {

using plan::LevelId;
using plan::Micros;
using walk::EventKind;

namespace {

/// When a level first becomes so after now, unless it is unloaded before.
std::optional<Micros> next_change(const Session& session, EventKind kind, LevelId level) {
    const std::vector<walk::Event>& events = session.record().events;
    for (std::size_t i = session.standing().events; i < events.size(); ++i) {
        if (events[i].subject != level.value) continue;
        if (events[i].kind == kind) return events[i].at;
        if (events[i].kind == EventKind::level_unloaded) break;
    }
    return std::nullopt;
}

/// Collects what can be done.
class Collector {
public:
    explicit Collector(const Session& session)
        : session_(session), plan_(session.plan()), now_(session.standing()) {}

    std::vector<Possible> collect() {
        if (!now_.booted) return {};
        if (now_.ended) {
            add(plan::LaunchStep{});
            return std::move(all_);
        }
        ways();
        for (const plan::ItemId item : player().items) add(plan::PressStep{item});
        picks();
        waits();
        return std::move(all_);
    }

private:
    template <class Step>
    Possible& add(Step step) {
        Possible& added = all_.emplace_back();
        added.step.what = std::move(step);
        return added;
    }
    [[nodiscard]] const walk::Standing::Player& player() const {
        return now_.players[session_.player()];
    }

    void ways() {
        const plan::PlayerKindId kind = session_.player_now().kind;
        const plan::WaypointId from = player().at;
        if (!kind || plan_.players[kind].speeds.empty() || player().frozen || !from) return;
        const double speed = plan_.players[kind].speeds.front().metres_per_second;
        std::vector<plan::WaypointId> told;
        for (const plan::PathId id : plan_.paths.ids()) {
            const plan::Path& path = plan_.paths[id];
            const bool forward = path.from == from;
            if (!forward && (path.to != from || path.one_way)) continue;
            const plan::WaypointId to = forward ? path.to : path.from;
            if (std::find(told.begin(), told.end(), to) != told.end()) continue;
            told.push_back(to);
            Possible& way = add(plan::GoStep{to, speed, {}});
            way.metres = geometry::length_of(plan_, id);
            const double fastest = path.speed ? std::min(speed, *path.speed) : speed;
            way.time = Micros{static_cast<std::int64_t>(std::ceil(way.metres / fastest * 1e6))};
            const auto shown = [&](LevelId level) {
                return now_.levels[level] == loading::LevelCondition::shown;
            };
            if (path.gate && !plan::is_open(plan_, plan_.gates[path.gate], shown))
                way.gate = path.gate;
        }
    }

    /// Branches that could have been picked of what was chosen last.
    void picks() {
        const std::vector<walk::Event>& events = session_.record().events;
        for (std::size_t i = session_.fresh_events(); i < now_.events; ++i) {
            if (events[i].kind != EventKind::chosen) continue;
            const plan::WordId taken{events[i].detail};
            const plan::ChooseStep* choose = choose_of(plan::ListId{events[i].subject}, taken);
            if (choose == nullptr) continue;
            for (const plan::Branch& branch : choose->branches) {
                if (branch.name == taken || was_picked(taken)) continue;
                add(plan::PickStep{branch.name}).instead = taken;
            }
        }
    }
    [[nodiscard]] const plan::ChooseStep* choose_of(plan::ListId list, plan::WordId taken) const {
        for (const plan::ListId id : plan_.lists.ids()) {
            if (plan::top_list(plan_, id) != list) continue;
            for (const plan::Step& step : plan_.lists[id].steps) {
                const auto* choose = std::get_if<plan::ChooseStep>(&step.what);
                if (choose == nullptr) continue;
                const bool has =
                    std::any_of(choose->branches.begin(), choose->branches.end(),
                                [&](const plan::Branch& branch) { return branch.name == taken; });
                if (has) return choose;
            }
        }
        return nullptr;
    }
    /// Whether the route says so already: what is said twice is meant for the next choice.
    [[nodiscard]] bool was_picked(plan::WordId branch) const {
        for (const plan::RoutePlayer& player : session_.route().players) {
            for (const plan::RouteStep& step : player.steps) {
                const auto* pick = std::get_if<plan::PickStep>(&step.what);
                if (pick != nullptr && pick->branch == branch) return true;
            }
        }
        return false;
    }

    /// The first level that comes, and when all has settled.
    void waits() {
        std::optional<Micros> first;
        LevelId next;
        for (const LevelId level : plan_.levels.ids()) {
            if (now_.levels[level] == loading::LevelCondition::shown) continue;
            const auto at = shown_at(session_, level);
            if (!at || (first && *at >= *first)) continue;
            first = at;
            next = level;
        }
        const auto settled = settled_at(session_);
        if (first && settled && *first < *settled) {
            Possible& until = add(plan::UntilStep{});
            until.time = *first - now_.at;
            until.shown = next;
        }
        if (!settled) return;
        Possible& pause = add(plan::PauseStep{*settled - now_.at});
        pause.time = *settled - now_.at;
        pause.settles = true;
    }

    const Session& session_;
    const plan::Plan& plan_;
    const walk::Standing& now_;
    std::vector<Possible> all_;
};

} // namespace

std::optional<Micros> shown_at(const Session& session, LevelId level) {
    return next_change(session, EventKind::level_shown, level);
}

std::optional<Micros> ready_at(const Session& session, LevelId level) {
    return next_change(session, EventKind::level_ready, level);
}

std::optional<Micros> settled_at(const Session& session) {
    const std::vector<walk::Event>& events = session.record().events;
    if (events.size() < 2) return std::nullopt;
    const Micros last = events[events.size() - 2].at; // the last says that the walk is over
    return last > session.standing().at ? std::optional(last) : std::nullopt;
}

std::vector<Possible> possible(const Session& session) {
    return Collector(session).collect();
}

} // namespace hestrel::play
