// One situation, looked for: found where there is one, told where there is none.

#include "explore/goal.hpp"

#include "bench/large_situations.hpp"
#include "explore/explored.hpp"
#include "source/open_plan.hpp"
#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "support/situations.hpp"

#include <fmt/format.h>

using namespace hestrel;
using explore::Explorer;

namespace {

/// A plan, and a condition that is asked as a route does.
struct Question {
    Question(const std::string& text, const std::string& condition) {
        source::MemoryDisk disk;
        disk.files["plan.yaml"] = text;
        source::OpenPlan open(disk, "plan.yaml");
        REQUIRE_FALSE(open.has_errors());
        const auto read = open.read_step("{until: '" + condition + "'}", {});
        REQUIRE(read.problems.empty());
        asked = std::get<plan::UntilStep>(read.step->what).condition;
        plan = open.take();
    }
    plan::Plan plan;
    plan::ConditionId asked;

    [[nodiscard]] std::unique_ptr<Explorer> toward(std::size_t most = 10'000'000) const {
        explore::Options options = tests::exploring_of(plan);
        options.toward = asked;
        options.most_situations = most;
        return explore::explore_all(plan, options);
    }
};

/// A hall, and a vault at the end of five waypoints; 10, 30 and 100 MiB.
std::string corridor() {
    return std::string(tests::plain_device) + R"(
levels:
  hall: {memory: {texture: 10}, entries: {start: a}}
  vault: {memory: {texture: 30}}
  annex: {memory: {texture: 100}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [20, 0, 0], d: [30, 0, 0], e: [40, 0, 0], far: [900, 0, 0]}
paths: [[a, b], [b, c], [c, d], [d, e]]
players: {carrier: {speeds: {walk: 2}}}
facts: {coins: {initial: 0, range: [0, 5]}, key: {initial: false}}
triggers:
  coin: {box: {min: [9, -1, -1], max: [11, 1, 1]}, steps: [{set: {coins: +1}}]}
  opens: {box: {min: [39, -1, -1], max: [41, 1, 1]}, when: coins >= 3, steps: [{show: [vault]}, {set: {key: true}}]}
routes: {r: {start: {level: hall, waypoint: a}, steps: []}}
)";
}

std::size_t moves_to(const std::string& condition) {
    const Question question(corridor(), condition);
    const auto explorer = question.toward();
    REQUIRE(explorer->found());
    return explorer->trace_to(*explorer->found()).size() - 1;
}

bool is_nowhere(const std::string& condition) {
    const Question question(corridor(), condition);
    const auto explorer = question.toward();
    CHECK(explorer->complete() != explorer->found().has_value());
    return !explorer->found();
}

} // namespace

TEST_CASE("the way to a situation that is looked for") {
    CHECK(moves_to("at(a)") == 0);
    CHECK(moves_to("at(e)") == 4);
    CHECK(moves_to("inside(opens)") == 4);
    CHECK(moves_to("coins == 2") == 3); // into the box, out of it, and in again
    // Three coins, and then to the end: b, a, b, a, b, c, d, e.
    CHECK(moves_to("shown(vault)") == 8);
    CHECK(moves_to("key and at(a)") == 12);
    CHECK(moves_to("ready(vault) and not inside(opens) or coins > 4") == 9);
    CHECK(moves_to("memory > 35") == 8);
    CHECK(is_nowhere("shown(annex)"));
    CHECK(is_nowhere("memory > 40"));
    CHECK(is_nowhere("at(far)"));
    CHECK(is_nowhere("key and coins < 3"));
    CHECK(is_nowhere("queued(vault)")); // all has settled
    CHECK(is_nowhere("frozen or veiled"));
}

TEST_CASE("what is nearest is looked at first") {
    // Of 2^14 settings of switches one has all of them on.
    std::string condition = "f0";
    for (int i = 1; i < 14; ++i) condition += fmt::format(" and f{}", i);
    const Question question(bench::switchboard(14), condition);
    const auto explorer = question.toward();
    REQUIRE(explorer->found());
    CHECK(explorer->trace_to(*explorer->found()).size() - 1 == 14);
    CHECK(explorer->situations() < 2'000); // of 16,384
}

TEST_CASE("in whatever order situations are looked at, they are the same") {
    std::size_t compared = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        CAPTURE(seed);
        const auto rich = seed % 2 == 0 ? tests::Rich::all : tests::Rich::yes;
        const std::string text = tests::RandomPlan(seed, rich).text();
        explore::Options options;
        options.most_situations = 3'000;
        const plan::Plan plan = tests::plan_from(text);
        const auto by_breadth = explore::explore_all(plan, options);
        if (!by_breadth->complete()) continue;
        ++compared;
        // Those nearest to what never is come first.
        for (const char* never :
             {"shown(level1) and not shown(level1)", "at(way5) and not at(way5)", "n > 3"}) {
            const Question question(text, never);
            const auto nearest = question.toward(3'000);
            CHECK(nearest->complete());
            CHECK((tests::keys_of(*nearest) == tests::keys_of(*by_breadth)));
        }
    }
    CHECK(compared > 20);
}

TEST_CASE("a situation is found exactly where the game says that the condition holds") {
    std::size_t found = 0;
    std::size_t nowhere = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(25); ++seed) {
        CAPTURE(seed);
        const auto rich = seed % 2 == 0 ? tests::Rich::all : tests::Rich::yes;
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, rich).text());
        explore::Options options = tests::exploring_of(plan);
        options.most_situations = 2'000;
        const auto all = explore::explore_all(plan, options);
        if (!all->complete()) continue;
        explore::Game game(plan, {}, all->players());
        game.boot(all->start_level(), all->start_at(), {}, all->start().loaded);
        for (const plan::ConditionId condition : plan.conditions.ids()) {
            using plan::Operation;
            if (plan.conditions[condition].asks({Operation::memory, Operation::speed})) continue;
            CAPTURE(plan.conditions[condition].text);
            const auto holds_in = [&](const Explorer& explorer, std::uint32_t situation) {
                tests::resume(plan, game, tests::plain(explorer, situation));
                return game.flow().holds(condition, {});
            };
            bool anywhere = false;
            for (std::uint32_t number = 0; number < all->situations() && !anywhere; ++number)
                anywhere = holds_in(*all, number);
            options.toward = condition;
            const auto explorer = explore::explore_all(plan, options);
            CHECK(explorer->found().has_value() == anywhere);
            if (explorer->found()) CHECK(holds_in(*explorer, *explorer->found()));
            ++(anywhere ? found : nowhere);
        }
        options.toward = {};
    }
    CHECK(found > 30);
    CHECK(nowhere > 20);
}
