// Steps for one player only, and facts that each player has (docs/model.md section 6), on a stage
// that carries nothing out by itself.

#include "bare_stage.hpp"

using namespace hestrel;
using flow::PlayerId;
using plan::seconds;
using tests::BareGame;
using tests::Lines;

namespace {

constexpr PlayerId player_a{std::size_t{0}}, player_b{std::size_t{1}}, nobody{};

/// A hall with triggers that fire when a test says so, played by two.
BareGame for_two(const std::string& triggers, const std::string& more = "") {
    return BareGame("hestrel: 1\nlevels: {hall: {entries: {door: a, back: b}}}\n"
                    "waypoints: {a: [0, 0, 0], b: [9, 0, 0]}\nveils: {dusk: {min: 2 s}}\n" +
                        more + "triggers:\n" + triggers,
                    2);
}

/// A trigger that does some steps.
std::string does(const std::string& name, const std::string& steps) {
    return "  " + name + ": {in: hall, when: veiled, steps: [" + steps + "]}\n";
}

} // namespace

TEST_CASE("freezing one player leaves the other free") {
    BareGame game = for_two(
        does("one", "{freeze: players, who: firer}") + does("all", "{freeze: players}") +
        does("let-one", "{thaw: players, who: firer}") + does("let-all", "{thaw: players}"));
    CHECK(game.fire("one", player_b) == Lines{"frozen of 1"});
    CHECK(game.fire("one", player_b).empty()); // once is enough
    CHECK(game.flow.frozen(player_b));
    CHECK_FALSE(game.flow.frozen(player_a));
    CHECK(game.fire("all", player_b) == Lines{"frozen of 0"});
    CHECK(game.fire("let-one", player_b) == Lines{"thawed of 1"});
    CHECK(game.flow.frozen(player_a));
    CHECK(game.fire("let-all", player_b) == Lines{"thawed of 0"});
    CHECK(game.fire("let-all", player_b).empty());
    // Where nobody fired it is everyone.
    CHECK(game.fire("one", nobody) == Lines{"frozen"});
    CHECK(game.fire("let-one", nobody) == Lines{"thawed"});
}

TEST_CASE("a menu that is open for one is pressed by that one, and pauses that one") {
    BareGame game = for_two(
        does("open-one", "{open: map, who: firer}") + does("open-all", "{open: map}") +
            does("close-one", "{close: map, who: firer}") + does("close-all", "{close: map}"),
        "menus: {map: {pauses: true, items: {fold: {steps: []}, look: {stays: true, steps: "
        "[]}}, after: {delay: 5 s, steps: [{place: {at: hall.back}}]}}}\n");
    const plan::MenuId map = tests::named(game.plan.menus, "map");
    CHECK(game.fire("open-one", player_b) == Lines{"open map of 1", "frozen of 1"});
    CHECK(game.flow.menu_open(map, player_b));
    CHECK_FALSE(game.flow.menu_open(map, player_a));
    CHECK(game.press("look", player_b).empty());
    CHECK(game.press("fold", player_b) == Lines{"close map of 1", "thawed of 1"});
    // Its `after` is fired by the one for whom it is open, as long after it opened.
    game.fire("open-one", player_b);
    game.pass(seconds(3));
    CHECK(game.fire("open-one", player_a) == Lines{"open map of 0", "frozen of 0"});
    CHECK(game.pass(seconds(2)) == Lines{"close map of 1", "thawed of 1", "place 1 at b"});
    CHECK(game.pass(seconds(3)) == Lines{"close map of 0", "thawed of 0", "place 0 at b"});
    // Opened for all afterwards it is open for all, and nobody's.
    game.fire("open-one", player_b);
    CHECK(game.fire("open-all", player_b) == Lines{"open map", "frozen of 0"});
    CHECK(game.fire("open-one", player_a).empty());
    CHECK(game.pass(seconds(5)) == Lines{"close map", "thawed", "place all at b"});
    // Closed for one it stays open for the other.
    game.fire("open-all", player_a);
    CHECK(game.fire("close-one", player_a) == Lines{"close map of 0", "thawed of 0"});
    CHECK(game.flow.menu_open(map, player_b));
    CHECK(game.fire("close-all", player_a) == Lines{"close map of 1", "thawed of 1"});
    CHECK_FALSE(game.flow.menu_open(map));
}

TEST_CASE("conditions of what nobody fired hold if they do for any player") {
    BareGame game =
        for_two(does("open-one", "{open: map, who: firer}") +
                    does("stop", "{freeze: players, who: firer}") +
                    does("ask", "{wait: {until: open(map) and frozen}}, {set: {n: 1}}"),
                "facts: {n: {initial: 0}}\nmenus: {map: {items: {fold: {steps: []}}}}\n");
    game.fire("ask", player_b);
    game.fire("ask", nobody);
    game.fire("open-one", player_a);
    CHECK(game.fact("n") == 0);
    game.fire("stop", player_b);
    // Open for one player, frozen is the other: true for nobody in particular, and for neither of
    // them.
    CHECK(game.fact("n") == 1);
}

TEST_CASE("placed under a veil: frozen, placed at once, and freed when the veil has been up") {
    BareGame game = for_two(does("me", "{place: {at: hall.back, veil: dusk}}, {set: {n: 1}}") +
                                does("us", "{place: {at: hall.back, veil: dusk}, who: all}"),
                            "facts: {n: {initial: 0}}\n");
    CHECK(game.fire("me", player_b) == Lines{"dusk up", "frozen of 1", "place 1 at b"});
    CHECK(game.flow.veils().hides_from(player_b));
    CHECK_FALSE(game.flow.veils().hides_from(player_a));
    CHECK(game.pass(seconds(1)).empty());
    CHECK(game.fact("n") == 0);
    CHECK(game.pass(seconds(1)) == Lines{"dusk down", "thawed of 1"});
    CHECK(game.fact("n") == 1);
    CHECK(game.fire("us", player_b) == Lines{"dusk up", "frozen", "place all at b"});
    CHECK(game.pass(seconds(2)) == Lines{"dusk down", "thawed"});
}

TEST_CASE("who was placed under a veil is not left behind it when its list is abandoned") {
    BareGame game(
        "hestrel: 1\nlevels: {hall: {entries: {door: a}}, cellar: {}}\n"
        "waypoints: {a: [0, 0, 0]}\nveils: {dusk: {min: 2 s}}\n"
        "facts: {n: {initial: 0}}\ntriggers:\n"
        "  fall: {in: cellar, when: veiled, steps: [{place: {at: hall.door, veil: dusk}}, "
        "{set: {n: 1}}]}\n  bring: {in: hall, when: veiled, steps: [{show: [cellar]}]}\n"
        "  drop: {in: hall, when: veiled, steps: [{unload: [cellar]}]}\n");
    game.fire("bring");
    game.shown("cellar");
    game.fire("fall");
    game.fire("drop");
    CHECK(game.stage.noted(flow::EventKind::abandoned));
    CHECK(game.flow.frozen(player_a));
    CHECK(game.pass(seconds(2)) == Lines{"dusk down", "thawed of 0"});
    CHECK(game.fact("n") == 0); // what comes after is left out
    CHECK(game.flow.idle());
}

TEST_CASE("a place under a veil is left out in leave steps") {
    BareGame game("hestrel: 1\nlevels: {hall: {entries: {door: a}, leave: [{place: {at: hall.door, "
                  "veil: dusk}}]}}\nwaypoints: {a: [0, 0, 0]}\nveils: {dusk: {min: 2 s}}\n"
                  "triggers: {off: {when: veiled, steps: [{hide: [hall]}]}}\n");
    CHECK(game.fire("off") == Lines{"hide hall"});
    CHECK(game.stage.noted(flow::EventKind::leave_cant_wait));
}

TEST_CASE("return to a shown level may be under a veil; else it takes what a switch takes") {
    BareGame game("hestrel: 1\nlevels: {hall: {entries: {door: a}}, yard: {entries: {gate: b}}, "
                  "shed: {}}\nwaypoints: {a: [0, 0, 0], b: [9, 0, 0]}\nveils: {dusk: {min: 2 s}}\n"
                  "triggers:\n  mark: {when: veiled, steps: [{mark: hall.door}]}\n  back: {when: "
                  "veiled, steps: [{return: {to: checkpoint, veil: dusk, with: [shed], order: "
                  "free-first}}]}\n  go: {when: veiled, steps: [{switch: {to: yard}}]}\n");
    game.fire("mark");
    CHECK(game.fire("back") == Lines{"dusk up", "frozen of 0", "place 0 at a"});
    CHECK(game.pass(seconds(2)) == Lines{"dusk down", "thawed of 0"});
    game.fire("go");
    game.ready("yard");
    game.shown("yard");
    CHECK(game.fire("back") ==
          Lines{"dusk up", "frozen", "leave yard for hall shed", "ask hall", "ask shed"});
}

TEST_CASE("facts that each player has: the firer's is set and asked, nobody's are all") {
    BareGame game = for_two(
        does("hit", "{set: {lives: -1}}") + does("all-hit", "{set: {lives: -1}}") +
            does("heal", "{reset: [lives]}") + does("if-last", "{set: {n: +1}, when: lives == 1}") +
            does("keep", "{save: all}") + does("load", "{restore: all}"),
        "facts: {lives: {initial: 3, range: [0, 3], of-each: player}, n: {initial: 0}, "
        "letters: {initial: 0, of-each: player, lifetime: saved}}\n");
    game.fire("hit", player_b);
    CHECK(game.fact("lives", player_a) == 3);
    CHECK(game.fact("lives", player_b) == 2);
    game.fire("all-hit", nobody);
    CHECK(game.fact("lives", player_a) == 2);
    CHECK(game.fact("lives", player_b) == 1);
    game.fire("if-last", player_a);
    CHECK(game.fact("n") == 0);
    game.fire("if-last", player_b);
    CHECK(game.fact("n") == 1);
    game.fire("if-last", nobody); // it holds for one of them
    CHECK(game.fact("n") == 2);
    game.fire("heal", player_b);
    CHECK(game.fact("lives", player_b) == 3);
    CHECK(game.fact("lives", player_a) == 2);
}

TEST_CASE("the saved store keeps each player's own by its name") {
    const plan::Plan plan = tests::plan_from(
        "hestrel: 1\nfacts: {letters: {initial: 0, of-each: player, lifetime: saved}, round: "
        "{initial: 0, lifetime: saved}}\n");
    const plan::FactId letters = tests::named(plan.facts, "letters");
    flow::Facts facts(plan, 2, std::nullopt);
    const auto set = [&](plan::FactId fact, PlayerId player, double value) {
        facts.assign({{}, fact, {plan::ValueKind::number, value, {}}, false},
                     facts.slots().of(fact, player));
    };
    set(letters, player_a, 4);
    set(letters, player_b, 7);
    set(tests::named(plan.facts, "round"), player_b, 2);
    facts.save(std::nullopt);
    const flow::KeptStore kept = flow::kept_store(plan, *facts.saved(), {"ada", "ben"});
    CHECK(kept.of_players.at({letters, "ben"}) == 7);
    // Another session: ben comes first, and carla has never played.
    const flow::Facts again(plan, 2, flow::saved_store(plan, kept, {"ben", "carla"}));
    CHECK(again.value(letters, player_a) == 7);
    CHECK(again.value(letters, player_b) == 0);
    CHECK(again.value(tests::named(plan.facts, "round"), {}) == 2);
}
