// Each finding of exploring, on a plan made for it, with its way.

#include "explore/findings.hpp"

#include "support/plan_text.hpp"
#include "tables/explore_tables.hpp"

using namespace hestrel;
using explore::Explorer;
using tests::Lines;

namespace {

/// A hall and a yard on a line, 10 m apart, and what else a plan needs.
std::string plan_with(const std::string& more, const std::string& hall = "",
                      const std::string& yard = "") {
    return "hestrel: 1\ndevices: {box: {memory: {total: 100, base: 10}, read: {rate: 100}, frame: "
           "{fps: 60}}}\nplayers: {carrier: {speeds: {walk: 2}}}\n"
           "levels:\n  hall: {memory: {t: 20}, entries: {in: a}, area: [{min: [-5, 0, -5], max: "
           "[5, "
           "3, 5]}]" +
           hall +
           "}\n  yard: {memory: {t: 30}, entries: {in: b}, area: [{min: [5, 0, -5], max: [25, "
           "3, 5]}]" +
           yard +
           "}\n  attic: {memory: {t: 50}}\n"
           "waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [20, 0, 0]}\npaths: [[a, b], [b, c]]\n"
           "editions: {all: {levels: [hall, yard, attic]}}\n" +
           more;
}

struct ExploredPlan : explore::Explored {
    /// Name, what it is about, and the way there.
    [[nodiscard]] std::vector<std::string> texts() const {
        std::vector<std::string> all;
        for (const explore::Found& each : found) {
            all.push_back(each.finding.name + ": " + each.finding.message +
                          (each.way ? " | " + tables::way_text(*explorer, *each.way) : ""));
        }
        return all;
    }
    [[nodiscard]] std::string text(std::string_view name) const {
        for (const std::string& each : texts()) {
            if (each.starts_with(std::string(name) + ":")) return each;
        }
        return {};
    }
};

ExploredPlan explored(const plan::Plan& plan) {
    explore::Options options;
    options.edition = plan::EditionId{0};
    options.devices = {plan::DeviceId{0}};
    return {explore::explored(plan, options)};
}

} // namespace

TEST_CASE("nothing shown here: the yard that nobody loads") {
    const plan::Plan plan = tests::plan_from(plan_with(""));
    const ExploredPlan done = explored(plan);
    CHECK(done.explorer->situations() == 3);
    CHECK(done.text("nothing-shown-here") ==
          "nothing-shown-here: at b a player stands in yard, and nothing is shown there | go b");
    CHECK(done.text("level-never-shown") ==
          "level-never-shown: edition all ships yard, and nobody ever sees it");
    // The hall is never left: from everywhere a situation with it shown can be reached.
    CHECK(done.text("trap").empty());
    CHECK(done.text("over-budget").empty());
}

TEST_CASE("over budget, settled and during a move, with the way that uses most") {
    // 10 + 20 + 30 settled with the yard; with the attic 110, over the 100 there are.
    const plan::Plan plan = tests::plan_from(plan_with(
        "triggers:\n"
        "  out: {box: {min: [2, 0, -1], max: [3, 1, 1]}, steps: [{show: [yard]}]}\n"
        "  up: {box: {min: [14, 0, -1], max: [15, 1, 1]}, steps: [{show: [attic]}, {wait: {shown: "
        "[attic]}}, {unload: [attic]}]}\n"));
    const ExploredPlan done = explored(plan);
    CHECK(done.text("over-budget") ==
          "over-budget: on box memory can be 10 MiB over its 100 MiB during a move, at most | go "
          "b, go c");
    REQUIRE(done.worst.size() >= 2);
    CHECK_FALSE(done.worst[0].during);
    CHECK(done.worst[0].used == plan::mebibytes(60));
    CHECK(done.worst[0].way.size() == 2); // the boot, and go b
    const auto during = std::find_if(done.worst.begin(), done.worst.end(),
                                     [](const explore::WorstUse& worst) { return worst.during; });
    REQUIRE(during != done.worst.end());
    CHECK(during->used == plan::mebibytes(110));
}

TEST_CASE("rules, dead ends, traps, freezes and veils without end") {
    const plan::Plan plan = tests::plan_from(
        plan_with("rules: [{never: lost}]\n"
                  "facts: {lost: {initial: false}}\n"
                  "veils: {dark: {}}\n"
                  "menus:\n  board:\n    in: hall\n    items:\n"
                  "      lose: {when: not lost, stays: true, steps: [{set: {lost: true}}]}\n"
                  "      hide: {stays: true, steps: [{veil: dark}]}\n"
                  "      hold: {stays: true, steps: [{freeze: players}]}\n"
                  "      leave: {steps: [{switch: {to: attic}}]}\n"));
    const ExploredPlan done = explored(plan);
    CHECK(done.text("rule-broken") == "rule-broken: \"never: lost\" does not hold: \"lost\" is so, "
                                      "with everything settled and hall "
                                      "shown | press board.lose");
    // In the attic players are nowhere, with no menu: 2 * 2 * 2 ways to have got there.
    CHECK(done.text("dead-end") == "dead-end: in 8 situations nothing can be done that leads "
                                   "anywhere else, first nowhere with attic shown: players can't "
                                   "walk; no menu is open | press board.leave");
    CHECK(done.text("frozen-for-good").starts_with("frozen-for-good: in "));
    CHECK(done.text("frozen-for-good").ends_with("| press board.hold"));
    CHECK(done.text("veil-for-good").ends_with("| press board.hide"));
    // A dead end is no trap.
    CHECK(done.text("trap").empty());
}

TEST_CASE("a trap: going on for ever, and never back") {
    const plan::Plan plan =
        tests::plan_from(plan_with("triggers: {out: {box: {min: [14, 0, -1], max: [15, 1, 1]}, "
                                   "steps: [{switch: {to: yard, at: "
                                   "in}}]}}\n"));
    const ExploredPlan done = explored(plan);
    CHECK(done.text("trap").starts_with("trap: in "));
    CHECK(done.text("trap").ends_with("| go b, go c"));
    // Behind a switch back there is none.
    const plan::Plan other = tests::plan_from(plan_with(
        "triggers: {out: {box: {min: [14, 0, -1], max: [15, 1, 1]}, steps: [{switch: {to: yard, "
        "at: "
        "in}}]},\n  back: {box: {min: [4, 0, -1], max: [5, 1, 1]}, when: shown(yard), steps: "
        "[{switch: {to: hall, at: in}}]}}\n"));
    CHECK(explored(other).text("trap").empty());
}

TEST_CASE("what never happens") {
    const plan::Plan plan = tests::plan_from(plan_with(
        "facts: {key: {initial: false}}\ngates: {door: {needs: [attic]}}\n"
        "triggers:\n"
        "  aside: {box: {min: [2, 0, 90], max: [3, 1, 91]}, steps: [{show: [yard]}]}\n"
        "  locked: {box: {min: [2, 0, -1], max: [3, 1, 1]}, when: key, steps: [{show: [yard]}]}\n"
        "  asks: {in: yard, box: {min: [12, 0, -1], max: [13, 1, 1]}, steps: [{choose: {one: [], "
        "two: []}}]}\n"
        "menus: {shut: {items: {go: {steps: [{set: {key: true}}]}}}}\n"));
    const ExploredPlan done = explored(plan);
    CHECK(done.text("gate-never-opens") ==
          "gate-never-opens: door is closed in every situation of edition all: it needs attic");
    CHECK(done.text("trigger-never-fires") == "trigger-never-fires: aside never fires");
    CHECK(done.text("condition-never-true") ==
          "condition-never-true: locked waits for \"key\", which never holds there");
    CHECK(done.text("item-never-pressed") == "item-never-pressed: shut.go can never be pressed");
}

TEST_CASE("waits that end in one instant end before what is asked for in it is there") {
    // Both wait for 2 s from one instant on: the yard is let go before it can be shown, and so
    // never leaves; a second later it was there.
    const auto left = [](const std::string& second) {
        const plan::Plan plan = tests::plan_from(plan_with(
            "facts: {on: {initial: false}, left: {initial: false}}\nrules: [{never: left}]\n"
            "triggers:\n  one: {once: true, when: on, steps: [{wait: 2}, {show: [yard]}]}\n"
            "  two: {once: true, when: on, steps: [{wait: " +
                second +
                "}, {unload: [yard]}]}\n"
                "menus:\n  board:\n    in: hall\n    items:\n"
                "      go: {steps: [{set: {on: true}}]}\n",
            "", ", leave: [{set: {left: true}}]"));
        return !explored(plan).text("rule-broken").empty();
    };
    CHECK_FALSE(left("2"));
    CHECK(left("3"));
}

TEST_CASE("conditions of waits, near rules and rules that never hold") {
    const auto never = [](const std::string& wait, const std::string& rule,
                          const std::string& near = "bell") {
        const plan::Plan plan = tests::plan_from(plan_with(
            "facts: {key: {initial: false}, bell: {initial: false}}\n"
            "triggers:\n"
            "  door: {box: {min: [2, 0, -1], max: [3, 1, 1]}, once: true, steps: [{set: {bell: "
            "true}}, {wait: {until: " +
                wait + "}}, {show: [yard]}]}\nrules: [{at-most: 3, of: lamp, when: " + rule +
                "}]\n",
            ", provides: [lamp]", ", near: {load: 2, unload: 3, when: " + near + "}"));
        Lines all;
        for (const std::string& text : explored(plan).texts()) {
            if (text.starts_with("condition-never-true")) all.push_back(text);
        }
        return all;
    };
    CHECK(never("bell", "bell").empty());
    CHECK(never("key", "bell") == Lines{"condition-never-true: trigger door waits for \"key\", "
                                        "which never holds there"});
    CHECK(never("bell", "key and bell") ==
          Lines{"condition-never-true: the rule holds only when \"key and bell\", which is never "
                "so"});
    CHECK(never("bell", "bell", "not bell and key") ==
          Lines{"condition-never-true: yard comes near only while \"not bell and key\", which is "
                "never so"});
}

TEST_CASE("round trips, old values, unsaved changes") {
    const plan::Plan plan = tests::plan_from(plan_with(
        "facts: {letters: {initial: 0, range: [0, 3]}, best: {initial: 0, range: [0, 3], lifetime: "
        "saved}}\n"
        "triggers:\n"
        "  out: {box: {min: [2, 0, -1], max: [3, 1, 1]}, once: true, steps: [{show: [yard]}, {set: "
        "{letters: +1, best: +1}}]}\n"
        "menus:\n  board:\n    in: hall\n    items:\n"
        "      again: {steps: [{switch: {to: hall, at: in}}]}\n"
        "      stop: {when: letters > 0, steps: [{end: session}]}\n"));
    const ExploredPlan done = explored(plan);
    CHECK(done.text("piles-up") ==
          "piles-up: yard is still loaded when players are back where it was not (at a) | go b, go "
          "a");
    CHECK(done.text("fact-left-over") ==
          "fact-left-over: back at hall, letters is not what it was "
          "at the beginning, and item board.stop goes by it after that | go b, "
          "press board.again, press board.stop");
    CHECK(done.text("unsaved-change") == "unsaved-change: best has changed since it was saved, and "
                                         "the session ends | go b, press board.stop");
}

TEST_CASE("a value that a switch takes away, and that something goes by after it") {
    const auto lost = [](const std::string& fact, const std::string& leave,
                         const std::string& arrive,
                         const std::string& shoot = "when: rounds > 3, stays: true, steps: [{show: "
                                                    "[attic]}]") {
        const plan::Plan plan = tests::plan_from(
            plan_with("facts: {rounds: {initial: 6, range: [4, 6], " + fact +
                          "}}\n"
                          "menus:\n  board:\n    in: hall\n    items:\n"
                          "      fire: {stays: true, steps: [{set: {rounds: -1}}]}\n"
                          "      leave: {steps: [" +
                          leave +
                          "{switch: {to: yard, at: in}}]}\n"
                          "  range:\n    in: yard\n    items:\n"
                          "      shoot: {" +
                          shoot + "}\n",
                      "", arrive));
        return explored(plan).text("fact-lost");
    };
    CHECK(lost("lifetime: level", "", "") ==
          "fact-lost: rounds goes back to what it was at the beginning when players leave by a "
          "switch, and item range.shoot goes by it after that | press board.fire, press "
          "board.leave, press range.shoot");
    // Of one level: gone when that one leaves.
    CHECK(lost("lifetime: level, of: hall", "", "").find("when players leave hall, and") !=
          std::string::npos);
    CHECK(lost("lifetime: session", "", "").empty());
    // Told to, or told anew: nothing is lost.
    CHECK(lost("lifetime: level", "{reset: [rounds]}, ", "").empty());
    CHECK(lost("lifetime: level", "", ", arrive: [{set: {rounds: 5}}]").empty());
    // A step that is done only when it holds goes by it, too.
    CHECK(lost("lifetime: level", "", "", "steps: [{show: [attic], when: rounds > 3}]")
              .find("item range.shoot goes by it after that") != std::string::npos);
}

TEST_CASE("switches at once, unloading under a player, lists without end, beyond the edition") {
    const plan::Plan plan = tests::plan_from(plan_with(
        "facts: {on: {initial: false}}\n"
        "triggers:\n"
        "  one: {box: {min: [2, 0, -1], max: [3, 1, 1]}, steps: [{set: {on: true}}, {switch: {to: "
        "yard, at: in}}]}\n"
        "  two: {when: on, steps: [{switch: {to: hall}}]}\n"
        "menus:\n  board:\n    in: hall\n    items:\n"
        "      drop: {stays: true, steps: [{unload: [hall]}]}\n"
        "      far: {stays: true, steps: [{back: {}}]}\n"));
    const ExploredPlan done = explored(plan);
    CHECK(done.text("rival-switches") ==
          "rival-switches: the switch to hall is refused: another is under way | go b");
    CHECK(done.text("unload-under-player") ==
          "unload-under-player: hall is unloaded while a player stands in it | press board.drop");
    CHECK(done.text("beyond-edition") ==
          "beyond-edition: a step leads to no level of edition all, in which players went to hall "
          "last | press board.far");

    // Hall and yard send players to each other, a second after they have arrived.
    const plan::Plan circle = tests::plan_from(
        plan_with("menus: {board: {in: attic, items: {home: {steps: [{switch: {to: hall}}]}}}}\n",
                  ", arrive: [{wait: 1 s}, {switch: {to: yard}}]",
                  ", arrive: [{wait: 1 s}, {switch: {to: hall}}]"));
    ExploredPlan spun = explored(circle);
    CHECK(spun.explorer->boot_log().endless);
    CHECK(spun.explorer->situations() == 0);
}

TEST_CASE("what the plan allows is not said, and a search cut off says nothing of never") {
    const std::string text = plan_with("", "", ", allow: {nothing-shown-here: \"a test\"}");
    const plan::Plan plan = tests::plan_from(text);
    CHECK(explored(plan).text("nothing-shown-here").empty());
    explore::Options options;
    options.edition = plan::EditionId{0};
    options.most_situations = 1;
    Explorer explorer(plan, options);
    explorer.run();
    CHECK_FALSE(explorer.complete());
    for (const explore::Found& found : explore::findings(explorer, {}, {}))
        CHECK(found.finding.name != "level-never-shown");
}

TEST_CASE("an old value that nothing goes by is not told") {
    const auto left_over = [](const std::string& post) {
        const plan::Plan plan = tests::plan_from(plan_with(
            "facts: {letters: {initial: 0, range: [0, 3]}}\nmenus:\n  board:\n    in: hall\n    "
            "items:\n      post: {" +
            post +
            "stays: true, steps: [{set: {letters: +1}}]}\n      again: {steps: [{switch: {to: "
            "hall, "
            "at: in}}]}\n"));
        return explored(plan).text("fact-left-over");
    };
    CHECK(left_over("when: letters < 3, ").starts_with("fact-left-over: back at hall, letters is"));
    CHECK(left_over("").empty());
}

TEST_CASE("exploring a boot that never ends: one situation, and an error") {
    const plan::Plan plan =
        tests::plan_from(plan_with("", ", arrive: [{unload: [yard]}]", ", persist: true"));
    const ExploredPlan done = explored(plan);
    CHECK(done.explorer->situations() == 1);
    CHECK(done.texts() ==
          Lines{"stuck: the boot never ends: it waits for yard to be shown | at the start"});
}

TEST_CASE("a rule that is broken where a list waits, and not where all has settled") {
    const auto broken = [](const std::string& rule) {
        const plan::Plan plan = tests::plan_from(
            plan_with("rules: [{" + rule +
                          "}]\nmenus: {board: {in: hall, items: {go: {steps: [{show: "
                          "[yard]}, {wait: {shown: [yard]}}, {wait: 1 s}, {hide: [hall]}]}}}}\n",
                      ", provides: [camera]", ", provides: [camera]"));
        return explored(plan).text("rule-broken");
    };
    CHECK(broken("exactly: 1, of: camera") ==
          "rule-broken: \"exactly: 1, of: camera\" does not hold: 2 are provided (hall, yard), "
          "during a move, where a list waits | press board.go");
    CHECK(broken("exactly: 1, of: camera, longer-than: 2 s").empty());
    CHECK(broken("exactly: 1, of: camera, settled: true").empty());
    CHECK(broken("never-together: [hall, yard]").find("during a move") != std::string::npos);
}

TEST_CASE("the longest frames are a budget: the worst situation and move, with their ways") {
    // A period of 16.7 ms. Hall and yard together take 19 ms, alone 9 and 10.
    const auto plan_of = [](const std::string& steps, const std::string& more = "") {
        return tests::plan_from(
            plan_with("menus: {board: {in: hall, items: {go: {steps: [" + steps + "]}}}}\n" + more,
                      ", frame-cost: 9 ms", ", frame-cost: 10 ms"));
    };
    const auto told = [&](const std::string& steps, const std::string& more = "") {
        const plan::Plan plan = plan_of(steps, more);
        return explored(plan).text("slow-frames");
    };
    const plan::Plan plan = plan_of("{show: [yard]}");
    const ExploredPlan settled = explored(plan);
    REQUIRE(settled.frames.size() == 2);
    const explore::WorstFrame& worst = settled.frames[0];
    CHECK(worst.work == plan.devices[plan::DeviceId{0}].frame.base + plan::milliseconds(19));
    CHECK(tables::way_text(*settled.explorer, worst.way) == "press board.go");
    CHECK(settled.text("slow-frames").find("with everything settled | press board.go") !=
          std::string::npos);
    // Only for as long as a list waits.
    CHECK(told("{show: [yard]}, {wait: {shown: [yard]}}, {wait: 1 s}, {hide: [hall]}")
              .find("during a move, at most | press board.go") != std::string::npos);
    // Not at all: behind a veil, one after the other, within the plan's own limit.
    CHECK(told("{veil: dusk}, {show: [yard]}, {wait: {shown: [yard]}}, {hide: [hall]}, "
               "{unveil: dusk}",
               "veils: {dusk: {}}\n")
              .empty());
    CHECK(told("{hide: [hall]}, {show: [yard]}").empty());
    CHECK(told("{show: [yard]}", "limits: {longest-frame: 100 ms}\n").empty());
}

TEST_CASE("exploring judges what a purpose needs as a rule, and tells of the level") {
    const plan::Plan plan = tests::plan_from(plan_with(
        "purposes: {lit: {needs: [light]}}\nmenus: {board: {in: hall, items: {go: {steps: "
        "[{hide: [yard]}]}}}}\n",
        ", purpose: lit, arrive: [{show: [yard]}]", ", provides: [light]"));
    const ExploredPlan done = explored(plan);
    CHECK(
        done.text("rule-broken") ==
        "rule-broken: hall is shown, which is lit, without light, with everything settled and hall "
        "shown | press board.go");
}
