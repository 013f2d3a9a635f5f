// A search backwards along the paths: where can players come from?

#include "study/coming_from.hpp"

#include "study/road.hpp"
#include "support/dice.hpp"

using namespace hestrel;
using plan::PathId;
using plan::TriggerId;
using plan::WaypointId;
using study::ComingFrom;
using study::Crossings;

namespace {

constexpr PathId before_b{std::size_t{0}}, behind_b{std::size_t{1}};
constexpr WaypointId at_a{std::size_t{0}};

Crossings all_crossings(const plan::Plan& plan, const study::Geography& map) {
    Crossings all;
    for (const TriggerId trigger : plan.triggers.ids()) all.add(plan, map, trigger);
    all.sort();
    return all;
}

} // namespace

TEST_CASE("coming from: stops at what it is told to, and finds the nearest beginning") {
    const plan::Plan plan = tests::short_road();
    const study::Geography map(plan);
    const Crossings all = all_crossings(plan, map);
    ComingFrom search(plan, map);
    search.look_at(all);
    search.crossed = [](TriggerId) { return ComingFrom::Crossed::nothing; };
    search.standing = [](WaypointId at) {
        return at == at_a ? ComingFrom::Crossed::found : ComingFrom::Crossed::nothing;
    };
    const auto from_start = search.search({behind_b, true}, 30);
    REQUIRE(from_start);
    CHECK(from_start->waypoint == at_a);
    // t is crossed between a and b.
    search.crossed = [](TriggerId trigger) {
        return trigger.value == 0 ? ComingFrom::Crossed::stops : ComingFrom::Crossed::nothing;
    };
    CHECK_FALSE(search.search({behind_b, true}, 30));
    CHECK(search.search({before_b, true}, 9)); // before it
    // u fires on the way out, at 15 m from b: someone at 14 m has not fired it.
    search.crossed = [](TriggerId trigger) {
        return trigger.value == 1 ? ComingFrom::Crossed::found : ComingFrom::Crossed::nothing;
    };
    search.standing = [](WaypointId) { return ComingFrom::Crossed::nothing; };
    CHECK_FALSE(search.search({behind_b, true}, 14));
    const auto through_u = search.search({behind_b, true}, 16);
    REQUIRE(through_u);
    CHECK(through_u->trigger == TriggerId{std::size_t{1}});
    // A leg that nobody comes along.
    search.standing = [](WaypointId at) {
        return at == at_a ? ComingFrom::Crossed::found : ComingFrom::Crossed::nothing;
    };
    search.crossed = [](TriggerId) { return ComingFrom::Crossed::nothing; };
    search.closed = [](geometry::Leg leg) { return leg.path == before_b; };
    CHECK_FALSE(search.search({behind_b, true}, 30));
}

TEST_CASE("coming from: crossings on a leg, as a walker comes to them") {
    const plan::Plan plan = tests::short_road();
    const study::Geography map(plan);
    Crossings crossings;
    const plan::LevelId quay{std::size_t{0}};
    for (const std::uint32_t trigger : {2U, 0U}) crossings.add(plan, map, TriggerId{trigger}, quay);
    crossings.add(plan, map, TriggerId{std::size_t{1}});
    crossings.sort();
    const auto there = crossings.on({before_b, true}, quay);
    REQUIRE(there.size() == 2);
    CHECK(there[0].at == Approx(10));
    CHECK(there[1].at == Approx(48));
    const auto back = crossings.on({before_b, false}, quay);
    REQUIRE(back.size() == 2);
    CHECK(back[0].at == Approx(0)); // who comes from b begins in the sphere
    CHECK(back[1].at == Approx(30));
    CHECK(crossings.on({before_b, true}, {}).empty()); // u is on the other path,
    REQUIRE(crossings.on({behind_b, true}, {}).size() == 1);
    CHECK(crossings.on({behind_b, true}, {})[0].at == Approx(15)); // and fires where it is left
}

TEST_CASE("coming from: the first stop is the first of its path, whatever stopped the search") {
    const plan::Plan plan = tests::short_road();
    const study::Geography map(plan);
    const Crossings all = all_crossings(plan, map);
    ComingFrom search(plan, map);
    search.look_at(all);
    search.standing = [](WaypointId) { return ComingFrom::Crossed::nothing; };
    search.crossed = [](TriggerId trigger) {
        return trigger.value != 1 ? ComingFrom::Crossed::stops : ComingFrom::Crossed::nothing;
    };
    CHECK_FALSE(search.search(WaypointId{std::size_t{2}}));
    CHECK(search.first_stop() == TriggerId{std::size_t{2}}); // on the way to c, around b
    search.crossed = [](TriggerId trigger) {
        return trigger.value == 0 ? ComingFrom::Crossed::stops : ComingFrom::Crossed::nothing;
    };
    CHECK_FALSE(search.search(WaypointId{std::size_t{2}}));
    CHECK(search.first_stop() == TriggerId{std::size_t{0}});
    search.crossed = [](TriggerId) { return ComingFrom::Crossed::nothing; };
    CHECK_FALSE(search.search(WaypointId{std::size_t{2}}));
    CHECK_FALSE(search.first_stop());
}

TEST_CASE("coming from: what was crossed last counts, among any triggers on a path") {
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        tests::Dice dice(seed);
        std::string text = "hestrel: 1\nwaypoints: {a: [0, 0, 0], b: [40, 0, 0]}\npaths: [[a, "
                           "b]]\nlevels: {hall: {memory: {t: 1}}}\ntriggers:\n";
        const int count = 1 + dice.below(12);
        for (int i = 0; i < count; ++i) {
            const int from = 1 + dice.below(30);
            text += fmt::format("  t{}: {{box: {{min: [{}, -1, -1], max: [{}, 1, 1]}}, {}steps: "
                                "[]}}\n",
                                i, from, from + 1 + dice.below(8),
                                dice.one_in(2) ? "" : "fires: on-exit, ");
        }
        const plan::Plan plan = tests::plan_from(text);
        const study::Geography map(plan);
        // Each trigger stops, is where they come from, or is nothing; half are looked at apart.
        std::vector<ComingFrom::Crossed> meaning;
        Crossings one;
        Crossings other;
        for (const TriggerId trigger : plan.triggers.ids()) {
            meaning.push_back(static_cast<ComingFrom::Crossed>(dice.below(3)));
            (dice.one_in(2) ? one : other).add(plan, map, trigger);
        }
        one.sort();
        other.sort();
        ComingFrom search(plan, map);
        search.look_at(one);
        search.look_at(other);
        search.crossed = [&](TriggerId trigger) { return meaning[trigger.value]; };
        search.closed = [](geometry::Leg) { return true; }; // this leg only
        search.standing = [](WaypointId) { return ComingFrom::Crossed::nothing; };
        for (const bool forward : {true, false}) {
            for (int metres = 0; metres <= 40; ++metres) {
                double last_at = -1;
                TriggerId last;
                for (const TriggerId trigger : plan.triggers.ids()) {
                    if (meaning[trigger.value] == ComingFrom::Crossed::nothing) continue;
                    const auto& meeting = map.meetings[trigger].front();
                    const auto part = map.on_leg({before_b, forward}, meeting.from, meeting.to);
                    const bool on_exit = plan.triggers[trigger].fires == plan::Fires::on_exit;
                    const double at = on_exit ? part.to : part.from;
                    const bool sooner =
                        last && at == last_at && meeting.from < map.meetings[last].front().from;
                    if (at > metres || (at <= last_at && !sooner)) continue;
                    last_at = at;
                    last = trigger;
                }
                const auto found = search.search({before_b, forward}, metres);
                const bool comes = last && meaning[last.value] == ComingFrom::Crossed::found;
                INFO("seed " << seed << ", " << metres << " m " << (forward ? "there" : "back"));
                REQUIRE(found.has_value() == comes);
                if (comes) REQUIRE(found->trigger == last);
            }
        }
    }
}
