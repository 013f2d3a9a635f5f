#include "play/session.hpp"

#include "plan/questions.hpp"
#include "walk/walk.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::play {

namespace {

std::vector<plan::RoutePlayer> all_players(const plan::Plan& plan) {
    std::vector<plan::RoutePlayer> players;
    for (const plan::PlayerKindId kind : plan.players.ids()) {
        const plan::PlayerKind& of_kind = plan.players[kind];
        for (std::uint32_t number = 0; number < of_kind.count; ++number) {
            const bool one = of_kind.count == 1;
            players.push_back(
                {{of_kind.name + (one ? "" : "-" + std::to_string(number + 1)), {}}, kind, {}});
        }
    }
    if (players.empty()) players.push_back({{"player", {}}, {}, {}});
    if (players.size() == 1) players.front().name = "player"; // as a route that names none has it
    return players;
}

bool is_launch(const plan::RouteStep& step) {
    return std::holds_alternative<plan::LaunchStep>(step.what);
}

} // namespace

std::optional<plan::Route> from_the_beginning(const plan::Plan& plan) {
    plan::Route route;
    if (!plan.editions.empty() && !plan.editions[plan::EditionId{0}].levels.empty()) {
        route.edition = plan::EditionId{0};
        route.start.level = plan.editions[route.edition].levels.front();
        route.start.at = plan::first_entry(plan.levels[route.start.level]);
    } else if (!plan.routes.empty()) {
        route.start = plan.routes[plan::RouteId{0}].start;
    } else {
        return std::nullopt;
    }
    route.players = all_players(plan);
    return route;
}

Session::Session(plan::Plan& plan, plan::Route begun, plan::DeviceId device)
    : plan_(&plan), route_(plan.routes.push(std::move(begun))), device_(device), ground_(plan) {
    for (const plan::RoutePlayer& player : route().players) {
        for (const plan::RouteStep& step : player.steps) turn_ = std::max(turn_, step.turn);
    }
    take(walked());
}

walk::Record Session::walked() {
    walk::Options options;
    options.stand = true;
    return walk::walk(*plan_, route_, device_, options, ground_);
}

void Session::take(walk::Record record) {
    const std::vector<walk::Event>& events = record.events;
    const std::size_t known =
        record_.standing ? std::min(record_.standing->events, events.size()) : std::size_t{0};
    const auto differs =
        std::mismatch(events.begin(), events.begin() + static_cast<std::ptrdiff_t>(known),
                      record_.events.begin());
    fresh_events_ = static_cast<std::size_t>(differs.first - events.begin());
    record_ = std::move(record);
}

/// The game is launched again in the steps of one player only.
std::uint32_t Session::player_of(const plan::RouteStep& step) const {
    if (!is_launch(step)) return player_;
    const auto& players = route().players;
    const auto launches = std::find_if(players.begin(), players.end(), [](const auto& player) {
        return std::any_of(player.steps.begin(), player.steps.end(), is_launch);
    });
    return launches == players.end() ? player_
                                     : static_cast<std::uint32_t>(launches - players.begin());
}

bool Session::add(plan::RouteStep step) {
    const std::uint32_t player = player_of(step);
    std::vector<plan::RouteStep>& steps = plan_->routes[route_].players[player].steps;
    if (route().players.size() > 1) step.turn = turn_ + 1;
    steps.push_back(std::move(step));
    walk::Record record = walked();
    if (!record.routes_done) {
        refused_step_ = std::move(steps.back());
        steps.pop_back();
        refused_ = std::move(record);
        return false;
    }
    if (route().players.size() > 1) ++turn_;
    added_.push_back({player, player_});
    take(std::move(record));
    return true;
}

std::size_t Session::undo(std::size_t count) {
    const std::size_t taken = std::min(count, added_.size());
    for (std::size_t i = 0; i < taken; ++i) {
        plan_->routes[route_].players[added_.back().player].steps.pop_back();
        player_ = added_.back().turn_of;
        added_.pop_back();
        if (route().players.size() > 1) --turn_;
    }
    if (taken > 0) take(walked());
    return taken;
}

void Session::replace_last(plan::RouteStep step) {
    plan::RouteStep& last = plan_->routes[route_].players[added_.back().player].steps.back();
    step.turn = last.turn;
    last = std::move(step);
    take(walked());
}

void Session::play_on(plan::DeviceId device) {
    device_ = device;
    record_ = {}; // all of it is told again
    take(walked());
}

} // namespace hestrel::play
