// Reading a plan: what is right comes out as written, what is wrong becomes one finding with its
// place.

#include "support/plan_text.hpp"

using namespace hestrel;
using plan::mebibytes;
using tests::findings_of;
using tests::Lines;
using tests::plan_from;
using tests::read_text;

TEST_CASE("levels, sublevels and kits, in plan order, with what differs on a device") {
    const plan::Plan plan = plan_from(R"(
hestrel: 1
name: Lake
devices: {small: {memory: {total: 500}, read: {rate: 90}, frame: {fps: 30}}}
kits: {water: {memory: {texture: 70}, needs: [common]}, common: {memory: {texture: 40}}}
levels:
  hall:
    memory: {texture: 180, geometry: 80..90}
    packed: 140
    on: {small: {memory: {texture: 96}}}
    sublevels: {room: {with-parent: true}}
  quay: {kits: [water], title: The Quay}
)");
    CHECK(plan.name == "Lake");
    REQUIRE(plan.levels.size() == 3);
    CHECK(plan.levels[plan::LevelId{1}].name == "room");
    CHECK(plan.levels[plan::LevelId{1}].parent == plan::LevelId{0});
    CHECK(plan.levels[plan::LevelId{2}].title == "The Quay");
    const loading::Catalogue catalogue = loading::catalogue_for(plan, plan::DeviceId{0});
    const auto& hall = catalogue.pieces[loading::PieceId{0}];
    CHECK(hall.unpacked ==
          mebibytes(96 + 90));           // the device's texture, the plan's geometry, its high end
    CHECK(hall.packed == hall.unpacked); // stored unpacked on this device
    const auto& kits = catalogue.levels[plan::LevelId{2}].kits;
    REQUIRE(kits.size() == 2);
    CHECK(tables::piece_name(plan, kits[0]) == "common"); // what a kit needs stands before it
}

TEST_CASE("a plan that can only be read to a part is not used: its files and the finding stay") {
    // The merge is looked at when the trigger's fields are asked for: all is declared by then.
    const std::string text = "hestrel: 1\nlevels: {hall: {}}\n"
                             "triggers: {first: {when: shown(hall), steps: []},\n"
                             "           door: {<<: 3}}\n";
    CHECK(findings_of(text) == Lines{"plan.yaml:4:23: error: a merge key takes a mapping, or a "
                                     "list of mappings  [broken-yaml]"});
    const auto reading = read_text(text);
    CHECK(reading.plan.levels.empty());
    CHECK(reading.plan.triggers.empty());
    CHECK(reading.plan.files.size() == 1);
}

TEST_CASE("an included file that is no YAML makes none of its names unknown") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] =
        "hestrel: 1\ninclude: [more.yaml]\nlevels: {hall: {kits: [wood, wod]}}\n";
    disk.files["more.yaml"] = "kits:\n  wood: {memory: {t: 1}\n";
    Lines found;
    for (const plan::Finding& each : source::read_plan(disk, "plan.yaml").findings)
        found.push_back(fmt::format("{}:{} {}", each.place.line, each.place.column, each.name));
    CHECK(found == Lines{"3:30 unknown-name", "3:1 broken-yaml"});
}

TEST_CASE("anchors and merge keys say once what repeats") {
    const plan::Plan plan = plan_from(R"(
hestrel: 1
levels:
  hall: &usual {memory: {texture: 180}, objects: 5}
  quay: {<<: *usual, objects: 7}
)");
    CHECK(plan.levels[plan::LevelId{1}].content.figures.memory.at(0).second.high == mebibytes(180));
    CHECK(plan.levels[plan::LevelId{1}].content.figures.objects == 7);
}

TEST_CASE("a path of more than two points is so many paths") {
    const plan::Plan plan = plan_from(R"(
hestrel: 1
waypoints: {a: [0, 0, 0], b: [1 km, 0, 0], c: {at: [1, 2, 3]}}
paths: [[a, b, c], {from: c, to: a, one-way: true, speed: 36 km/h}]
)");
    REQUIRE(plan.paths.size() == 3);
    CHECK(plan.paths[plan::PathId{1}].from == plan::WaypointId{1});
    CHECK(plan.paths[plan::PathId{2}].one_way);
    CHECK(*plan.paths[plan::PathId{2}].speed == Approx(10));
    CHECK(plan.waypoints[plan::WaypointId{1}].at[0] == 1000);
}

TEST_CASE(
    "the frame's period is rounded up, and veiled-attach is as attach where it is not given") {
    const plan::Plan plan = plan_from(R"(
hestrel: 1
devices: {small: {memory: {total: 500}, read: {rate: 90}, frame: {fps: 30, attach: 3 ms}}}
)");
    CHECK(plan.devices[plan::DeviceId{0}].frame.period == plan::Micros{33'334});
    CHECK(plan.devices[plan::DeviceId{0}].frame.veiled_attach == plan::milliseconds(3));
}

TEST_CASE("of many wrong names the first have hints; a difference in capitals is always told") {
    std::string text = "hestrel: 1\nlevels:\n";
    std::string triggers = "triggers:\n";
    constexpr int many = 600;
    for (int i = 0; i < many; ++i) {
        text += fmt::format("  level{}: {{}}\n", i);
        // One letter too many, and the last once more with a capital.
        triggers += fmt::format("  t{0}: {{when: speed > 0, steps: [{{load: levell{0}}}]}}\n", i);
    }
    triggers += "  u: {when: speed > 0, steps: [{load: Level599}]}\n";
    const Lines lines = findings_of(text + triggers);
    REQUIRE(lines.size() == many + 1);
    using Catch::Matchers::Contains;
    CHECK_THAT(lines.front(), Contains("no level is called \"levell0\"; did you mean \"level0\"?"));
    CHECK_THAT(lines[many - 1], Contains("no level is called \"levell599\"  [unknown-name]"));
    CHECK_THAT(lines[many], Contains("it differs from \"level599\" only in capitals"));
}

TEST_CASE("each kind of mistake is one finding at its place") {
    const std::string device =
        "hestrel: 1\ndevices:\n  d: {memory: {total: 9}, read: {rate: 1}, frame: {fps: 30}}\n";
    CHECK(findings_of("") ==
          Lines{"plan.yaml:1:1: error: expected a plan (a mapping), found nothing  [wrong-value]"});
    CHECK(findings_of("levels: {}\n") ==
          Lines{"plan.yaml:1:1: error: a plan needs the key \"hestrel\"  [missing-key]"});
    CHECK(findings_of("hestrel: 2\n") ==
          Lines{"plan.yaml:1:10: error: \"2\" must be from 1 to 1  [wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevel: {}\n") ==
          Lines{"plan.yaml:2:1: error: a plan has no key \"level\"; did you mean \"levels\"?  "
                "[unknown-key]"});
    CHECK(findings_of("hestrel: 1\nlevels: [a]\n") ==
          Lines{"plan.yaml:2:9: error: expected levels by name, found a list  [wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevels: {a b: {}}\n") ==
          Lines{"plan.yaml:2:10: error: \"a b\" is no name: letters, digits, - and _, starting "
                "with a letter or digit  "
                "[wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevels: {a: {memory: {texture: -4}}}\n") ==
          Lines{"plan.yaml:2:32: error: \"-4\" must be from 0 to 1 TiB (expected memory in MiB)  "
                "[wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevels: {a: {memory: {texture: .nan}}}\n") ==
          Lines{"plan.yaml:2:32: error: \".nan\" is not a number (expected memory in MiB)  "
                "[wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevels: {a: {make: [1, 2]}}\n") ==
          Lines{"plan.yaml:2:20: error: expected a time in s, or a range low..high, found a list  "
                "[wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevels: {a: {objects: 1e30}}\n") ==
          Lines{"plan.yaml:2:23: error: \"1e30\" must be from 0 to 1000000000  [wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevels: {a: {persist: yes}}\n") ==
          Lines{"plan.yaml:2:23: error: expected true or false, found \"yes\"  [wrong-value]"});
    CHECK(findings_of("hestrel: 1\nlevels: {a: {kits: [wood]}}\nkits: {Wood: {}}\n") ==
          Lines{"plan.yaml:2:21: error: no kit is called \"wood\"; it differs from \"Wood\" only "
                "in capitals  "
                "[unknown-name]"});
    CHECK(findings_of("hestrel: 1\nlevels:\n  a: {}\n  b: {sublevels: {a: {}}}\n") ==
          Lines{"plan.yaml:4:19: error: \"a\" is defined here again; first at plan.yaml:3:3  "
                "[defined-twice]"});
    CHECK(findings_of("hestrel: 1\nkits: {a: {needs: [b]}, b: {needs: [a]}}\n") ==
          Lines{"plan.yaml:2:25: error: kits need each other in a circle: a → b → a  [cycle]"});
    CHECK(findings_of(device + "limits: {walk: [1]}\n") ==
          Lines{"plan.yaml:4:16: error: expected a time such as 2 s, found a list  [wrong-value]"});
    CHECK(
        findings_of(
            "hestrel: 1\nwaypoints: {a: [0, 0, 0], b: {at: [0, 0, 0], world: under}}\npaths: "
            "[[a, b]]\n") ==
        Lines{"plan.yaml:3:9: error: a path can't lead from a to b: they are in different worlds  "
              "[path-across-worlds]"});
    CHECK(findings_of(
              "hestrel: 1\ntriggers: {t: {box: {min: [3, 0, 0], max: [1, 1, 1]}, steps: []}}\n") ==
          Lines{"plan.yaml:2:27: error: the box has no inside: its min x 3 is above its max 1  "
                "[wrong-value]"});
}

TEST_CASE(
    "rates of 0, frames that can't hold their base and attach budgets of 0 are wrong values") {
    const auto with = [](const std::string& read, const std::string& frame) {
        return findings_of("hestrel: 1\ndevices:\n  d:\n    memory: {total: 9}\n    read: {" +
                           read + "}\n    frame: {" + frame + "}\n");
    };
    CHECK(with("rate: 0", "fps: 30").size() == 1);
    CHECK(with("rate: 1, parallel: 0", "fps: 30").size() == 1);
    CHECK(with("rate: 1", "fps: 0").size() == 1);
    CHECK(with("rate: 1", "fps: .inf").size() == 1);
    CHECK(with("rate: 1", "fps: 50, base: 21 ms") ==
          Lines{"plan.yaml:6:28: error: base \"21 ms\" exceeds the frame's period of 20 ms  "
                "[wrong-value]"});
    CHECK(with("rate: 1", "fps: 50, attach: 0").size() == 1);
    CHECK(with("rate: 1", "fps: 50, base: 20 ms").empty());
}

TEST_CASE("steps that say too much, too little or the wrong thing") {
    const auto with = [](const std::string& step) {
        return findings_of(
            "hestrel: 1\nlevels: {a: {entries: {door: w}}}\nveils: {v: }\nwaypoints: {w: [0, 0, "
            "0]}\n"
            "triggers:\n  t:\n    box: {min: [0, 0, 0], max: [1, 1, 1]}\n    steps:\n      - " +
            step + "\n");
    };
    CHECK(with("{load: [a], show: [a]}") == Lines{"plan.yaml:9:9: error: one step can't be both "
                                                  "load and show; make it two  [wrong-value]"});
    CHECK(with("{priority: now}") ==
          Lines{"plan.yaml:9:9: error: this step says nothing to do  [wrong-value]"});
    CHECK(with("{hide: [a], priority: now}") ==
          Lines{"plan.yaml:9:31: error: hide takes no priority  [wrong-value]"});
    CHECK(
        with("{wait: 2 s, at-most: 3 s}") ==
        Lines{
            "plan.yaml:9:30: error: `at-most` goes only with a wait for something  [wrong-value]"});
    CHECK(with("{switch: {to: a, at: dor}}") ==
          Lines{"plan.yaml:9:30: error: a has no entry \"dor\"; did you mean \"door\"?  "
                "[unknown-name]"});
    CHECK(with("{switch: {to: a, order: free-last}}") ==
          Lines{"plan.yaml:9:33: error: expected one of load-first, free-first, found "
                "\"free-last\"; did you mean "
                "\"free-first\"?  [wrong-value]"});
    CHECK(with("{wait: {shown: [a], ready: [a]}}").size() == 1);
    CHECK(with("{veil: v}").empty());
}

TEST_CASE("a broken value does not hide the rest of the file, and findings come in file order") {
    const Lines lines = findings_of(
        "hestrel: 1\nroutes: {r: {steps: [{press: desk.go}]}}\nlevels: {a: {objects: many}}\n"
        "menus: {desk: {in: b, items: {}}}\n");
    REQUIRE(lines.size() == 4);
    CHECK(lines[0].starts_with("plan.yaml:2:10: error: route r starts nowhere"));
    CHECK(lines[1].starts_with("plan.yaml:2:30: error: menu desk has no item \"go\""));
    CHECK(lines[2].starts_with("plan.yaml:3:23: error: \"many\" is not a number"));
    CHECK(lines[3].starts_with("plan.yaml:4:20: error: no level is called \"b\""));
}
