// The built program shows what there is to know of one thing.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

const std::string lake_to_show = R"(hestrel: 1
name: Lake
devices:
  box: {memory: {total: 900, pools: {texture: 700}}, read: {rate: 100}, frame: {fps: 100}}
kits: {wood: {memory: {texture: 40}}}
levels:
  hall: {title: The Hall, owner: interiors, memory: {texture: 100}, entries: {door: a}, provides: [light], sublevels: {loft: {memory: {texture: 10}}}}
  quay: {owner: coast, memory: {texture: 200}, kits: [wood], entries: {steps: b}, area: [{min: [90, 0, -9], max: [120, 4, 9]}], allow: {empty-level: "not yet"}}
editions: {full: {levels: [hall, quay], parcels: [{core: [hall]}, {coast: [quay]}]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
facts: {key: {initial: false}}
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, when: not key, steps: [{show: [quay]}, {set: {key: true}}]}
  u: {in: quay, box: {min: [95, -1, -1], max: [99, 1, 1]}, steps: [{unload: [hall]}]}
routes:
  there: {start: {level: hall}, steps: [{go: b}, {expect: key}]}
)";

} // namespace

TEST_CASE("show: the card of a level, its cost on each device, who brings it and lets it go",
          "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake_to_show);
    const auto result = run(folder, "HESTREL show plan.yaml quay");
    CHECK(result.code == 0);
    CHECK(result.err.empty());
    CHECK(result.out == "level quay  (plan.yaml:8:3)\n"
                        "owner           coast\n"
                        "world           main\n"
                        "editions        full, position 1, in parcel coast (plan.yaml:9:34)\n"
                        "kits            wood\n"
                        "entries         steps at b (plan.yaml:8:72)\n"
                        "triggers        u (plan.yaml:16:3)\n"
                        "shown by        trigger t (plan.yaml:15:83)\n"
                        "comes from      hall by trigger t (plan.yaml:15:3)\n"
                        "allows          empty-level: not yet (plan.yaml:8:137)\n"
                        "\n"
                        "device  own MiB  packed  kits  in all  read after  unpacked   shown\n"
                        "box         200     200    40     240      2.40 s         -  2.41 s\n");
}

TEST_CASE("show: facts, triggers, ways, lists, in every form", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake_to_show);
    CHECK(run(folder, "HESTREL show plan.yaml key").out ==
          "fact key  (plan.yaml:13:9)\n"
          "initial         false\n"
          "lifetime        session\n"
          "set by          trigger t (key: true) (plan.yaml:15:106)\n"
          "read by         trigger t (not key) (plan.yaml:15:70)\n"
          "                route there, expecting (key) (plan.yaml:18:59)\n");
    folder.write("asked.yaml", R"(hestrel: 1
levels:
  hall: {entries: {in: a}, area: {min: [0, 0, 0], max: [1, 1, 1]}, near: {load: 2, unload: 3, when: day}}
  yard: {}
waypoints: {a: [0, 0, 0]}
players: {carrier: {speeds: {walk: 2}}}
facts: {day: {initial: true}, mood: {initial: calm, values: [calm, wild]}}
triggers:
  t: {in: hall, when: ready(hall), steps: [{show: [yard], when: not day}, {show: {by: mood, calm: hall, else: yard}}]}
routes: {r: {start: {level: hall}, steps: [{pause: 1, when: day}]}}
)");
    CHECK(run(folder, "HESTREL show asked.yaml day").out ==
          "fact day  (asked.yaml:7:9)\n"
          "initial         true\n"
          "lifetime        session\n"
          "read by         trigger t (not day) (asked.yaml:9:69)\n"
          "                level hall, coming near (day) (asked.yaml:3:101)\n"
          "                route r (day) (asked.yaml:10:61)\n");
    CHECK(run(folder, "HESTREL show asked.yaml mood")
              .out.find("read by         trigger t (levels by it)") != std::string::npos);
    const auto json =
        nlohmann::json::parse(run(folder, "HESTREL show plan.yaml t --format json").out);
    REQUIRE(json.size() == 1);
    CHECK(json[0]["kind"] == "trigger");
    CHECK(json[0]["sections"]["steps"].size() == 2);
    CHECK(json[0]["sections"]["on paths"][0]["text"] == "a to b, from 20.0 to 30.0 m");
    CHECK(run(folder, "HESTREL show plan.yaml hall quay").out ==
          "by         how      walked  worst_slack_s  on            place\n"
          "trigger t  streams       1        32.59 s  there on box  plan.yaml:15:3\n");
    CHECK(run(folder, "HESTREL show plan.yaml --format csv").out ==
          "level,parent,owner,editions,box_mib,box_with_kits_mib\r\n"
          "hall,,interiors,full,100.000,100.000\r\n"
          "loft,hall,interiors,,10.000,10.000\r\n"
          "quay,,coast,full,200.000,240.000\r\n");
    CHECK(run(folder, "HESTREL show plan.yaml --list triggers --owner coast --format csv").out ==
          "trigger,in,when,once,steps,asks_for,place\r\nu,quay,,no,1,,plan.yaml:16:3\r\n");
    for (const std::string list :
         {"levels", "triggers", "menus", "facts", "entries", "routes", "allowed", "kits", "gates",
          "veils", "waypoints", "editions", "devices"}) {
        CAPTURE(list);
        CHECK(run(folder, "HESTREL show plan.yaml --list " + list).code == 0);
    }
    for (const std::string name : {"hall", "wood", "u", "a", "box", "carrier", "full", "there"}) {
        CAPTURE(name);
        const auto card = run(folder, "HESTREL show plan.yaml " + name);
        CHECK(card.code == 0);
        CHECK(card.out.find(" " + name + "  (plan.yaml:") != std::string::npos);
    }
}

TEST_CASE("show: what is no name or list", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake_to_show);
    const auto wrong = [&](const std::string& arguments) {
        const auto result = run(folder, "HESTREL show plan.yaml " + arguments);
        CHECK(result.code == 2);
        CHECK(result.out.empty());
        return result.err;
    };
    CHECK(wrong("quey") ==
          "hestrel: nothing in this plan is called \"quey\"; did you mean \"quay\"?\n");
    CHECK(wrong("quay nowhere").find("no level of this plan is called") != std::string::npos);
    CHECK(wrong("--list trigers").find("did you mean \"triggers\"?") != std::string::npos);
    CHECK(wrong("quay --owner coast").find("not both") != std::string::npos);
    CHECK(run(folder, "HESTREL show plan.yaml quay loft").out ==
          "no list leads from quay to loft\n");
}

TEST_CASE("show: a group, its card and its row in the list", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", lake_to_show +
                                  "groups: {dock: {levels: [quay, hall], one-of: true}}\n"
                                  "gates: {door: {needs: [dock]}}\n");
    const auto card = run(folder, "HESTREL show plan.yaml dock --format json");
    CHECK(card.code == 0);
    CHECK(card.out.find("variants of one place") != std::string::npos);
    CHECK(card.out.find("gate door") != std::string::npos);
    const auto list = run(folder, "HESTREL show plan.yaml --list groups --format csv");
    CHECK(list.out.find("dock,yes,") != std::string::npos);
    CHECK(run(folder, "HESTREL show plan.yaml quay").out.find("one of") != std::string::npos);
}

TEST_CASE("show: what is still to be done, by whose it is", "[program]") {
    const Folder folder;
    std::string text = lake_to_show;
    text.replace(text.find("title: The Hall,"), 16, "title: The Hall, todo: sound of the bells,");
    text.replace(text.find("t: {in: hall,"), 13, "t: {in: hall, todo: \"farther, on the box\",");
    text.replace(text.find("{key: {initial: false}}"), 23, "{key: {initial: false, todo: a name}}");
    folder.write("plan.yaml", text);
    const auto all = run(folder, "HESTREL show plan.yaml --list todo --format csv");
    CHECK(all.code == 0);
    CHECK(all.out.starts_with("about,todo,owner,place\r\n"));
    CHECK(all.out.find("level hall,sound of the bells,interiors,plan.yaml:7:") !=
          std::string::npos);
    CHECK(all.out.find("trigger t,\"farther, on the box\",interiors,") != std::string::npos);
    CHECK(all.out.find("fact key,a name,,") != std::string::npos);
    const auto own = run(folder, "HESTREL show plan.yaml --list todo --owner coast --format csv");
    CHECK(own.out == "about,todo,owner,place\r\n");
    run(folder, "HESTREL report plan.yaml --out page.html");
    const std::string page = tests::contents(folder / "page.html");
    CHECK(page.find("<h2>To do, by owner</h2>") != std::string::npos);
    CHECK(page.find("<h3>nobody named</h3>") != std::string::npos);
}
