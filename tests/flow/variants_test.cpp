// What belongs to several levels, and variants of one place (docs/model.md sections 2 and 5), on a
// stage that carries nothing out by itself.

#include "bare_stage.hpp"

using namespace hestrel;
using flow::EventKind;
using flow::PlayerId;
using tests::BareGame;
using tests::Lines;

namespace {

/// A hall, a yard and a shed; triggers that fire when a test says so.
BareGame three_places(const std::string& triggers, const std::string& more = "") {
    return BareGame(
        "hestrel: 1\nlevels: {hall: {entries: {door: a}}, yard: {entries: {gate: b}}, shed: {}}\n"
        "waypoints: {a: [0, 0, 0], b: [9, 0, 0]}\n" +
        more + "triggers:\n" + triggers);
}

std::string by_hand(const std::string& name, const std::string& steps) {
    return "  " + name + ": {when: veiled, steps: [" + steps + "]}\n";
}

/// A hall, and a village in three variants.
BareGame in_variants(const std::string& triggers) {
    return BareGame("hestrel: 1\nlevels: {hall: {entries: {door: a}}, day: {entries: {gate: b}}, "
                    "dusk: {}, night: {persist: false}}\ngroups: {village: {levels: [night, day, "
                    "dusk], one-of: true}}\nwaypoints: {a: [0, 0, 0], b: [9, 0, 0]}\ntriggers:\n" +
                    triggers);
}

} // namespace

TEST_CASE("a menu of several levels is open while any is shown, and stays closed once closed") {
    BareGame game =
        three_places(by_hand("yard", "{show: [yard]}") + by_hand("shed", "{show: [shed]}") +
                         by_hand("hide-yard", "{hide: [yard]}") +
                         by_hand("hide-shed", "{hide: [shed]}") + by_hand("close", "{close: map}"),
                     "menus: {map: {in: [shed, yard], items: {}}}\n");
    game.fire("yard");
    CHECK(game.shown("yard") == Lines{"live yard", "open map"});
    game.fire("shed");
    CHECK(game.shown("shed") == Lines{"live shed"}); // open already
    CHECK(game.fire("hide-yard") == Lines{"hide yard"});
    CHECK(game.flow.menu_open(plan::MenuId{std::size_t{0}}));
    CHECK(game.fire("close") == Lines{"close map"});
    game.fire("yard");
    CHECK(game.shown("yard") == Lines{"live yard"}); // shed is shown all the time
    game.fire("hide-yard");
    CHECK(game.fire("hide-shed") == Lines{"hide shed"});
    game.fire("yard");
    CHECK(game.shown("yard") == Lines{"live yard", "open map"}); // the first anew
}

TEST_CASE("a switch from one of several levels to another leaves a menu as it was") {
    const std::string moves =
        by_hand("go", "{switch: {to: yard}}") + by_hand("away", "{switch: {to: shed}}") +
        by_hand("close", "{close: map}") + by_hand("again", "{switch: {to: hall}}");
    const std::string map = "menus: {map: {in: [hall, yard], items: {}}}\n";
    BareGame game = three_places(moves, map);
    CHECK(game.flow.menu_open(plan::MenuId{std::size_t{0}})); // since the boot
    game.fire("go");
    CHECK(game.ready("yard") == Lines{"leave hall for yard", "ask yard", "show yard"});
    CHECK(game.flow.menu_open(plan::MenuId{std::size_t{0}}));
    CHECK(game.shown("yard") == Lines{"place all at b", "live yard", "thawed"});
    // One that was closed stays closed.
    game.fire("close");
    game.fire("again");
    game.ready("hall");
    CHECK(game.shown("hall") == Lines{"place all at a", "live hall", "thawed"});
    CHECK_FALSE(game.flow.menu_open(plan::MenuId{std::size_t{0}}));
    // To a level that it does not belong to, and back: as ever.
    game.fire("away");
    game.ready("shed");
    game.shown("shed");
    game.fire("go");
    game.ready("yard");
    CHECK(game.shown("yard") == Lines{"place all at b", "live yard", "open map", "thawed"});
}

TEST_CASE("a list of several levels belongs to the first of them that is shown when it begins") {
    BareGame game = three_places(
        by_hand("yard", "{show: [yard]}") + by_hand("shed", "{show: [shed]}") +
            by_hand("drop-yard", "{unload: [yard]}") + by_hand("drop-shed", "{unload: [shed]}") +
            "  both: {in: [shed, yard], when: veiled, steps: [{wait: 5 s}, {set: {n: +1}}]}\n",
        "facts: {n: {initial: 0}}\n");
    const auto runs = [&] { return !game.flow.idle(); };
    game.fire("shed");
    game.shown("shed");
    game.fire("both"); // of the shed: the yard is not shown
    game.fire("drop-yard");
    CHECK(runs());
    game.fire("drop-shed");
    CHECK_FALSE(runs());
    game.fire("yard");
    game.shown("yard");
    game.fire("shed");
    game.shown("shed");
    game.fire("both"); // of the yard, which comes first
    game.fire("drop-shed");
    CHECK(runs());
    game.fire("drop-yard");
    CHECK_FALSE(runs());
    game.fire("both"); // of none that is shown: of the first
    CHECK(runs());
    game.pass(plan::seconds(5));
    CHECK(game.fact("n") == 1);
}

TEST_CASE("asking for a variant asks first, then unloads the others in plan order") {
    BareGame game =
        in_variants(by_hand("day", "{show: [day]}") + by_hand("dusk", "{load: [dusk]}") +
                    by_hand("night", "{show: [night]}"));
    CHECK(game.fire("day") == Lines{"show day"});
    game.shown("day");
    CHECK(game.fire("dusk") == Lines{"ask dusk", "unload day"});
    game.fire("day");
    CHECK(game.fire("night") == Lines{"show night", "unload day"});
    CHECK(game.fire("night") == Lines{"show night"}); // it is there
}

TEST_CASE("a switch to a variant unloads the others when old levels leave, and refuses them") {
    BareGame game =
        in_variants(by_hand("night", "{show: [night]}") + by_hand("go", "{switch: {to: day}}") +
                    by_hand("other", "{load: [dusk]}, {show: [night]}, {load: [hall]}"));
    game.fire("night");
    game.shown("night");
    CHECK(game.fire("go") == Lines{"frozen", "ask day"}); // night is still there
    CHECK(game.fire("other") == Lines{"ask hall"});
    CHECK(game.stage.noted(EventKind::variant_refused));
    CHECK(game.ready("day") == Lines{"leave hall night for day", "ask day", "show day"});
    game.shown("day");
    CHECK(game.fire("other") ==
          Lines{"ask dusk", "unload day", "show night", "unload dusk", "ask hall"});
}

TEST_CASE("a variant that persists goes all the same when another comes") {
    BareGame game("hestrel: 1\nlevels: {day: {persist: true}, hall: {}, night: {}}\ngroups: "
                  "{village: {levels: [day, night], one-of: true}}\ntriggers:\n" +
                  by_hand("go", "{switch: {to: night}}") + by_hand("hall", "{switch: {to: hall}}"));
    game.fire("go");
    CHECK(game.ready("night") == Lines{"leave day for night", "ask night", "show night"});
}

TEST_CASE("of variants the one that comes with its parent is there until another is asked for") {
    BareGame game("hestrel: 1\nlevels: {title: {}, town: {sublevels: {day: {with-parent: true}, "
                  "night: {}}}}\ngroups: {town-sky: {levels: [day, night], one-of: true}}\n"
                  "triggers:\n" +
                  by_hand("go", "{switch: {to: town}}") + by_hand("night", "{show: [night]}") +
                  by_hand("day", "{show: [day]}") + by_hand("straight", "{switch: {to: night}}"));
    game.fire("go");
    CHECK(game.ready("town").empty()); // day is part of it
    CHECK(game.ready("day") == Lines{"leave title for town day", "ask town", "show town"});
    game.shown("town");
    game.shown("day");
    CHECK(game.fire("day") == Lines{"show day"});
    CHECK(game.fire("night") == Lines{"show night", "unload day"});
}

TEST_CASE("waiting for a place waits for any of its variants, for a group for all its levels") {
    BareGame game(
        "hestrel: 1\nlevels: {hall: {}, day: {}, night: {}, pier: {}, boat: {}}\ngroups: "
        "{village: {levels: [day, night], one-of: true}, harbour: [pier, boat]}\n"
        "facts: {n: {initial: 0}, m: {initial: 0}}\ntriggers:\n" +
        by_hand("any", "{wait: {shown: village}}, {set: {n: 1}}") +
        by_hand("all", "{wait: {ready: [harbour]}}, {set: {n: 2}}") +
        by_hand("both", "{wait: {ready: [village, pier]}}, {set: {m: 1}}") +
        by_hand("ask", "{wait: {until: shown(village) and not ready(harbour)}}, {set: {m: 2}}") +
        by_hand("drop", "{unload: [village]}"));
    game.fire("any");
    game.ready("night");
    CHECK(game.fact("n") == 0);
    game.shown("night");
    CHECK(game.fact("n") == 1);
    game.fire("all");
    game.ready("pier");
    CHECK(game.fact("n") == 1);
    game.fire("ask");
    CHECK(game.fact("m") == 2);
    game.fire("both");
    CHECK(game.fact("m") == 1); // night and the pier are there
    game.ready("boat");
    CHECK(game.fact("n") == 2);
    // What came and goes again is missing again.
    game.fire("drop");
    game.fire("any");
    CHECK_FALSE(game.flow.idle());
    game.ready("day");
    game.shown("day");
    CHECK(game.flow.idle());
}
