// A player's speed is a move of its own exactly where what happens on the way can depend on it.

#include "explore/explorer.hpp"

#include "support/plan_text.hpp"

#include <set>

using namespace hestrel;
using explore::Explorer;

namespace {

/// Two waypoints on a line, 100 m apart, a third behind, and a player who walks at 1 or at 10 m/s.
std::string line_with(const std::string& more) {
    return "hestrel: 1\ndevices: {box: {memory: {total: 100}, read: {rate: 100}, frame: {fps: "
           "60}}}\n"
           "players: {carrier: {speeds: {slow: 1, fast: 10}}}\n"
           "levels: {hall: {memory: {t: 1}, entries: {in: a}}}\neditions: {all: {levels: [hall]}}\n"
           "waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [200, 0, 0]}\npaths: [[a, b], [b, c]]\n" +
           more;
}

std::unique_ptr<Explorer> explored_line(const plan::Plan& plan) {
    explore::Options options;
    options.edition = plan::EditionId{0};
    auto explorer = std::make_unique<Explorer>(plan, options);
    explorer->run();
    CHECK(explorer->complete());
    return explorer;
}

/// The values that the plan's first fact has in situations with the player at a waypoint.
std::set<std::int64_t> values_at(const Explorer& explorer, std::string_view waypoint) {
    std::set<std::int64_t> values;
    const plan::Plan& plan = explorer.plan();
    for (std::uint32_t situation = 0; situation < explorer.situations(); ++situation) {
        const explore::Word* row = explorer.row(situation);
        const plan::WaypointId at = explorer.player_of(row, 0).at;
        if (at && plan.waypoints[at].name == waypoint)
            values.insert(explorer.layout().facts[flow::FactSlot{0}].get(row));
    }
    return values;
}

} // namespace

TEST_CASE("only where a trigger asks for it is each speed a move of its own") {
    const plan::Plan plan = tests::plan_from(
        line_with("facts: {rang: {initial: false}}\n"
                  "triggers: {bell: {box: {min: [140, -1, -1], max: [160, 1, 1]}, once: true, "
                  "when: speed > 5, steps: [{set: {rang: true}}]}}\n"));
    const auto explorer = explored_line(plan);
    CHECK(values_at(*explorer, "a") == std::set<std::int64_t>{0, 1});
    CHECK(values_at(*explorer, "c") == std::set<std::int64_t>{0, 1});
    CHECK(explorer->situations() == 6);
    // At each of two speeds: one path from a, two from b, one from c, whether it rang or not.
    CHECK(explorer->moves_made() == 2 * 2 * (1 + 2 + 1));
    std::set<std::uint32_t> fast_along;
    explorer->for_outcomes([&](const explore::Outcome& outcome) {
        const explore::Move& move = explorer->moves()[explorer->taken(outcome.taken).move];
        if (move.speed == 1) fast_along.insert(move.leg.path.value);
    });
    CHECK(fast_along == std::set<std::uint32_t>{1});
}

TEST_CASE("a veil that has to stay up makes speed matter") {
    // Between `up` and `down` lie 60 m. At 1 m/s the veil's 20 s have passed there, so `down` sets
    // its fact at once, and `late` after 5 s; at 10 m/s 14 s are left, and `late` is first.
    const std::string text = line_with(
        "veils: {dusk: {min: 20 s}}\n"
        "facts: {last: {initial: 0, range: [0, 2]}, there: {initial: false}}\n"
        "triggers:\n"
        "  up: {box: {min: [20, -1, -1], max: [22, 1, 1]}, steps: [{veil: dusk}]}\n"
        "  down: {box: {min: [80, -1, -1], max: [82, 1, 1]}, steps: [{set: {there: true}}, "
        "{unveil: dusk}, {set: {last: 1}}]}\n"
        "  late: {when: there, steps: [{wait: 5 s}, {set: {last: 2, there: false}}]}\n");
    const plan::Plan plan = tests::plan_from(
        text +
        "  far: {box: {min: [140, -1, -1], max: [160, 1, 1]}, when: speed > 5, steps: []}\n");
    CHECK(values_at(*explored_line(plan), "b") == std::set<std::int64_t>{1, 2});
    // Where nothing in the plan reads it, players go at the first.
    CHECK(values_at(*explored_line(tests::plan_from(text)), "b") == std::set<std::int64_t>{2});
}

TEST_CASE("who is stopped on the way goes on at that speed") {
    const auto text = [](const std::string& when) {
        return line_with("triggers: {half-way: {box: {min: [50, -1, -1], max: [52, 1, 1]}, steps: "
                         "[{open: board}]}}\n"
                         "menus: {board: {pauses: true, items: {on: {" +
                         when + "steps: []}}}}\n");
    };
    // a, b, c, and stopped on the way there and back.
    CHECK(explored_line(tests::plan_from(text("")))->situations() == 5);
    // Read by the item, of somebody who stands; stopped at each of two speeds.
    CHECK(explored_line(tests::plan_from(text("when: speed == 0, ")))->situations() == 7);
}

TEST_CASE("who has no speed goes nowhere") {
    std::string text = line_with("");
    const std::string speeds = "{speeds: {slow: 1, fast: 10}}";
    text.replace(text.find(speeds), speeds.size(), "{tags: [carrier]}");
    const auto explorer = explored_line(tests::plan_from(text));
    CHECK(explorer->situations() == 1);
    CHECK(explorer->moves_made() == 0);
}
