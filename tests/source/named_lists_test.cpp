// Named lists: what they take, how often they are read, what is wrong with them and where.

#include "edit/rename.hpp"
#include "plan/names.hpp"
#include "support/plan_text.hpp"

using namespace hestrel;
using tests::findings_of;
using tests::Lines;
using tests::plan_from;

namespace {

/// A plan with these named lists, and a trigger with these steps.
std::string house(const std::string& lists, const std::string& steps) {
    return "hestrel: 1\nwaypoints: {w: [0, 0, 0]}\nveils: {dusk: {min: 1 s}}\nlevels: {hall: "
           "{entries: {door: w}}, yard: {entries: {gate: w}}}\nfacts: {n: {initial: 0, range: [0, "
           "3]}, v: {initial: a, values: [a, b]}}\nlists:\n  " +
           lists + "\ntriggers:\n  t: {in: hall, when: veiled, steps: " + steps + "}\n";
}

const plan::StepList& steps_of_t(const plan::Plan& plan) {
    return plan.lists[plan.triggers[tests::named(plan.triggers, "t")].steps];
}

} // namespace

TEST_CASE("a named list's steps stand where it is done, with what is given to it") {
    const plan::Plan plan = plan_from(house(
        "travel: {takes: {where: level, door: entry, by: veil, f: fact, x: value, long: time},\n"
        "    steps: [{wait: $long}, {mark: $where.$door}, {set: {$f: $x}}, {switch: {to: $where, "
        "at: "
        "$door, veil: $by}}, {wait: {until: $f == $x and shown($where)}}]}",
        "[{save: all}, {do: {travel: {where: yard, door: gate, by: dusk, f: n, x: 2, long: 250 "
        "ms}}}, {end: session}]"));
    const plan::StepList& list = steps_of_t(plan);
    REQUIRE(list.steps.size() == 7);
    CHECK(std::get<plan::WaitStep>(list.steps[1].what).time == plan::Micros{250'000});
    const auto yard = tests::named(plan.levels, "yard");
    CHECK(std::get<plan::MarkStep>(list.steps[2].what).level == yard);
    CHECK(std::get<plan::SetStep>(list.steps[3].what).facts.front().value.number == 2);
    CHECK(std::get<plan::SwitchStep>(list.steps[4].what).to == yard);
    CHECK(plan.conditions[std::get<plan::WaitStep>(list.steps[5].what).until].text ==
          "n == 2 and shown(yard)");
    // Each step is written in the named list, and done where the `do` stands.
    CHECK(plan::place_text(plan, list.steps[1].place) ==
          "plan.yaml:8:13 (used at plan.yaml:10:58)");
    CHECK(list.steps[1].written == 1);
    CHECK(list.steps[6].written == 2);
    CHECK(list.steps[6].place.use == 0);
    CHECK(plan.list_uses.size() == 1);
}

TEST_CASE("named lists do each other, and may be given one") {
    const plan::Plan plan = plan_from(
        house("twice: {takes: {then: list, to: level}, steps: [{do: $then}, {do: {go: {to: $to}}}, "
              "{do: $then}]}\n  ring: {steps: [{set: {n: +1}}]}\n  go: {takes: {to: level}, steps: "
              "[{show: [$to]}]}",
              "[{do: {twice: {then: ring, to: yard}}}]"));
    const plan::StepList& list = steps_of_t(plan);
    REQUIRE(list.steps.size() == 3);
    CHECK(std::holds_alternative<plan::SetStep>(list.steps[0].what));
    CHECK(std::get<plan::ShowStep>(list.steps[1].what).levels.front() ==
          tests::named(plan.levels, "yard"));
    CHECK(plan::place_text(plan, list.steps[1].place) ==
          "plan.yaml:9:36 (used at plan.yaml:11:45, plan.yaml:7:70)");
}

TEST_CASE("names given to a list mean what they mean where they are given") {
    const plan::Plan plan = plan_from(R"(
hestrel: 1
lists: {meet: {takes: {at: waypoint, f: fact}, steps: [{wait: {until: at($at)}}, {set: {$f: true}}]}}
levels:
  hall:
    waypoints: {desk: [0, 0, 0]}
    facts: {seen: {initial: false}}
    lists: {mine: {steps: [{do: {meet: {at: desk, f: seen}}}]}}
    arrive: [{do: mine}]
  yard:
    arrive: [{do: hall.mine}]
)");
    for (const plan::LevelId level : plan.levels.ids()) {
        const plan::StepList& list = plan.lists[plan.levels[level].arrive];
        REQUIRE(list.steps.size() == 2);
        CHECK(plan.conditions[std::get<plan::WaitStep>(list.steps[0].what).until].text ==
              "at(hall.desk)");
    }
}

TEST_CASE("what is wrong with a named list is told once, where it is defined") {
    CHECK(
        findings_of(
            house("a: {takes: {where: level, door: entry}, steps: [{veil: $where}, "
                  "{open: $dor}, {switch: {to: yrd}}]}\n  b: {takes: {x: thing}, steps: []}",
                  "[{do: {a: {where: yard, door: gate}}}, {do: {a: {where: hall, door: "
                  "door}}}]")) ==
        Lines{"plan.yaml:7:58: error: $where is a level, and a veil is wanted here  [wrong-value]",
              "plan.yaml:7:74: error: list a takes no \"dor\"; did you mean \"door\"?  "
              "[unknown-name]",
              "plan.yaml:7:95: error: no level is called \"yrd\"; did you mean \"yard\"?  "
              "[unknown-name]",
              "plan.yaml:8:18: error: expected one of level, entry, waypoint, menu, veil, fact, "
              "value, time, list, found \"thing\"  [wrong-value]"});
    // Its conditions are looked at as far as they can be.
    CHECK(
        findings_of(house("a: {takes: {f: fact, l: level}, steps: [{wait: {until: shown($f)}}, "
                          "{wait: {until: $f and $l}}, {wait: {until: $f and (n > 1}}]}",
                          "[]")) ==
        Lines{"plan.yaml:7:64: error: in this condition $f is a fact, and a level is wanted here  "
              "[wrong-value]",
              "plan.yaml:7:93: error: in this condition $l is a level, and a fact or a value is "
              "wanted here  "
              "[wrong-value]",
              "plan.yaml:7:127: error: in this condition a closing parenthesis is missing  "
              "[wrong-value]"});
}

TEST_CASE("what is given must be what the list takes: one error, with both places") {
    const std::string travel =
        "travel: {takes: {where: level, door: entry}, steps: [{switch: {to: $where, at: $door}}]}";
    const auto of = [&](const std::string& steps) { return findings_of(house(travel, steps)); };
    CHECK(of("[{do: travel}]") ==
          Lines{"plan.yaml:9:44: error: list travel (defined at plan.yaml:7:3) takes `where` (a "
                "level) and `door` (an entry), which are not given here  [missing-key]"});
    CHECK(of("[{do: {travel: {where: yard, door: gate, veil: dusk}}}]") ==
          Lines{"plan.yaml:9:79: error: list travel (defined at plan.yaml:7:3) takes no \"veil\"  "
                "[unknown-name]"});
    CHECK(of("[{do: {travel: {where: dusk, door: gate}}}]") ==
          Lines{"plan.yaml:9:61: error: `where` of list travel (defined at plan.yaml:7:3) is a "
                "level, and no level is called \"dusk\"  [wrong-value]"});
    CHECK(of("[{do: {travel: {where: [yard], door: gate}}}]") ==
          Lines{"plan.yaml:9:61: error: `where` of list travel (defined at plan.yaml:7:3) is a "
                "level, and this is a list  [wrong-value]"});
    // An entry is looked for in its level at each use.
    CHECK(of("[{do: {travel: {where: yard, door: gate}}}, {do: {travel: {where: hall, door: "
             "gate}}}]") == Lines{"plan.yaml:7:82: error: hall has no entry \"gate\" (used at "
                                  "plan.yaml:9:88)  [unknown-name]"});
    CHECK(of("[{do: travl}]") ==
          Lines{"plan.yaml:9:44: error: no list is called \"travl\"; did you "
                "mean \"travel\"?  [unknown-name]"});
    CHECK(of("[{do: {travel: {}, other: {}}}]").size() == 1);
    CHECK(of("[{do: [travel]}]").size() == 1);
}

TEST_CASE("circles of named lists are told, whether they are used or not, and end") {
    CHECK(
        findings_of(house("a: {steps: [{do: b}]}\n  b: {steps: [{do: a, when: veiled}]}", "[]")) ==
        Lines{"plan.yaml:8:20: error: lists use each other in a circle: a → b → a, the first at "
              "plan.yaml:7:3  [cycle]"});
    CHECK(
        findings_of(house("a: {takes: {then: list}, steps: [{do: $then}]}\n  b: {steps: [{do: {a: "
                          "{then: c}}}]}\n  c: {steps: [{do: b}]}",
                          "[{do: b}]")) ==
        Lines{"plan.yaml:9:20: error: lists use each other in a circle: b → a → c → b, the first "
              "at plan.yaml:8:3 (used at plan.yaml:11:44, plan.yaml:8:21, plan.yaml:7:41)  "
              "[cycle]"});
}

TEST_CASE("what named lists come to is bounded") {
    std::string lists = "l0: {steps: [{save: all}, {save: all}]}";
    for (int i = 1; i < 40; ++i)
        lists += fmt::format("\n  l{}: {{steps: [{{do: l{}}}, {{do: l{}}}]}}", i, i - 1, i - 1);
    lists += "\n  given: {takes: {which: list}, steps: [{do: $which}]}";
    // Told once, where the plan uses it; of a list that is given, where that is used.
    for (const char* steps :
         {"[{do: l39}]", "[{do: l39}, {do: l38}]", "[{do: {given: {which: l39}}}]"}) {
        CAPTURE(steps);
        const source::PlanReading reading = tests::read_text(house(lists, steps));
        REQUIRE(reading.findings.size() == 1);
        CHECK(reading.findings.front().severity == plan::Severity::error);
        CHECK(reading.findings.front().message.find("come to more than") != std::string::npos);
    }
    // What is not too many is read: 2 to the power of 12 steps.
    const source::PlanReading fits = tests::read_text(house(lists, "[{do: l11}]"));
    CHECK(fits.findings.empty());
    CHECK(fits.plan.list_uses.size() == (1U << 12U) - 1);
    // So is how deep they go: l0, the innermost of 102, is one too many.
    std::string deep = "l0: {steps: [{save: all}]}";
    for (int i = 1; i < 102; ++i)
        deep += fmt::format("\n  l{}: {{steps: [{{do: l{}}}]}}", i, i - 1);
    CHECK(tests::read_text(house(deep, "[{do: l99}]")).findings.empty());
    const source::PlanReading deeper = tests::read_text(house(deep, "[{do: l101}]"));
    REQUIRE(deeper.has_errors());
    CHECK(deeper.findings.front().message.find("more than 100 deep") != std::string::npos);
}

TEST_CASE("renaming knows what lists take, and what is given to them") {
    source::MemoryDisk disk;
    const std::string text =
        house("travel: {takes: {where: level, door: entry}, steps: [{switch: {to: $where, at: "
              "$door}}, {wait: {until: shown($where)}}]}",
              "[{do: {travel: {where: yard, door: gate}}}]");
    const auto renamed = [&](const std::string& from, const std::string& to) {
        disk.files["plan.yaml"] = text;
        disk.write_all(edit::rename(disk, "plan.yaml", from, to, "").files);
        return disk.files["plan.yaml"];
    };
    const auto with = [&](std::vector<std::pair<std::string, std::string>> changes) {
        std::string changed = text;
        for (const auto& [from, to] : changes) {
            for (std::size_t at = changed.find(from); at != std::string::npos;
                 at = changed.find(from, at + to.size()))
                changed.replace(at, from.size(), to);
        }
        return changed;
    };
    CHECK(renamed("travel.where", "level") == with({{"where", "level"}}));
    CHECK(renamed("yard", "lawn") == with({{"yard", "lawn"}}));
    CHECK(renamed("yard.gate", "stile") == with({{"gate", "stile"}}));
    CHECK(renamed("travel", "go") == with({{"travel", "go"}}));
}
