// Walks and the game: facts, menus, choices, editions, arrive and leave, worked out by hand.

#include "walk/lake.hpp"

using namespace hestrel;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;
using tests::at_x;
using tests::lake;
using tests::lake_route;
using tests::never;
using tests::past_one;
using tests::Walked;

// --- facts -------------------------------------------------------------------

TEST_CASE("facts: set, added to within their range, and reset") {
    const Walked walked(
        lake +
        R"(facts: {n: {initial: 2, range: [-1, 4]}, bells: {initial: none, values: [none, both]}}
menus: {m: {in: hall, items: {go: {steps: [{set: {n: +1}}, {set: {n: +5}}, {set: {n: -9}}, {set: {n: {to: -1}}},
  {set: {bells: both}}, {reset: [n]}]}}}}
)" + lake_route("{press: m.go}"));
    std::vector<std::string> values;
    for (const walk::Event& event : walked.record.events) {
        const auto words = tables::event_words(walked.plan, walked.record, event);
        if (words.event.starts_with("fact-")) values.push_back(words.subject + "=" + words.detail);
    }
    CHECK(values == std::vector<std::string>{"n=3", "n=4", "n=-1", "bells=both", "n=2"});
    CHECK(walked.all("out-of-range", "n").size() == 2);
}

TEST_CASE("facts of lifetime level end with a switch, or with the level they are of") {
    const Walked walked(lake + R"(facts:
  free: {initial: 0, lifetime: level}
  of_quay: {initial: 0, lifetime: level, of: quay}
  of_hall: {initial: 0, lifetime: level, of: hall}
  session: {initial: 0}
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: [quay]}, {set: {free: 1, of_quay: 1, of_hall: 1, session: 1}}]}
  u: {in: hall, box: {min: [60, -1, -1], max: [70, 1, 1]}, steps: [{unload: [quay]}]}
  s: {in: hall, box: {min: [80, -1, -1], max: [90, 1, 1]}, steps: [{switch: {to: quay}}]}
)" + lake_route("{go: b}"));
    CHECK(walked.when("fact-reset", "of_quay") == at_x(60));
    const Micros left = at_x(80) + seconds(2); // the quay is ready, and the hall leaves
    CHECK(walked.when("fact-reset", "of_hall") == left);
    CHECK(walked.when("fact-reset", "free") == left);
    CHECK(walked.when("fact-reset", "session") == never);
    CHECK(walked.record.transitions[1].facts_reset == std::vector<plan::FactId>{plan::FactId{1}});
    CHECK(walked.record.transitions[2].facts_reset ==
          std::vector<plan::FactId>{plan::FactId{2}, plan::FactId{0}});
}

TEST_CASE("save and restore copy saved facts and the checkpoint; an empty store gives nothing") {
    const std::string menus = R"(facts: {round: {initial: 0, lifetime: saved}, hat: {initial: 0}}
menus:
  m:
    in: hall
    items:
      restore: {stays: true, steps: [{restore: all}]}
      save: {stays: true, steps: [{mark: quay.steps}, {set: {round: 3, hat: 1}}, {save: all}, {set: {round: 5}}]}
)";
    const Walked empty(lake + menus + lake_route("{press: m.restore}"));
    CHECK(empty.all("nothing-saved", "transition 1").size() == 1);
    CHECK_FALSE(empty.record.saved);
    const Walked walked(lake + menus + lake_route("{press: m.save}, {press: m.restore}"));
    REQUIRE(walked.record.saved);
    CHECK(walked.record.saved->facts == std::vector<flow::FactValue>{3, 0});
    CHECK(walked.record.saved->checkpoint->level == plan::LevelId{1});
    std::vector<std::string> rounds;
    for (const walk::Event& event : walked.record.events) {
        const auto words = tables::event_words(walked.plan, walked.record, event);
        if (words.subject == "round") rounds.push_back(words.detail);
    }
    CHECK(rounds == std::vector<std::string>{"3", "5", "3"});
    // The next session begins with what was saved.
    walk::Options next;
    next.saved = walked.record.saved;
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + lake + menus +
                                             "triggers: {t: {when: round == 3, steps: []}}\n" +
                                             lake_route("{pause: 1 s}"));
    const walk::Record again = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, next);
    CHECK(again.transitions.size() == 1);
}

TEST_CASE(
    "return: places where the checkpoint's level is shown, else switches; without one nothing") {
    const std::string items = R"(
menus: {m: {items: {mark: {stays: true, steps: [{mark: quay.end}]}, back: {stays: true, steps: [{return: checkpoint}]}}}}
triggers: {o: {when: shown(hall), steps: [{open: m}]}}
)";
    const Walked none(lake + items + lake_route("{press: m.back}"));
    CHECK(none.all("no-checkpoint", "transition 2").size() == 1);
    const Walked switches(lake + items +
                          lake_route("{press: m.mark}, {press: m.back}, {until: shown(quay)}"));
    CHECK(switches.when("switch-began", "quay") == milliseconds(1'010));
    CHECK(switches.when("switch-ended", "quay") == milliseconds(3'020));
    CHECK(switches.all("placed", "player").size() == 1);
    const Walked places(lake + items + "# both are there\n" +
                        lake_route("{press: m.mark}, {press: m.back}, {until: shown(quay)}, "
                                   "{go: b}, {press: m.back}"));
    CHECK(places.all("placed", "player").size() == 2);
    CHECK(places.all("switch-began", "quay").size() == 1);
}

// --- menus -------------------------------------------------------------------

TEST_CASE("after: runs so long after the menu opened, once, and closes it first") {
    const Walked walked(
        lake +
        "menus: {m: {in: hall, items: {x: {steps: []}}, after: {delay: 20 s, steps: "
        "[{show: [quay]}]}}}\n" +
        lake_route("{pause: 30 s}"));
    CHECK(walked.when("menu-closed", "m") == milliseconds(21'010));
    CHECK(walked.when("shown", "quay") == milliseconds(23'020));
}

TEST_CASE("stays: the menu stays open, and the delay of after starts anew") {
    const Walked walked(
        lake +
        "menus: {m: {in: hall, items: {x: {stays: true, steps: []}, y: {steps: []}}, "
        "after: {delay: 20 s, steps: [{show: [quay]}]}}}\n" +
        lake_route("{pause: 15 s}, {press: m.x}, {pause: 15 s}, {press: m.x}, {pause: 30 s}"));
    CHECK(walked.when("menu-closed", "m") == milliseconds(1'010 + 30'000 + 20'000));
    const Walked pressed(
        lake +
        "menus: {m: {in: hall, items: {y: {steps: []}}, after: {delay: 20 s, steps: "
        "[{show: [quay]}]}}}\n" +
        lake_route("{pause: 15 s}, {press: m.y}, {pause: 30 s}"));
    CHECK(pressed.when("shown", "quay") == never);
}

TEST_CASE("pauses: nobody moves while it is open; presses go on") {
    const Walked walked(
        lake +
        "menus: {m: {pauses: true, items: {x: {steps: []}}}}\ntriggers: {t: {box: {min: "
        "[20, -1, -1], max: [30, 1, 1]}, steps: [{open: m}, {wait: 5 s}, {close: m}]}}\n" +
        lake_route("{go: b}"));
    CHECK(walked.when("players-frozen", "") == Micros{}); // by the boot
    CHECK(walked.all("players-frozen", "").back() == at_x(20));
    CHECK(walked.all("players-thawed", "").back() == at_x(20) + seconds(5));
    CHECK(walked.when("arrived", "player") == at_x(100) + seconds(5));
    CHECK(walked.record.shares.stalled == seconds(5));
    const Walked stuck(
        lake +
        "menus: {m: {pauses: true, items: {x: {steps: []}}}}\ntriggers: {t: {box: {min: [20, "
        "-1, -1], max: [30, 1, 1]}, steps: [{open: m}]}}\n" +
        lake_route("{go: b}"));
    CHECK(stuck.stuck().ends_with(
        "can't go to b: the open menu m stops movement, and nothing closes it"));
}

TEST_CASE("a menu closes with its level, and can't be opened while that is hidden") {
    const Walked walked(lake + R"(menus: {m: {in: quay, items: {x: {steps: []}}}}
triggers:
  o: {box: {min: [10, -1, -1], max: [11, 1, 1]}, steps: [{open: m}]}
  s: {box: {min: [20, -1, -1], max: [21, 1, 1]}, steps: [{show: [quay]}]}
  h: {box: {min: [40, -1, -1], max: [41, 1, 1]}, steps: [{hide: [quay]}]}
)" + lake_route("{go: b}"));
    CHECK(walked.when("menu-refused", "m") == at_x(10));
    CHECK(walked.when("menu-opened", "m") == at_x(20) + milliseconds(2'010));
    CHECK(walked.when("menu-closed", "m") == at_x(40));
}

TEST_CASE("an item's when: pressed only once it holds") {
    const std::string menu =
        "facts: {n: {initial: 0}}\nmenus: {m: {in: hall, items: {x: {when: n == 1, steps: "
        "[]}}}}\n";
    const Walked walked(
        lake + menu +
        "triggers: {t: {box: {min: [-1, -1, -1], max: [1, 1, 1]}, steps: [{wait: 3 s}, {set: {n: "
        "1}}]}}\n" +
        lake_route("{press: m.x}"));
    CHECK(walked.when("pressed", "m.x") == milliseconds(4'010));
    const Walked stuck(lake + menu + lake_route("{press: m.x}"));
    CHECK(stuck.stuck().ends_with("can't press m.x: its \"n == 1\" does not hold"));
}

// --- choices, editions, the end ----------------------------------------------

TEST_CASE("choose: the earliest pick not used yet, wherever it stands; else the first branch") {
    const auto chosen = [](const std::string& steps) {
        const Walked walked(lake + R"(facts: {n: {initial: 0}}
menus: {m: {in: hall, items: {x: {stays: true, steps: [{choose: {one: [{set: {n: 1}}, {wait: 1 s}], two: [{set: {n: 2}}]}}, {set: {n: 0}}]}}}}
)" + lake_route(steps));
        std::vector<std::string> branches;
        for (const walk::Event& event : walked.record.events) {
            const auto words = tables::event_words(walked.plan, walked.record, event);
            if (words.event == "chosen") branches.push_back(words.detail);
        }
        return branches;
    };
    using Branches = std::vector<std::string>;
    CHECK(chosen("{press: m.x}") == Branches{"one"});
    CHECK(chosen("{press: m.x}, {pause: 2 s}, {press: m.x}, {pick: two}") ==
          Branches{"two", "one"});
    CHECK(chosen("{pick: two}, {pick: one}, {pick: two}, {press: m.x}, {pause: 2 s}, {press: m.x}, "
                 "{pause: 2 s}, "
                 "{press: m.x}") == Branches{"two", "one", "two"});
    // The list goes on after the branch: n is 0 again a second later.
    const Walked walked(lake + R"(facts: {n: {initial: 0}}
menus: {m: {in: hall, items: {x: {steps: [{choose: {one: [{set: {n: 1}}, {wait: 1 s}]}}, {set: {n: 0}}]}}}}
)" + lake_route("{press: m.x}"));
    CHECK(walked.all("fact-set", "n") ==
          std::vector<Micros>{milliseconds(1'010), milliseconds(2'010)});
}

TEST_CASE("next, back and positions lead through the edition being played") {
    const std::string edition = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: b, end: c}}
  shore: {memory: {texture: 100}, entries: {end: a}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [100, 0, 50]}
editions: {demo: {levels: [hall, shore]}, full: {levels: [hall, quay, shore]}}
menus: {m: {items: {next: {stays: true, steps: [{next: {at: end}}]}, back: {stays: true, steps: [{back: {}}]},
  two: {stays: true, steps: [{switch: {to: {position: 2}}}]}}}}
triggers: {o: {when: shown(hall), once: true, steps: [{open: m}]}}
)";
    const auto walked = [&](const std::string& steps, const std::string& which = "full") {
        return Walked(edition + "routes: {r: {edition: " + which + ", steps: [" + steps + "]}}\n");
    };
    const Walked on =
        walked("{press: m.next}, {until: shown(quay)}, {press: m.next}, {until: shown(shore)}, "
               "{press: m.next}");
    CHECK(on.when("switch-began", "quay") == milliseconds(1'010));
    CHECK(on.when("switch-ended", "quay") == milliseconds(3'020));
    CHECK(on.when("switch-began", "shore") == milliseconds(3'020));
    CHECK(on.all("beyond-edition", "transition 4").size() == 1);
    const Walked back =
        walked("{press: m.back}, {press: m.two}, {until: shown(shore)}, {press: m.back}");
    CHECK(back.all("beyond-edition", "transition 2").size() == 1);
    CHECK(back.all("switch-began", "shore").size() == 1);
    CHECK(back.all("switch-began", "quay").size() == 1);
    CHECK(walked("{press: m.next}", "demo").when("switch-began", "shore") == milliseconds(1'010));
    CHECK(walked("{press: m.two}", "demo").all("beyond-edition", "transition 2").size() == 1);
}

TEST_CASE("end: session: nothing comes after it") {
    const Walked walked = past_one(
        "box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{end: session}, {show: [quay]}]");
    CHECK(walked.record.session_ended);
    CHECK(walked.record.end == at_x(20));
    CHECK(walked.when("queued", "quay") == never);
    CHECK_FALSE(walked.record.stuck);
}

// --- arrive and leave --------------------------------------------------------

TEST_CASE("arrive runs when a level is shown, outermost first; leave before its facts are reset") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay:
    memory: {texture: 100}
    entries: {steps: b}
    arrive: [{set: {n: +1}}]
    leave: [{set: {seen: +1}}, {wait: 1 s}, {set: {seen: +1}}]
    sublevels: {deck: {with-parent: true, memory: {texture: 100}, arrive: [{set: {n: +1}}]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
facts: {n: {initial: 0, lifetime: level, of: quay}, seen: {initial: 0}}
triggers:
  s: {box: {min: [20, -1, -1], max: [21, 1, 1]}, steps: [{show: [quay]}]}
  u: {box: {min: [40, -1, -1], max: [41, 1, 1]}, steps: [{unload: [quay]}]}
)" + lake_route("{go: b}"));
    // Ready at +1 s and +2 s; each is attached in the frame that starts then.
    CHECK(walked.all("fact-set", "n") ==
          std::vector<Micros>{at_x(20) + milliseconds(1'010), at_x(20) + milliseconds(2'010)});
    CHECK(walked.all("fact-set", "seen") == std::vector<Micros>{at_x(40), at_x(40)});
    CHECK(walked.all("leave-cant-wait", "transition 5").size() == 1);
    CHECK(walked.when("fact-reset", "n") == at_x(40));
}

TEST_CASE("a switch holds arrive steps, triggers and menus back until everybody is there") {
    const Walked walked(R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 100}, entries: {steps: b}, arrive: [{set: {n: 1}}], sublevels: {deck: {with-parent: true, memory: {texture: 100}}}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
facts: {n: {initial: 0}}
menus: {m: {in: hall, items: {go: {steps: [{switch: {to: quay}}]}}}, q: {in: quay, items: {x: {steps: []}}}}
triggers: {t: {in: quay, box: {min: [99, -1, -1], max: [101, 1, 1]}, steps: []}}
)" + lake_route("{press: m.go}"));
    // Quay and deck are ready at 3.01 s, shown at 3.02 and 3.03 s.
    CHECK(walked.when("shown", "quay") == milliseconds(3'020));
    for (const auto& [event, subject] :
         {std::pair{"fact-set", "n"}, std::pair{"menu-opened", "q"}, std::pair{"fired", "t"}}) {
        CAPTURE(event);
        CHECK(walked.when(event, subject) == milliseconds(3'030));
    }
}
