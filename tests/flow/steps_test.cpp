// What each step asks of the stage, and when (docs/model.md section 6): by hand, step by step.

#include "flow/bare_stage.hpp"

using namespace hestrel;
using flow::EventKind;
using plan::milliseconds;
using plan::seconds;
using tests::BareGame;
using tests::Lines;

namespace {

/// A hall, a yard and an attic that persists, some veils, facts and a menu, and the triggers given,
/// a line each. They are fired by hand, so it does not matter where they stand.
std::string house(const std::string& triggers) {
    std::string shaped;
    for (const char letter : triggers) {
        const bool first_brace =
            letter == '{' && shaped.find('{', shaped.rfind('\n') + 1) == std::string::npos;
        shaped += letter;
        if (first_brace) shaped += "sphere: {at: [90, 0, 0], radius: 1}, ";
    }
    return "hestrel: 1\ndevices: {box: {memory: {total: 100}, read: {rate: 100}, frame: {fps: "
           "60}}}\n"
           "players: {carrier: {speeds: {walk: 2}, count: 2}}\n"
           "levels:\n"
           "  hall: {entries: {door: a}}\n"
           "  yard: {entries: {gate: b, back: c}, arrive: [{set: {seen: +1}}]}\n"
           "  attic: {persist: true}\n"
           "  shed: {}\n"
           "waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [20, 0, 0]}\n"
           "veils: {dusk: {min: 2 s}, dawn: {}}\n"
           "facts: {seen: {initial: 0, range: [0, 3]}, lamp: {initial: false, lifetime: level}, "
           "round: {initial: 0, range: [0, 9], lifetime: saved}}\n"
           "editions: {all: {levels: [hall, yard]}}\n"
           "menus: {map: {in: yard, items: {look: {stays: true, steps: []}}}, board: {pauses: "
           "true, items: {read: {stays: true, steps: [{set: "
           "{seen: 2}}]}, leave: {steps: [{set: {seen: 3}}]}}, after: {delay: 5 s, steps: [{set: "
           "{seen: 1}}]}}}\n"
           "triggers:\n" +
           shaped;
}

} // namespace

TEST_CASE("steps: loading never shows, showing asks, a list goes on in the same instant") {
    BareGame game(house("  t: {steps: [{load: [yard], priority: now}, {show: [yard]}, {hide: "
                        "[yard]}, {unload: [yard]}]}\n"));
    CHECK(game.fire("t") == Lines{"ask yard now", "show yard", "hide yard", "unload yard"});
    CHECK(game.flow.idle());
}

TEST_CASE("steps: keep-only unloads all but what is named and what persists") {
    BareGame game(house("  t: {steps: [{show: [yard]}, {keep-only: [yard]}]}\n"));
    CHECK(game.fire("t") == Lines{"show yard", "unload hall"});
}

TEST_CASE("steps: waiting for levels, with a time after which it gives up") {
    const std::string text = house(
        "  t: {steps: [{load: [yard]}, {wait: {ready: [yard]}, at-most: 3 s}, {veil: dawn}]}\n");
    SECTION("they come") {
        BareGame game(text);
        CHECK(game.fire("t") == Lines{"ask yard"});
        CHECK(game.pass(seconds(2)).empty());
        CHECK(game.ready("yard") == Lines{"dawn up"});
        CHECK(game.pass(seconds(9)).empty());
        CHECK_FALSE(game.stage.noted(EventKind::gave_up_waiting));
    }
    SECTION("they don't") {
        BareGame game(text);
        game.fire("t");
        CHECK(game.pass(milliseconds(2'999)).empty());
        CHECK(game.pass(milliseconds(1)) == Lines{"dawn up"});
        CHECK(game.stage.noted(EventKind::gave_up_waiting));
    }
    SECTION("they are there already") {
        BareGame game(text);
        game.ready("yard");
        CHECK(game.fire("t") == Lines{"ask yard", "dawn up"});
    }
}

TEST_CASE("steps: waiting until a condition holds, also of the speed of who fired") {
    BareGame game(house("  t: {steps: [{wait: {until: speed == 0 and seen >= 2}}, {veil: dawn}]}\n"
                        "  more: {steps: [{set: {seen: +1}}]}\n"));
    game.stage.speed = 2;
    CHECK(game.fire("t").empty());
    game.fire("more");
    game.fire("more");
    CHECK(game.flow.waiting().size() == 1);
    game.stage.speed = 0;
    CHECK(game.settle() == Lines{"dawn up"});
}

TEST_CASE("steps: who nobody fired stands still") {
    BareGame game(house("  t: {steps: [{wait: {until: speed == 0}}, {veil: dawn}]}\n"));
    game.stage.speed = 2;
    CHECK(game.fire("t", {}) == Lines{"dawn up"});
}

TEST_CASE("steps: a veil raised twice is one, and comes down no sooner than its min") {
    BareGame game(house("  up: {steps: [{veil: dusk}]}\n"
                        "  down: {steps: [{unveil: dusk}, {set: {seen: 1}}]}\n"));
    CHECK(game.fire("up") == Lines{"dusk up"});
    CHECK(game.pass(milliseconds(500)).empty());
    CHECK(game.fire("up").empty());
    CHECK(game.fire("down").empty()); // waits; 1.5 s are left
    CHECK(game.pass(milliseconds(1'499)).empty());
    CHECK(game.fact("seen") == 0);
    CHECK(game.pass(milliseconds(1)) == Lines{"dusk down"});
    CHECK(game.fact("seen") == 1);
    CHECK(game.fire("down").empty()); // none is up
}

TEST_CASE("steps: a veil for who fired is up until it is down for both") {
    BareGame game(house("  up: {steps: [{veil: dawn, who: firer}]}\n"
                        "  down: {steps: [{unveil: dawn, who: firer}]}\n"
                        "  all-down: {steps: [{unveil: dawn}]}\n"),
                  2);
    CHECK(game.fire("up", flow::PlayerId{0}) == Lines{"dawn up"});
    CHECK(game.fire("up", flow::PlayerId{1}).empty());
    CHECK(game.flow.veils().hides_from(flow::PlayerId{1}));
    CHECK(game.fire("down", flow::PlayerId{0}).empty());
    CHECK_FALSE(game.flow.veils().hides_from(flow::PlayerId{0}));
    CHECK(game.fire("all-down") == Lines{"dawn down"});
    // Where nobody fired it is for everyone.
    CHECK(game.fire("up", {}) == Lines{"dawn up"});
    CHECK(game.flow.veils().hides_from(flow::PlayerId{0}));
    CHECK(game.flow.veils().hides_from(flow::PlayerId{1}));
}

TEST_CASE("steps: freezes of a step, a menu and a switch are one each") {
    BareGame game(house("  cold: {steps: [{freeze: players}, {freeze: players}]}\n"
                        "  warm: {steps: [{thaw: players}]}\n"
                        "  board: {steps: [{open: board}]}\n"
                        "  unboard: {steps: [{close: board}]}\n"));
    CHECK(game.fire("cold") == Lines{"frozen"});
    CHECK(game.fire("board") == Lines{"open board"});
    CHECK(game.fire("warm").empty()); // the menu still freezes
    CHECK(game.flow.frozen(flow::PlayerId{0}));
    CHECK(game.fire("unboard") == Lines{"close board", "thawed"});
    CHECK_FALSE(game.flow.frozen(flow::PlayerId{0}));
}

TEST_CASE("steps: placing who fired, or everyone") {
    BareGame game(house("  me: {steps: [{place: {at: yard.back}}]}\n"
                        "  us: {steps: [{place: {at: hall.door}, who: all}]}\n"),
                  2);
    CHECK(game.fire("me", flow::PlayerId{1}) == Lines{"place 1 at c"});
    CHECK(game.fire("me", {}) == Lines{"place all at c"});
    CHECK(game.fire("us", flow::PlayerId{1}) == Lines{"place all at a"});
}

TEST_CASE("steps: a switch that loads first") {
    BareGame game(
        house("  go: {steps: [{switch: {to: yard, at: back, veil: dusk}}, {set: {round: 7}}]}\n"
              "  light: {steps: [{set: {lamp: true}}]}\n"));
    game.fire("light");
    CHECK(game.fire("go") == Lines{"dusk up", "frozen", "ask yard"});
    CHECK(game.fact("lamp") == 1);
    game.pass(seconds(1));
    // Old levels leave when the family is ready; what persists stays. Then the family is shown.
    CHECK(game.ready("yard") == Lines{"leave hall for yard", "ask yard", "show yard"});
    CHECK(game.fact("lamp") == 0); // of lifetime level
    CHECK(game.fact("seen") == 0);
    // Arrived: placed, live, its arrive steps; veil and freeze last until the veil's min.
    CHECK(game.shown("yard") == Lines{"place all at c", "live yard", "open map"});
    CHECK(game.fact("seen") == 1);
    CHECK(game.fact("round") == 0); // the list still waits
    CHECK(game.pass(seconds(1)) == Lines{"dusk down", "thawed"});
    CHECK(game.fact("round") == 7);
}

TEST_CASE("steps: a switch that frees first, with company, to the first entry") {
    BareGame game(house("  go: {steps: [{switch: {to: yard, with: [shed], order: free-first}}]}\n"
                        "  shed: {steps: [{load: [shed]}]}\n"));
    CHECK(game.fire("go") == Lines{"frozen", "leave hall for yard shed", "ask yard", "ask shed"});
    CHECK(game.ready("yard").empty()); // its company is not there yet
    CHECK(game.ready("shed") == Lines{"show yard", "show shed"});
    CHECK(game.shown("yard").empty());
    CHECK(game.shown("shed") ==
          Lines{"place all at b", "live yard", "open map", "live shed", "thawed"});
}

TEST_CASE("steps: a blocking switch to what is there already, kept or read again") {
    BareGame game(
        house("  bring: {steps: [{show: [yard]}]}\n"
              "  again: {steps: [{switch: {to: yard, blocking: true}}]}\n"
              "  stay: {steps: [{switch: {to: yard, reuse: true, order: free-first}}]}\n"));
    game.fire("bring");
    game.shown("yard");
    // It leaves too, and comes back.
    CHECK(game.fire("again") == Lines{"frozen", "block for yard", "ask yard",
                                      "leave hall yard for yard", "close map", "ask yard",
                                      "show yard", "show block"});
    CHECK(game.shown("yard") == Lines{"place all at b", "live yard", "open map", "thawed"});
    CHECK(game.fire("stay") ==
          Lines{"frozen", "leave for yard", "ask yard", "show yard", "place all at b", "thawed"});
}

TEST_CASE("steps: while a switch is under way another is refused, and its family stays") {
    BareGame game(house("  go: {steps: [{switch: {to: yard}}]}\n"
                        "  other: {steps: [{switch: {to: hall}}, {set: {round: 1}}]}\n"
                        "  away: {steps: [{unload: [yard, hall]}]}\n"));
    game.fire("go");
    CHECK(game.fire("other").empty());
    CHECK(game.stage.noted(EventKind::switch_refused));
    CHECK(game.fact("round") == 1); // the list goes on
    CHECK(game.fire("away") == Lines{"unload hall"});
    CHECK(game.stage.noted(EventKind::leave_refused));
}

TEST_CASE("steps: next and back, and where the edition ends") {
    BareGame game(house("  on: {steps: [{next: {}}]}\n  off: {steps: [{back: {}}]}\n"
                        "  first: {steps: [{switch: {to: {position: 0}}}]}\n"));
    CHECK(game.fire("off").empty());
    CHECK(game.stage.noted(EventKind::beyond_edition));
    CHECK(game.fire("on") == Lines{"frozen", "ask yard"});
    game.ready("yard");
    game.shown("yard");
    game.stage.notes.clear();
    CHECK(game.fire("on").empty());
    CHECK(game.stage.noted(EventKind::beyond_edition));
    CHECK(game.fire("first") == Lines{"frozen", "ask hall"});
}

TEST_CASE("steps: facts are set, added to within their range, and reset") {
    BareGame game(house("  add: {steps: [{set: {seen: +2}}]}\n"
                        "  low: {steps: [{set: {seen: -9}}]}\n"
                        "  one: {steps: [{reset: [seen]}]}\n"
                        "  all: {steps: [{set: {round: 4}}, {reset: session}]}\n"));
    game.fire("add");
    CHECK(game.fact("seen") == 2);
    CHECK_FALSE(game.stage.noted(EventKind::out_of_range));
    game.fire("add");
    CHECK(game.fact("seen") == 3);
    CHECK(game.stage.noted(EventKind::out_of_range));
    game.fire("one");
    CHECK(game.fact("seen") == 0);
    game.fire("low");
    CHECK(game.fact("seen") == 0);
    game.fire("add");
    CHECK(game.fire("all") == Lines{"armed"});
    CHECK(game.fact("seen") == 0);
    CHECK(game.fact("round") == 4); // of lifetime saved
}

TEST_CASE("steps: what is saved comes back, with the checkpoint") {
    BareGame game(house("  save: {steps: [{mark: yard.back}, {set: {round: 3, seen: 2}}, {save: "
                        "all}]}\n"
                        "  spoil: {steps: [{set: {round: 8, seen: 1}}, {mark: hall.door}]}\n"
                        "  back: {steps: [{restore: all}]}\n"
                        "  home: {steps: [{return: checkpoint}]}\n"));
    CHECK(game.fire("back").empty());
    CHECK(game.stage.noted(EventKind::nothing_saved));
    CHECK(game.fire("home").empty());
    CHECK(game.stage.noted(EventKind::no_checkpoint));
    game.fire("save");
    game.fire("spoil");
    // Its level is shown: a place, of who fired.
    CHECK(game.fire("home") == Lines{"place 0 at a"});
    game.fire("back");
    CHECK(game.fact("round") == 3);
    CHECK(game.fact("seen") == 1); // is not of lifetime saved
    // Its level is not shown: a switch.
    CHECK(game.fire("home") == Lines{"frozen", "ask yard"});
    game.ready("yard");
    CHECK(game.shown("yard") == Lines{"place all at c", "live yard", "open map", "thawed"});
}

TEST_CASE("steps: menus and their items") {
    BareGame game(house("  board: {steps: [{open: board}]}\n"));
    CHECK(game.fire("board") == Lines{"open board", "frozen"});
    CHECK(game.fire("board").empty()); // it is open
    CHECK(game.pass(seconds(4)).empty());
    CHECK(game.press("read").empty()); // stays, and starts the delay anew
    CHECK(game.fact("seen") == 2);
    CHECK(game.pass(seconds(4)).empty());
    CHECK(game.pass(seconds(1)) == Lines{"close board", "thawed"});
    CHECK(game.fact("seen") == 1); // its after
    game.fire("board");
    CHECK(game.press("leave") == Lines{"close board", "thawed"});
    CHECK(game.fact("seen") == 3);
    CHECK(game.pass(seconds(9)).empty()); // its after came once per opening at most
    CHECK(game.fact("seen") == 3);
}

TEST_CASE("steps: a level's menu opens when players arrive, closes with it, and not before") {
    BareGame game(house("  go: {steps: [{switch: {to: yard}}]}\n  map: {steps: [{open: map}]}\n"
                        "  dark: {steps: [{hide: [yard]}]}\n"));
    CHECK(game.fire("map").empty());
    CHECK(game.stage.noted(EventKind::menu_refused));
    game.fire("go");
    game.ready("yard");
    CHECK(game.shown("yard") == Lines{"place all at b", "live yard", "open map", "thawed"});
    CHECK(game.fire("dark") == Lines{"hide yard", "close map"});
    game.stage.notes.clear();
    CHECK(game.fire("map").empty());
    CHECK(game.stage.noted(EventKind::menu_refused));
}

TEST_CASE("steps: a choice runs the branch picked, then what stands behind it") {
    const std::string text =
        house("  t: {steps: [{choose: {north: [{veil: dawn}, {wait: 1 s}], south: [{set: {seen: "
              "3}}]}}, {set: {round: 5}}]}\n");
    BareGame north(text);
    CHECK(north.fire("t") == Lines{"dawn up"});
    CHECK(north.fact("round") == 0);
    north.pass(seconds(1));
    CHECK(north.fact("round") == 5);
    BareGame south(text);
    south.stage.picks = {1};
    south.fire("t");
    CHECK(south.fact("seen") == 3);
    CHECK(south.fact("round") == 5);
}

TEST_CASE("steps: a level that starts leaving abandons its lists, hiding does not") {
    BareGame game(house("  t: {in: hall, steps: [{wait: 3 s}, {set: {seen: 3}}]}\n"
                        "  free: {steps: [{wait: 3 s}, {set: {round: 1}}]}\n"
                        "  dark: {steps: [{hide: [hall]}]}\n"
                        "  away: {steps: [{unload: [hall]}]}\n"));
    game.fire("t");
    game.fire("dark");
    game.pass(seconds(3));
    CHECK(game.fact("seen") == 3);
    game.fire("t");
    game.fire("free");
    game.stage.notes.clear();
    game.fire("away");
    CHECK(game.stage.noted(EventKind::abandoned));
    game.pass(seconds(3));
    CHECK(game.fact("round") == 1); // it belongs to no level
    CHECK(game.flow.idle());
}

TEST_CASE("steps: the game carries a switch to its end without the list that began it") {
    BareGame game(house("  go: {in: hall, steps: [{switch: {to: yard, order: free-first}}, {set: "
                        "{round: 9}}]}\n"));
    CHECK(game.fire("go") == Lines{"frozen", "leave hall for yard", "ask yard"});
    CHECK(game.stage.noted(EventKind::abandoned));
    CHECK(game.ready("yard") == Lines{"show yard"});
    CHECK(game.shown("yard") == Lines{"place all at b", "live yard", "open map", "thawed"});
    CHECK(game.fact("round") == 0);
}

TEST_CASE("steps: the end of the session stops everything") {
    BareGame game(house("  t: {steps: [{end: session}, {set: {seen: 3}}]}\n"
                        "  slow: {steps: [{wait: 1 s}, {set: {seen: 2}}]}\n"));
    game.fire("slow");
    game.fire("t");
    CHECK(game.flow.ended());
    CHECK(game.stage.noted(EventKind::session_ended));
    game.pass(seconds(2));
    CHECK(game.fact("seen") == 0);
}
