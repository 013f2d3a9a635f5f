// When triggers and near rules fire (docs/model.md section 5), with players put inside by hand.

#include "flow/bare_stage.hpp"

using namespace hestrel;
using flow::PlayerId;
using flow::ZoneId;
using plan::seconds;
using tests::Lines;

namespace {

constexpr PlayerId ada{0}, ben{1};

/// Two players, the second without a tag, in a hall; a yard that nothing has shown yet.
class Watched {
public:
    explicit Watched(const std::string& triggers, const std::string& yard = "")
        : game("hestrel: 1\ndevices: {box: {memory: {total: 100}, read: {rate: 100}, frame: {fps: "
               "60}}}\n"
               "players: {carrier: {tags: [carrier], speeds: {walk: 2}}, guest: {speeds: {walk: "
               "2}}}\n"
               "levels:\n  hall: {entries: {door: a}}\n  yard: {area: [{min: [50, 0, 0], max: [60, "
               "1, "
               "1]}]" +
                   yard +
                   "}\n"
                   "waypoints: {a: [0, 0, 0]}\n"
                   "facts: {n: {initial: 0, range: [0, 9]}, open: {initial: false}}\n"
                   "triggers:\n" +
                   triggers,
               2),
          zones(game.plan), near_(game.plan, zones, game.flow, game.stage, {ada, ben}),
          triggers_(game.plan, zones, game.flow, game.stage,
                    {plan::PlayerKindId{0}, plan::PlayerKindId{1}}, &near_) {
        game.stage.triggers = &triggers_;
        game.stage.near = &near_;
        triggers_.booted();
        settle();
    }

    tests::BareGame game;
    flow::Zones zones;

    /// Zones of triggers come first, in the plan's order.
    Lines enter(PlayerId player, std::uint32_t zone = 0) {
        triggers_.enter(player, ZoneId{zone});
        return settle();
    }
    Lines leave(PlayerId player, std::uint32_t zone = 0) {
        triggers_.leave(player, ZoneId{zone});
        return settle();
    }
    Lines set(std::string_view fact, double value) {
        plan::Assignment assignment;
        assignment.fact = tests::named(game.plan.facts, fact);
        assignment.value.kind = game.plan.facts[assignment.fact].initial.kind;
        assignment.value.number = value;
        game.flow.set_facts({assignment}, {});
        return settle();
    }
    Lines show_yard() {
        game.stage.make_shown(plan::LevelId{1});
        return settle();
    }
    Lines pass(plan::Micros time) {
        Lines all = game.pass(time);
        const Lines more = settle();
        all.insert(all.end(), more.begin(), more.end());
        return all;
    }
    /// The zone of the yard from within which it is to come, or beyond which it goes.
    [[nodiscard]] std::uint32_t zone_of(flow::Zone::Kind kind) const {
        for (const ZoneId id : zones.ids()) {
            if (zones[id].kind == kind) return id.value;
        }
        return UINT32_MAX;
    }

private:
    Lines settle() {
        Lines all;
        for (bool changed = true; changed;) {
            const Lines some = game.settle();
            all.insert(all.end(), some.begin(), some.end());
            changed = triggers_.judge();
            changed = near_.judge() || changed || triggers_.to_judge();
        }
        const Lines last = game.settle();
        all.insert(all.end(), last.begin(), last.end());
        return all;
    }

    flow::NearRules near_;
    flow::Triggers triggers_;
};

const std::string box = "box: {min: [10, 0, 0], max: [11, 1, 1]}, ";

} // namespace

TEST_CASE("triggers: on-enter fires for each player who gets inside, on-exit for who gets out") {
    Watched watched("  in: {" + box + "steps: []}\n  out: {" + box +
                    "fires: on-exit, steps: []}\n");
    CHECK(watched.enter(ada, 0) == Lines{"fire in"});
    CHECK(watched.enter(ben, 0) == Lines{"fire in"});
    CHECK(watched.leave(ada, 0).empty());
    CHECK(watched.enter(ada, 0) == Lines{"fire in"});
    CHECK(watched.enter(ada, 1).empty());
    CHECK(watched.leave(ada, 1) == Lines{"fire out"});
}

TEST_CASE("triggers: only for whom it is") {
    Watched watched("  t: {" + box + "for: [carrier], steps: []}\n");
    CHECK(watched.enter(ben).empty());
    CHECK(watched.enter(ada) == Lines{"fire t"});
}

TEST_CASE("triggers: on-enter asks its condition as the player gets inside, and never again") {
    Watched watched("  t: {" + box + "when: n > 2, steps: []}\n");
    CHECK(watched.enter(ada).empty());
    CHECK(watched.set("n", 3).empty());
    watched.leave(ada);
    CHECK(watched.enter(ada) == Lines{"fire t"});
}

TEST_CASE("triggers: while-inside fires whenever all of it becomes true") {
    Watched watched("  t: {" + box + "fires: while-inside, when: n > 2, steps: []}\n");
    CHECK(watched.enter(ada).empty());
    CHECK(watched.set("n", 3) == Lines{"fire t"});
    CHECK(watched.set("n", 4).empty()); // it is so still
    CHECK(watched.set("n", 1).empty());
    CHECK(watched.set("n", 5) == Lines{"fire t"});
    CHECK(watched.leave(ada).empty());
    CHECK(watched.enter(ada) == Lines{"fire t"});
}

TEST_CASE("triggers: without a shape it fires when its condition becomes true") {
    Watched watched("  t: {when: n > 2, steps: [{set: {open: true}}]}\n"
                    "  then: {when: open, steps: [{set: {n: 0}}]}\n");
    // One sets off the other in the same instant.
    CHECK(watched.set("n", 3) == Lines{"fire t", "fire then"});
    CHECK(watched.game.fact("n") == 0);
    CHECK(watched.set("n", 4) == Lines{"fire t"}); // open is true still
}

TEST_CASE("triggers: of a level that is not shown are not live; who is inside then is, as it is") {
    Watched watched("  in: {in: yard, " + box + "steps: []}\n  out: {in: yard, " + box +
                    "fires: on-exit, steps: []}\n");
    CHECK(watched.enter(ada, 0).empty());
    CHECK(watched.enter(ben, 1).empty());
    CHECK(watched.leave(ben, 1).empty()); // was never inside while it was live
    CHECK(watched.enter(ada, 1).empty());
    const Lines lines = watched.show_yard();
    CHECK(lines == Lines{"live yard", "fire in"});
    CHECK(watched.leave(ada, 1) == Lines{"fire out"});
}

TEST_CASE("triggers: once in a session, until the session is reset") {
    Watched watched("  t: {" + box +
                    "once: true, steps: []}\n  new: {when: n == 9, steps: [{reset: "
                    "session}]}\n");
    CHECK(watched.enter(ada) == Lines{"fire t"});
    CHECK(watched.enter(ben).empty());
    watched.leave(ada);
    CHECK(watched.enter(ada).empty());
    CHECK(watched.set("n", 9) == Lines{"fire new", "armed"});
    CHECK(watched.game.fact("n") == 0);
    watched.leave(ben);
    CHECK(watched.enter(ben) == Lines{"fire t"});
}

TEST_CASE("triggers: not while its steps run, and not within its rearm, for any player") {
    Watched watched("  slow: {" + box + "steps: [{wait: 2 s}]}\n  rare: {" + box +
                    "rearm: 5 s, steps: []}\n");
    CHECK(watched.enter(ada, 0) == Lines{"fire slow"});
    CHECK(watched.enter(ben, 0) == Lines{"lost slow"});
    watched.leave(ben, 0);
    CHECK(watched.pass(seconds(2)).empty());
    CHECK(watched.enter(ben, 0) == Lines{"fire slow"});
    CHECK(watched.enter(ada, 1) == Lines{"fire rare"});
    watched.pass(seconds(4));
    CHECK(watched.enter(ben, 1) == Lines{"lost rare"});
    watched.leave(ben, 1);
    watched.pass(seconds(1)); // 5 s after it fired: that was not within
    CHECK(watched.enter(ben, 1) == Lines{"fire rare"});
}

TEST_CASE("near: comes with the first who is near, goes when the last is far") {
    Watched watched("  t: {when: n > 8, steps: []}\n", ", near: {load: 5, unload: 20}");
    const std::uint32_t close = watched.zone_of(flow::Zone::Kind::near_load);
    const std::uint32_t not_far = watched.zone_of(flow::Zone::Kind::near_unload);
    CHECK(watched.enter(ada, not_far).empty());
    CHECK(watched.enter(ada, close) == Lines{"near yard", "show yard"});
    CHECK(watched.enter(ben, not_far).empty());
    CHECK(watched.enter(ben, close) == Lines{"raise yard"}); // it was asked for
    CHECK(watched.leave(ada, close).empty());
    CHECK(watched.leave(ada, not_far).empty()); // ben is near still
    CHECK(watched.leave(ben, close).empty());
    CHECK(watched.leave(ben, not_far) == Lines{"far yard", "unload yard"});
}

TEST_CASE("near: a level that steps let go stays away until somebody comes anew") {
    Watched watched("  away: {when: n == 1, steps: [{unload: [yard]}]}\n",
                    ", near: {load: 5, unload: 20}");
    const std::uint32_t close = watched.zone_of(flow::Zone::Kind::near_load);
    watched.enter(ada, watched.zone_of(flow::Zone::Kind::near_unload));
    watched.enter(ada, close);
    CHECK(watched.set("n", 1) == Lines{"fire away", "unload yard"});
    CHECK(watched.enter(ben, close) == Lines{"near yard", "show yard"});
}
