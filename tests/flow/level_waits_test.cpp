// Waits for levels, kept up to date level by level.

#include "flow/level_waits.hpp"

#include "bare_stage.hpp"

using namespace hestrel;
using flow::LevelWaits;
using flow::RunId;
using plan::Awaited;
using plan::LevelId;

namespace {

constexpr LevelId quay{std::size_t{0}}, hall{std::size_t{1}}, loft{std::size_t{2}};
constexpr RunId one{std::size_t{1}}, two{std::size_t{2}};

const plan::Plan& plan_of_three() {
    static const plan::Plan plan = tests::plan_from(
        "hestrel: 1\nlevels: {quay: {memory: {texture: 1}}, hall: {memory: {texture: 1}}, "
        "loft: {memory: {texture: 1}}}\n");
    return plan;
}

struct Game {
    tests::BareStage stage{plan_of_three()};
    LevelWaits waits{plan_of_three()};
};

} // namespace

TEST_CASE("level waits: a wait for what is there is over at once") {
    Game game;
    game.stage.make_ready(quay);
    CHECK(game.waits.start(one, Awaited::ready, {quay}, {}, game.stage));
    CHECK_FALSE(game.waits.waiting(one));
    CHECK(game.waits.missing(one).empty());
    CHECK(game.waits.start(one, Awaited::ready, {}, {}, game.stage));
}

TEST_CASE("level waits: ready is not shown") {
    Game game;
    game.stage.make_ready(quay);
    CHECK_FALSE(game.waits.start(one, Awaited::shown, {quay}, {}, game.stage));
    CHECK(game.waits.waiting(one));
    CHECK(game.waits.awaited(one) == Awaited::shown);
    game.stage.make_shown(quay);
    CHECK(game.waits.look_again(quay, game.stage) == std::vector{one});
    CHECK_FALSE(game.waits.waiting(one));
}

TEST_CASE("level waits: over with the last of them, whatever the order") {
    Game game;
    CHECK_FALSE(game.waits.start(one, Awaited::ready, {loft, quay, loft}, {}, game.stage));
    CHECK(game.waits.levels(one) == std::vector{quay, loft}); // sorted, each once
    game.stage.make_ready(loft);
    CHECK(game.waits.look_again(loft, game.stage).empty());
    CHECK(game.waits.missing(one) == std::vector{quay});
    game.stage.make_ready(hall); // nobody waits for it
    CHECK(game.waits.look_again(hall, game.stage).empty());
    game.stage.make_ready(quay);
    CHECK(game.waits.look_again(quay, game.stage) == std::vector{one});
}

TEST_CASE("level waits: what came and goes again is missing again") {
    Game game;
    CHECK_FALSE(game.waits.start(one, Awaited::ready, {quay, hall}, {}, game.stage));
    game.stage.make_ready(quay);
    CHECK(game.waits.look_again(quay, game.stage).empty());
    game.stage.unload(quay, {});
    CHECK(game.waits.look_again(quay, game.stage).empty());
    CHECK(game.waits.missing(one) == std::vector{quay, hall});
    CHECK(game.waits.look_again(quay, game.stage).empty()); // counted once
    CHECK(game.waits.missing(one).size() == 2);
}

TEST_CASE("level waits: several runs, each by itself; a stopped one is told no more") {
    Game game;
    CHECK_FALSE(game.waits.start(one, Awaited::ready, {quay}, {}, game.stage));
    CHECK_FALSE(game.waits.start(two, Awaited::ready, {quay, hall}, {}, game.stage));
    game.waits.stop(one);
    game.waits.stop(one);
    game.stage.make_ready(quay);
    CHECK(game.waits.look_again(quay, game.stage).empty());
    CHECK(game.waits.missing(two) == std::vector{hall});
    // A new wait takes the place of the old one.
    CHECK_FALSE(game.waits.start(two, Awaited::ready, {loft}, {}, game.stage));
    game.stage.make_ready(hall);
    CHECK(game.waits.look_again(hall, game.stage).empty());
    game.stage.make_ready(loft);
    CHECK(game.waits.look_again(loft, game.stage) == std::vector{two});
}
