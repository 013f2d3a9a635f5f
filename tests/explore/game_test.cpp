// The game that goes from situation to situation: what it did before leaves nothing behind.

#include "explore/game.hpp"

#include "explore/move_runner.hpp"
#include "explore/moves.hpp"
#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "support/situations.hpp"

using namespace hestrel;
using explore::Game;
using tests::PlainSituation;

namespace {

explore::Options plain_options(const plan::Plan& plan) {
    explore::Options options = tests::exploring_of(plan);
    options.most_situations = 1;
    return options;
}

/// A game that has booted as the explorer's does.
std::unique_ptr<Game> booted(const explore::Explorer& like) {
    auto game = std::make_unique<Game>(like.plan(), like.options().edition, like.players());
    game->boot(like.start_level(), like.start_at(), {}, like.start().loaded);
    return game;
}

std::optional<PlainSituation> after(Game& game, const explore::Explorer& like,
                                    const PlainSituation& from, const explore::Move& move) {
    tests::resume(like.plan(), game, from);
    if (!game.perform(move, {}) || game.log().endless) return std::nullopt;
    return tests::plain(like.plan(), game);
}

} // namespace

TEST_CASE("a session that ends before a trigger is judged leaves nothing of it to the next move") {
    // Going out the second time ends the session in the round in which `late` would be judged.
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + R"(
levels: {hall: {memory: {texture: 1}, entries: {in: a}}}
waypoints: {a: [0, 0, 0], b: [20, 0, 0], c: [40, 0, 0]}
paths: [[a, b], [b, c]]
players: {carrier: {speeds: {walk: 2}}}
facts: {n: {initial: 0, range: [0, 9]}}
triggers:
  early: {box: {min: [9, -1, -1], max: [30, 1, 1]}, fires: on-exit, when: n == 2, steps: [{end: session}]}
  late: {box: {min: [9, -1, -1], max: [30, 1, 1]}, steps: [{set: {n: +1}}]}
routes: {r: {start: {level: hall, waypoint: a}, steps: []}}
)");
    explore::Explorer like(plan, plain_options(plan));
    const auto game = booted(like);
    const auto go = [&](std::uint32_t path, bool forward) {
        explore::Move move;
        move.player = flow::PlayerId{0};
        move.leg = {plan::PathId{path}, forward};
        return move;
    };
    const PlainSituation at_start = tests::plain(plan, *game);
    const auto value = [](const PlainSituation& now) { return now.facts[flow::FactSlot{0}]; };
    const PlainSituation inside = *after(*game, like, at_start, go(0, true));
    CHECK(value(inside) == 1);
    const PlainSituation out = *after(*game, like, inside, go(1, true));
    const PlainSituation in_again = *after(*game, like, out, go(1, false));
    CHECK(value(in_again) == 2);
    CHECK(after(*game, like, in_again, go(0, false))->settled.ended);
    // From the beginning again: walking in fires it as before.
    CHECK(value(*after(*game, like, at_start, go(0, true))) == 1);
}

TEST_CASE("a move does the same in a game that has done others as in one that has not") {
    std::size_t moves = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        CAPTURE(seed);
        const auto rich = seed % 3 == 2 ? tests::Rich::all : tests::Rich::yes;
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, rich).text());
        explore::Explorer like(plan, plain_options(plan));
        const auto used = booted(like);
        std::vector<PlainSituation> known{tests::plain(plan, *used)};
        tests::Dice dice(seed);
        for (int i = 0; i < 150; ++i) {
            const PlainSituation from =
                known[static_cast<std::size_t>(dice.below(static_cast<int>(known.size())))];
            if (from.settled.booting) break;
            const auto count = static_cast<int>(like.moves().size());
            const explore::Move& move = like.moves()[static_cast<std::size_t>(dice.below(count))];
            const bool launches = move.kind == explore::Move::Kind::launch;
            if (from.settled.ended != launches) continue;
            const auto fresh = booted(like);
            const auto one = after(*fresh, like, from, move);
            const auto other = after(*used, like, from, move);
            REQUIRE(one.has_value() == other.has_value());
            if (!one) continue;
            ++moves;
            CHECK((one->key() == other->key()));
            known.push_back(*one);
        }
    }
    CHECK(moves > 500);
}
