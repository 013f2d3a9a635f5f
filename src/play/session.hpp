#pragma once
// A walk that grows (docs/model.md section 7): each step that is played is put at the end of a
// route, and the route is walked anew. So what is played is what a walk of that route does, to the
// last figure, and taking steps back or changing the device is exact.
//
//     Session session{plan, *from_the_beginning(plan), device};
//     session.add(step);        // false: it can't be done, and nothing has changed
//     session.standing();       // how everything stands now

#include "plan/plan.hpp"
#include "walk/ground.hpp"
#include "walk/record.hpp"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace hestrel::play {

/// A route without steps that begins as a walk of the plan's first edition does (without editions:
/// as its first route), with all players that there can be. Nothing where the plan has neither.
std::optional<plan::Route> from_the_beginning(const plan::Plan& plan);

/// One game that is played.
class Session {
public:
    /// Goes on where `begun` is done; what that does can't be taken back. `plan` outlives it, and
    /// gets the route that is played as its last.
    Session(plan::Plan& plan, plan::Route begun, plan::DeviceId device);

    /// Puts a step at the end, for the player whose turn it is. False where the route can't go on
    /// to its end then: the step is not there any more, and `refused` tells how far it came.
    bool add(plan::RouteStep step);
    /// Takes so many steps back, as far as there are any; how many it took.
    std::size_t undo(std::size_t count);
    /// The same game on another device.
    void play_on(plan::DeviceId device);
    /// Whose steps come next: the number of a player of the route.
    void take_turn(std::uint32_t player) { player_ = player; }
    /// The last step in another form, which takes as long: `expect: now` becomes what it told.
    void replace_last(plan::RouteStep step);

    [[nodiscard]] const plan::Plan& plan() const { return *plan_; }
    [[nodiscard]] plan::RouteId route_id() const { return route_; }
    [[nodiscard]] const plan::Route& route() const { return plan_->routes[route_]; }
    /// Under another name: `save` gives it one.
    void call_route(std::string name) { plan_->routes[route_].name = std::move(name); }
    [[nodiscard]] plan::DeviceId device() const { return device_; }
    [[nodiscard]] std::uint32_t player() const { return player_; }
    [[nodiscard]] const plan::RoutePlayer& player_now() const { return route().players[player_]; }
    /// Steps that can be taken back.
    [[nodiscard]] std::size_t steps() const { return added_.size(); }

    /// The walk of the route as it is; it goes on until all has settled, nobody doing anything.
    [[nodiscard]] const walk::Record& record() const { return record_; }
    /// How everything stands where the last step is over.
    [[nodiscard]] const walk::Standing& standing() const { return *record_.standing; }
    /// The events of the record that came of what was done last: from this one on, up to
    /// `standing().events`.
    [[nodiscard]] std::size_t fresh_events() const { return fresh_events_; }
    /// The step that was not taken, and the walk in which it was tried.
    [[nodiscard]] const plan::RouteStep& refused_step() const { return refused_step_; }
    [[nodiscard]] const walk::Record& refused() const { return refused_; }

private:
    /// Whose step was added, and in whose turn.
    struct Added {
        std::uint32_t player = 0;
        std::uint32_t turn_of = 0;
    };
    walk::Record walked();
    void take(walk::Record record);
    [[nodiscard]] std::uint32_t player_of(const plan::RouteStep& step) const;

    plan::Plan* plan_;
    plan::RouteId route_;
    plan::DeviceId device_;
    walk::Ground ground_;
    std::uint32_t player_ = 0;
    std::uint32_t turn_ = 0; ///< of the last step
    std::vector<Added> added_;
    walk::Record record_, refused_;
    plan::RouteStep refused_step_;
    std::size_t fresh_events_ = 0;
};

} // namespace hestrel::play
