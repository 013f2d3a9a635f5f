// The rest of the plan language: files, conditions, shapes, facts, players, editions.

#include "plan/names.hpp"
#include "support/plan_text.hpp"

#include "geometry/crossing.hpp"

using namespace hestrel;
using plan::Operation;
using tests::findings_of;
using tests::Lines;
using tests::plan_from;
using tests::read_text;

namespace {

/// What is wrong with a condition; the condition begins in column 11 of line 7.
Lines condition_findings(const std::string& condition) {
    return findings_of("hestrel: 1\nlevels: {quay: }\nfacts:\n  round: {initial: 0}\n  bells: "
                       "{initial: none, values: [none, both]}\n"
                       "triggers: {t: {steps: [], when:\n          " +
                       condition + "\n  }}\n");
}

} // namespace

TEST_CASE("conditions: comparing binds closest, then not, and, or") {
    const plan::Plan plan =
        plan_from("\nhestrel: 1\nlevels: {quay: }\nfacts: {a: {initial: false}, n: {initial: 0}}\n"
                  "triggers: {t: {steps: [], when: \"a or not n >= 2.5 and shown(quay)\"}}\n");
    const auto& terms = plan.conditions[plan::ConditionId{0}].terms;
    REQUIRE(terms.size() == 8);
    const plan::Term& whole = terms.back();
    CHECK(whole.operation == Operation::either);
    CHECK(terms[whole.left].operation == Operation::fact);
    const plan::Term& both = terms[whole.right];
    CHECK(both.operation == Operation::both);
    CHECK(terms[both.left].operation == Operation::negation);
    CHECK(terms[terms[both.left].left].operation == Operation::at_least);
    CHECK(terms[both.right].operation == Operation::shown);
    CHECK(terms[both.right].place ==
          plan::Place{0, 5, 56}); // where quay's condition begins, behind the quote
}

TEST_CASE("conditions: each mistake has its place inside the expression") {
    CHECK(condition_findings("round > 1 and bells == both") == Lines{});
    CHECK(condition_findings("rounds > 1") ==
          Lines{"plan.yaml:7:11: error: in this condition no fact, and no fact's value, is called "
                "\"rounds\"; did you mean "
                "\"round\"?  [unknown-name]"});
    CHECK(condition_findings("shown(Quay)") ==
          Lines{"plan.yaml:7:17: error: in this condition no level is called \"Quay\"; it differs "
                "from \"quay\" only in capitals  "
                "[unknown-name]"});
    CHECK(condition_findings("round and veiled") ==
          Lines{"plan.yaml:7:11: error: in this condition expected something true or false, found "
                "a number  [wrong-value]"});
    CHECK(condition_findings("bells > none") ==
          Lines{"plan.yaml:7:17: error: in this condition a word can't be compared by size; use == "
                "or !=  [wrong-value]"});
    CHECK(condition_findings("round == none") ==
          Lines{"plan.yaml:7:17: error: in this condition a number can't be compared with a word  "
                "[wrong-value]"});
    CHECK(condition_findings("(veiled") == Lines{"plan.yaml:7:18: error: in this condition a "
                                                 "closing parenthesis is missing  [wrong-value]"});
    CHECK(condition_findings("veiled veiled") ==
          Lines{"plan.yaml:7:18: error: in this condition \"veiled\" is not expected here  "
                "[wrong-value]"});
    CHECK(condition_findings("veiled and") == Lines{"plan.yaml:7:21: error: in this condition the "
                                                    "condition ends too early  [wrong-value]"});
    CHECK(condition_findings("round = 1").size() == 1);
    CHECK(condition_findings("[1]").size() == 1);
    CHECK(condition_findings(std::string(5000, '(')).size() == 1);
}

TEST_CASE("conditions: what players can be at or inside of") {
    const auto findings = [](const std::string& condition) {
        Lines lines;
        for (const std::string& each : findings_of(
                 "hestrel: 1\nlevels: {hall: , quay: {area: [{min: [0, 0, 0], max: [1, 1, 1]}]}}\n"
                 "waypoints: {a: [0, 0, 0]}\nmenus: {desk: {items: {}}}\ntriggers:\n"
                 "  quay: {box: {min: [0, 0, 0], max: [1, 1, 1]}, steps: []}\n"
                 "  box: {box: {min: [0, 0, 0], max: [1, 1, 1]}, steps: []}\n"
                 "  t: {when: " +
                 condition + ", steps: []}\n"))
            lines.push_back(each);
        return lines;
    };
    CHECK(findings("at(a) and inside(box) and open(desk) or frozen").empty());
    CHECK(
        findings("inside(quay)") ==
        Lines{"plan.yaml:8:20: error: in this condition \"quay\" is a trigger and a level; rename "
              "one of them  [wrong-value]"});
    CHECK(
        findings("inside(hall)") ==
        Lines{"plan.yaml:8:13: error: in this condition nobody can be inside of level hall, which "
              "has no area  [wrong-value]"});
    CHECK(findings("inside(t)") ==
          Lines{"plan.yaml:8:13: error: in this condition nobody can be inside of trigger t, which "
                "has no shape  [wrong-value]"});
    CHECK(findings("at(b)") == Lines{"plan.yaml:8:16: error: in this condition no waypoint is "
                                     "called \"b\"; did you mean \"a\"?  "
                                     "[unknown-name]"});
    CHECK(findings("open(desks)").front().find("did you mean \"desk\"?") != std::string::npos);
}

TEST_CASE("a plan in several files: the including one first, then its includes as listed, patterns "
          "sorted") {
    source::MemoryDisk disk;
    disk.files["lake/plan.yaml"] =
        "hestrel: 1\ninclude: [levels/*.yaml, more.yaml]\nlevels: {first: }\n";
    disk.files["lake/levels/b.yaml"] = "levels: {third: }\n";
    disk.files["lake/levels/a.yaml"] = "levels: {second: {kits: [wood]}}\n";
    disk.files["lake/more.yaml"] = "kits: {wood: }\nlevels: {fourth: , first: }\n";
    const source::PlanReading reading = source::read_plan(disk, "lake/plan.yaml");
    REQUIRE(reading.findings.size() == 1);
    CHECK(plan::finding_text(reading.plan, reading.findings[0]) ==
          "lake/more.yaml:2:20: error: \"first\" is defined here again; first at "
          "lake/plan.yaml:3:10  [defined-twice]");
    Lines names;
    for (const plan::Level& level : reading.plan.levels) names.push_back(level.name);
    CHECK(names == Lines{"first", "second", "third", "fourth", "first"});
}

TEST_CASE("files that include each other, nothing or what is not there") {
    source::MemoryDisk disk;
    disk.files["a.yaml"] = "hestrel: 1\ninclude: [b.yaml, none/*.yaml]\n";
    disk.files["b.yaml"] = "include: [a.yaml]\n";
    const source::PlanReading reading = source::read_plan(disk, "a.yaml");
    REQUIRE(reading.findings.size() == 2);
    CHECK(plan::finding_text(reading.plan, reading.findings[0]) ==
          "a.yaml:2:19: error: no file matches \"none/*.yaml\"  [wrong-value]");
    CHECK(plan::finding_text(reading.plan, reading.findings[1]) ==
          "b.yaml:1:11: error: a.yaml is part of this plan already  [cycle]");
    disk.files["c.yaml"] = "hestrel: 1\ninclude: missing.yaml\n";
    CHECK_THROWS_WITH(source::read_plan(disk, "c.yaml"),
                      "c.yaml:2:10: missing.yaml: cannot be read: No such file or directory");
}

TEST_CASE("measured sizes win over the plan's own, on one device or on all") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = R"(hestrel: 1
sizes: built.csv
devices:
  d: {memory: {total: 9}, read: {rate: 1}, unpack: {rate: 1}, frame: {fps: 30}}
  e: {memory: {total: 9}, read: {rate: 1}, unpack: {rate: 1}, frame: {fps: 30}}
levels: {quay: {memory: {texture: 10, audio: 3}, packed: 5, on: {d: {memory: {texture: 7}}}}}
)";
    disk.files["built.csv"] =
        "piece,device,pool,memory,packed,objects,build,date\nquay,,texture,20,9,40,b17,2026-11-02\n"
        "quay,d,texture,15,,,\"b17, "
        "again\",\nboat,,texture,1,,,,\nquay,f,texture,1,,,,\nquay,,texture,-1,,,,\n";
    const source::PlanReading reading = source::read_plan(disk, "plan.yaml");
    Lines lines;
    for (const plan::Finding& finding : reading.findings)
        lines.push_back(plan::finding_text(reading.plan, finding));
    CHECK(
        lines ==
        Lines{
            "built.csv:4:1: error: no level and no kit is called \"boat\"  [unknown-name]",
            "built.csv:5:6: error: no device is called \"f\"; did you mean \"d\"?  [unknown-name]",
            "built.csv:6:15: error: memory \"-1\" must be from 0 to 1 TiB  [wrong-value]"});
    const auto quay = [&](std::size_t device) {
        return loading::catalogue_for(reading.plan, plan::DeviceId{device})
            .pieces[loading::PieceId{0}];
    };
    CHECK(quay(0).unpacked == plan::mebibytes(15 + 3));
    CHECK(quay(1).unpacked == plan::mebibytes(20 + 3));
    CHECK(quay(1).packed == plan::mebibytes(9));
    CHECK(quay(1).objects == 40);
}

TEST_CASE("shapes: a box turns counter-clockwise seen from above, x to the right and z towards the "
          "viewer") {
    // 10 m long in x, 2 m in z; turned by 90 degrees it is 10 m long in z.
    const plan::Shape turned = plan::Box{{0, 0, 0}, {10, 1, 2}, 90};
    CHECK(geometry::contains(turned, {5, 0, 6}));
    CHECK(geometry::contains(turned, {5, 0, -4}));
    CHECK_FALSE(geometry::contains(turned, {1, 0, 1}));
    // By 45 degrees its right end goes away from the viewer: to smaller z.
    const plan::Shape half = plan::Box{{-10, 0, -1}, {10, 1, 1}, 45};
    CHECK(geometry::contains(half, {6, 0, -6}));
    CHECK_FALSE(geometry::contains(half, {6, 0, 6}));
    CHECK(geometry::contains(plan::Shape{plan::Sphere{{0, 0, 0}, 5}}, {3, 4, 0}));
    CHECK_FALSE(geometry::contains(plan::Shape{plan::Sphere{{0, 0, 0}, 5}}, {3, 4.001, 0}));
    CHECK(geometry::contains(plan::Shape{plan::Beyond{1, -20, false}}, {0, -20, 0}));
    CHECK_FALSE(geometry::contains(plan::Shape{}, {0, 0, 0}));
}

TEST_CASE("facts: flags, whole numbers and words, each with its bounds") {
    CHECK(findings_of("hestrel: 1\nfacts: {a: {initial: 7, range: [0, 5]}}\n") ==
          Lines{"plan.yaml:2:22: error: \"7\" is outside the range  [wrong-value]"});
    CHECK(findings_of("hestrel: 1\nfacts: {a: {initial: 0.5}}\n").size() == 1);
    CHECK(findings_of("hestrel: 1\nfacts: {a: {initial: x, values: [y, z]}}\n") ==
          Lines{"plan.yaml:2:22: error: \"x\" is not one of the values  [wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevels: {q: }\nfacts: {a: {initial: 0, of: q}}\n").size() == 1);
    const plan::Plan plan = plan_from(R"(
hestrel: 1
facts: {n: {initial: 0, range: [0, 9]}, w: {initial: none, values: [none, both]}, b: {initial: true}}
triggers: {t: {when: veiled, steps: [{set: {n: +1, w: both, b: false}}, {set: {n: {to: -1}}}, {set: {n: -2}}, {reset: session}]}}
)");
    const auto& steps = plan.lists[plan::ListId{0}].steps;
    const auto& first = std::get<plan::SetStep>(steps[0].what).facts;
    CHECK(first[0].adds);
    CHECK(first[0].value.number == 1);
    CHECK(plan.words[first[1].value.word] == "both");
    CHECK(first[2].value.number == 0);
    CHECK_FALSE(std::get<plan::SetStep>(steps[1].what).facts[0].adds);
    CHECK(std::get<plan::SetStep>(steps[2].what).facts[0].adds);
    CHECK(std::get<plan::ResetStep>(steps[3].what).session);
}

TEST_CASE("choose: branches are lists of their own that know where they go on") {
    const plan::Plan plan = plan_from(R"(
hestrel: 1
levels: {q: }
triggers: {t: {when: veiled, steps: [{load: [q]}, {choose: {north: [{show: [q]}], south: []}}, {hide: [q]}]}}
)");
    REQUIRE(plan.lists.size() == 3);
    const auto& choose = std::get<plan::ChooseStep>(plan.lists[plan::ListId{0}].steps[1].what);
    CHECK(choose.branches.size() == 2);
    const plan::StepList& north = plan.lists[choose.branches[0].steps];
    CHECK(north.parent == plan::ListId{0});
    CHECK(north.parent_step == 1);
    CHECK(north.steps.size() == 1);
}

TEST_CASE("mistakes in the wider language, each one finding") {
    const auto one = [](const std::string& text, const std::string& end) {
        const Lines lines = findings_of("hestrel: 1\n" + text + "\n");
        CAPTURE(text);
        REQUIRE(lines.size() == 1);
        CHECK(lines[0].find(end) != std::string::npos);
    };
    one("levels: {a: {near: {load: 9, unload: 3}, area: {min: [0, 0, 0], max: [1, 1, 1]}}}",
        "unload 3 is nearer than load 9");
    one("levels: {a: {near: {load: 1, unload: 3}}}", "a has no area to come near to");
    one("triggers: {t: {steps: []}}", "a trigger needs a shape, or a condition to fire by");
    one("triggers: {t: {when: veiled, fires: on-enter, steps: []}}",
        "fires when-true, and no other way");
    one("triggers: {t: {beyond: {axis: x}, steps: []}}", "beyond needs over or under, one of them");
    one("rules: [{exactly: 1}]", "`of` says what");
    one("rules: [{never: veiled, exactly: 1, of: light}]", "a rule says one of");
    one("limits: {headroom: 140%}", "must be from 0 to 1");
    one("levels: {a: }\nroutes: {r: {start: {level: a}}}",
        "route r needs steps, or players with steps");
    one("levels: {a: }\neditions: {e: {levels: [a], parcels: [core]}}",
        "expected a parcel {name: [levels]}");
    one("menus: {m: {items: {}, after: {delay: -1 s, steps: []}}}", "must be from 0 to 10000000 s");
    one("triggers: {t: {when: veiled, steps: [{mark: hall}]}}", "expected level.entry");
    one("triggers: {t: {when: veiled, steps: [{save: everything}]}}", "expected one of all");
    one("facts: {f: {initial: 1, values: [a]}}",
        "values are for facts whose initial one is a word");
}
