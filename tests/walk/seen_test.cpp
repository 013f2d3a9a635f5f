// What players see: a storyboard worked out by hand, and what holds of every one.

#include "walk/seen.hpp"

#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "walk/casts.hpp"
#include "walk/places.hpp"
#include "walk/timeline.hpp"

using namespace hestrel;
using plan::Micros;
using plan::milliseconds;
using walk::Seen;

namespace {

/// "veil dusk from 1010 ms".
tests::Lines told(const plan::Plan& plan, const std::vector<Seen>& all) {
    tests::Lines lines;
    for (const Seen& seen : all) {
        const auto level = [&] {
            return seen.subject == Seen::no_level ? std::string("nothing")
                                                  : plan.levels[plan::LevelId{seen.subject}].name;
        };
        std::string what;
        switch (seen.what) {
        case Seen::What::veil: what = "veil " + plan.veils[plan::VeilId{seen.subject}].name; break;
        case Seen::What::gap: what = "gap " + level(); break;
        case Seen::What::stalled: what = "stalled " + level(); break;
        case Seen::What::level: what = level(); break;
        case Seen::What::black: what = "black"; break;
        }
        lines.push_back(what + " from " + std::to_string(seen.from.count / 1000) + " ms");
    }
    return lines;
}

/// A hall of 100 MiB up to x = 30 with a nook in it, a quay of 200 MiB from 23 on, which is asked
/// for at 20; 2 m/s.
const std::string hall_and_quay = R"(
levels:
  hall:
    memory: {t: 100}
    area: {min: [0, -1, -1], max: [30, 3, 1]}
    sublevels:
      nook: {memory: {t: 0}, with-parent: true, area: {min: [8, -1, -1], max: [10, 3, 1]}}
  quay: {memory: {t: 200}, area: {min: [23, -1, -1], max: [90, 3, 1]}}
waypoints: {a: [0, 0, 0], b: [60, 0, 0]}
paths: [[a, b]]
veils: {dusk: {}}
players: {one: {speeds: {walk: 2}}}
triggers:
  door: {in: hall, box: {min: [20, -1, -1], max: [21, 1, 1]}, steps: [{show: [quay]}]}
  mist: {in: quay, box: {min: [40, -1, -1], max: [41, 1, 1]}, steps: [{veil: dusk}, {wait: 2 s}, {unveil: dusk}]}
routes: {r: {start: {level: hall, waypoint: a}, steps: [{go: b}]}}
)";

} // namespace

TEST_CASE("a player sees black, levels from the innermost, a gap, a veil") {
    const tests::Walked walked(hall_and_quay);
    // Hall and nook take a frame each to attach: it begins at 1.02 s. The nook is entered at x = 8
    // and left at 10; the quay asked for at 11.02 s, met at 12.52 s, shown at 13.03 s; the hall is
    // left at x = 30; the veil is up from x = 40 for 2 s.
    CHECK(told(walked.plan, walk::seen_by(walked.plan, walked.record, 0)) ==
          tests::Lines{"black from 0 ms", "hall from 1020 ms", "nook from 5020 ms",
                       "hall from 6020 ms", "gap quay from 12520 ms", "hall from 13030 ms",
                       "quay from 16020 ms", "veil dusk from 21020 ms", "quay from 23020 ms"});
    REQUIRE(walked.record.veiled.size() == 1);
    CHECK(walked.record.veiled.front().from == milliseconds(21'020));
    CHECK(walked.record.veiled.front().to == milliseconds(23'020));
}

TEST_CASE("a storyboard has no breaks, and what it tells is so") {
    std::size_t stretches = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(120); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, tests::Rich::all).text());
        walk::Ground ground(plan);
        walk::Options options;
        options.most_transitions = 2'000;
        for (const walk::Cast& cast : walk::casts(plan, {plan::RouteId{0}}, {plan::DeviceId{0}})) {
            for (const walk::Record& record : walk::walk(plan, cast, options, ground)) {
                const walk::Timeline timeline = walk::timeline_of(plan, record);
                for (std::uint32_t player = 0; player < plan.routes[cast.route].players.size();
                     ++player) {
                    const std::vector<Seen> all = walk::seen_by(plan, record, player);
                    Micros until;
                    for (const Seen& seen : all) {
                        ++stretches;
                        REQUIRE(seen.from == until);
                        REQUIRE(seen.to > seen.from);
                        until = seen.to;
                        const Micros middle{(seen.from.count + seen.to.count) / 2};
                        const auto holds = [&](const auto& list, auto subject) {
                            return std::any_of(list.begin(), list.end(), [&](const auto& each) {
                                return each.player == player && subject(each) == seen.subject &&
                                       each.from <= middle && middle < each.to;
                            });
                        };
                        const bool veiled =
                            holds(record.veiled, [](const auto& each) { return each.veil.value; });
                        CHECK(veiled == (seen.what == Seen::What::veil));
                        if (seen.what == Seen::What::gap)
                            CHECK(holds(record.gaps,
                                        [](const auto& each) { return each.level.value; }));
                        if (seen.what != Seen::What::level) continue;
                        const auto& there = timeline[loading::PieceId{seen.subject}];
                        CHECK(std::any_of(there.begin(), there.end(), [&](const auto& each) {
                            return each.condition == walk::LevelCondition::shown &&
                                   each.from <= middle && middle < each.to;
                        }));
                    }
                    if (!all.empty()) CHECK(until == record.end);
                }
            }
        }
    }
    CHECK(stretches > 700);
}

TEST_CASE("players are at the places of their tracks, and where a launch puts them") {
    const tests::Walked walked(R"(
levels: {hall: {memory: {t: 0}, entries: {in: a}}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
players: {one: {speeds: {walk: 2}}}
routes: {r: {start: {level: hall, at: in}, steps: [{go: b}, {launch: again}, {pause: 1 s}, {go: b}]}}
)");
    REQUIRE(walked.record.launches.size() == 1);
    const Micros launched = walked.record.launches.front();
    const auto places = walk::places_of(walked.plan, {&walked.record, 1}, 0);
    CHECK(walk::place_at(places, launched - Micros{1}).place[0] == Approx(10));
    CHECK(walk::place_at(places, launched).place == plan::Vec3{0, 0, 0});
    CHECK(walk::place_at(places, walked.record.end).place == plan::Vec3{10, 0, 0});
    for (const walk::Track& track : walked.record.tracks) {
        const Micros middle{(track.from.count + track.to.count) / 2};
        CHECK(walk::place_at(places, middle).place[0] ==
              Approx(walk::place_on(track, middle)[0]).margin(0.001));
    }
}
