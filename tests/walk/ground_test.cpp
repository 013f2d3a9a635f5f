// Walks that share what has a place.

#include "walk/ground.hpp"

#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "walk/walk.hpp"

using namespace hestrel;

namespace {

/// What a walk on shared ground could get wrong: when what happened, and where.
std::vector<std::tuple<std::int64_t, int, std::uint32_t, std::uint32_t>>
all_of(const walk::Record& record) {
    std::vector<std::tuple<std::int64_t, int, std::uint32_t, std::uint32_t>> all;
    for (const walk::Event& event : record.events)
        all.emplace_back(event.at.count, static_cast<int>(event.kind), event.subject, event.detail);
    return all;
}

} // namespace

TEST_CASE("ground: a walk is the same on its own ground and on one that was walked before") {
    for (std::uint32_t seed = 0; seed < tests::seeds(30); ++seed) {
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, tests::Rich::yes).text());
        walk::Ground shared(plan);
        for (int round = 0; round < 2; ++round) {
            for (const plan::RouteId route : plan.routes.ids()) {
                for (const plan::DeviceId device : plan.devices.ids()) {
                    INFO("seed " << seed << ", round " << round);
                    REQUIRE(all_of(walk::walk(plan, route, device, {}, shared)) ==
                            all_of(walk::walk(plan, route, device)));
                }
            }
        }
    }
}

TEST_CASE("ground: what has no place can differ, and counts") {
    plan::Plan plan = tests::plan_from(R"(hestrel: 1
devices: {box: {memory: {total: 900}, read: {rate: 10}, frame: {fps: 50}}}
players: {carrier: {speeds: {walk: 2}}}
levels: {hall: {memory: {t: 10}, entries: {door: a}}}
waypoints: {a: [0, 0, 0], b: [20, 0, 0]}
paths: [[a, b]]
triggers: {t: {box: {min: [10, -1, -1], max: [12, 1, 1]}, steps: []}}
routes: {there: {start: {level: hall}, steps: [{go: b}]}}
)");
    walk::Ground ground(plan);
    const plan::RouteId route{std::size_t{0}};
    const plan::DeviceId device{std::size_t{0}};
    const auto slow = walk::walk(plan, route, device, {}, ground);
    REQUIRE(slow.transitions.size() == 1);
    CHECK(slow.transitions[0].fired - *slow.boot == plan::seconds(5)); // 10 m at 2 m/s
    std::get<plan::GoStep>(plan.routes[route].players[0].steps[0].what).speed = 4;
    const auto fast = walk::walk(plan, route, device, {}, ground);
    CHECK(fast.transitions[0].fired - *fast.boot == plan::milliseconds(2500));
}
