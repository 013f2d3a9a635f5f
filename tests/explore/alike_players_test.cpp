// Players of one kind, who are alike as long as nothing tells them apart.

#include "bench/large_situations.hpp"
#include "explore/explored.hpp"
#include "explore/witness.hpp"
#include "support/plan_text.hpp"
#include "support/situations.hpp"

using namespace hestrel;
using explore::Explorer;

namespace {

/// Two carriers who walk from a to b and back, over stairs that tire them, and whom a bell calls to
/// c, where the first gets a badge.
plan::Plan two_carriers(const std::string& badge) {
    return tests::plan_from(
        "hestrel: 1\n"
        "devices: {box: {memory: {total: 100}, read: {rate: 100}, frame: {fps: 60}}}\n"
        "players: {carrier: {speeds: {walk: 2}, count: 2}}\n"
        "levels: {hall: {memory: {t: 1}, entries: {in: a, desk: c}}}\n"
        "editions: {all: {levels: [hall]}}\n"
        "waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [20, 0, 0]}\n"
        "paths: [[a, b]]\n"
        "facts: {tired: {initial: false, of-each: player}, badge: {" +
        badge +
        "}}\n"
        "triggers:\n"
        "  stairs: {box: {min: [4, -1, -1], max: [6, 1, 1]}, steps: [{set: {tired: true}}]}\n"
        "  desk: {box: {min: [19, -1, -1], max: [21, 1, 1]}, once: true, steps: [{set: {badge: "
        "true}}]}\n"
        "menus: {bell: {in: hall, items: {ring: {stays: true, steps: [{place: {at: hall.desk}, "
        "who: all}]}}}}\n");
}

explore::Options alike_options(const plan::Plan& plan) {
    explore::Options options;
    options.edition = plan::EditionId{0U};
    for (const plan::DeviceId device : plan.devices.ids()) options.devices.push_back(device);
    return options;
}

} // namespace

TEST_CASE("who is tired hangs on who walked, and exchanged it is the same situation") {
    const plan::Plan plan = two_carriers("initial: false");
    const auto explorer = explore::explore_all(plan, alike_options(plan));
    CHECK(!explorer->options().tell_players_apart);
    // Both at a or b before the bell, tired once they have been at b: fresh at a, tired at a, tired
    // at b. Two of those three in any order: 6. After the bell both are at c, tired or not: 3.
    CHECK(explorer->situations() == 6 + 3);
    CHECK(tests::keys_of(*explorer) == tests::slow_situations(plan, *explorer));
}

TEST_CASE("where it matters who is the first at the desk, players are told apart") {
    const plan::Plan plan = two_carriers("initial: false, of-each: player");
    const auto explorer = explore::explore_all(plan, alike_options(plan));
    CHECK(explorer->options().tell_players_apart);
    CHECK(explorer->complete());
    // Three places for each of two; then the first has the badge, and either may be tired.
    CHECK(explorer->situations() == 9 + 4);
    CHECK(tests::keys_of(*explorer) == tests::slow_situations(plan, *explorer));
}

TEST_CASE("a way keeps the names of players who stand in order") {
    const plan::Plan plan = tests::plan_from(bench::ring(4, 0, 2));
    const auto explorer = explore::explore_all(plan, alike_options(plan));
    plan::Plan walked = plan;
    for (std::uint32_t number = 0; number < explorer->situations(); ++number) {
        CAPTURE(number);
        const plan::Route route =
            explore::route_of(*explorer, explorer->trace_to(number), "way", walked);
        const std::vector<std::uint32_t> names = explorer->names_in(number);
        for (std::size_t place = 0; place < 2; ++place) {
            // Who stands there has walked there last, or never set out.
            const auto& steps = route.players[names[place]].steps;
            const plan::WaypointId at = explorer->player_of(explorer->row(number), place).at;
            const plan::WaypointId last =
                steps.empty() ? explorer->start_at() : std::get<plan::GoStep>(steps.back().what).to;
            CHECK(last == at);
        }
    }
}
