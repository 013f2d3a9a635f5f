// Renaming: everywhere, nothing else, and not where it would change what the plan says.

#include "edit/rename.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;
using edit::RenameError;

namespace {

const std::string main_file = R"yaml(# quay stays quay in comments
hestrel: 1
include: [coast.yaml]
sizes: [built.csv]
devices: {handheld: {memory: {total: 900, pools: {texture: 700}}, read: {rate: 90}, frame: {fps: 30}}}
levels:
  hall: {title: quay, memory: {texture: 5}, entries: {quay: steps}}
  "quay":   # the quay
    memory: {texture: 5}
    kits: [quay-wood]
    entries: {steps: steps, quay: steps}
    on: {handheld: {packed: 4}}
kits: {quay-wood: {memory: {texture: 2}}}
waypoints: {steps: [0, 0, 0], quay: [9, 0, 0]}
paths: [[steps, quay]]
facts: {bells: {initial: none, values: [none, quay, both]}, at_quay: {initial: false}}
players: {carrier: {tags: [quay], speeds: {run: 4, walk: 2}}}
menus:
  desk:
    in: hall
    items:
      go: {when: "shown( quay ) and not (bells == quay)", steps: [{switch: {to: quay, at: quay}}]}
routes:
  r: {start: {level: hall}, steps: [{press: desk.go}, {go: quay, speed: run}, {until: shown(quay)}]}
)yaml";
const std::string coast_file = R"yaml(triggers:
  t:
    in: &here quay
    when: >-
      at_quay or
      ready(quay) and bells != quay
    steps: [{show: [*here]}, {mark: quay.quay}, {set: {bells: quay}}]
)yaml";
const std::string table = "piece,pool,memory\r\n\"quay\",texture,6\r\nquay-wood,texture,2\r\n";

struct Lake {
    Lake() {
        disk.files = {
            {"p/plan.yaml", main_file}, {"p/coast.yaml", coast_file}, {"p/built.csv", table}};
    }

    edit::Renaming rename(const std::string& from, const std::string& to,
                          const std::string& kind = "") {
        edit::Renaming renaming = edit::rename(disk, "p/plan.yaml", from, to, kind);
        disk.write_all(renaming.files);
        return renaming;
    }
    /// Why it can't be renamed.
    std::string refused(const std::string& from, const std::string& to,
                        const std::string& kind = "") {
        try {
            edit::rename(disk, "p/plan.yaml", from, to, kind);
        } catch (const RenameError& error) {
            return error.what();
        }
        return "it was renamed";
    }
    const std::string& file(const std::string& name) { return disk.files.at("p/" + name); }

    source::MemoryDisk disk;
};

std::string replaced(std::string text,
                     const std::vector<std::pair<std::string, std::string>>& pairs) {
    for (const auto& [from, to] : pairs) {
        const std::size_t at = text.find(from);
        CAPTURE(from);
        REQUIRE(at != std::string::npos);
        text.replace(at, from.size(), to);
    }
    return text;
}

} // namespace

TEST_CASE("a level is renamed in files, conditions, dotted names and tables, and nothing else is") {
    Lake lake;
    const auto renaming = lake.rename("quay", "low-quay", "level");
    CHECK(renaming.kind == "level");
    CHECK(renaming.files.size() == 3);
    CHECK(lake.file("plan.yaml") ==
          replaced(main_file, {{"\"quay\":   #", "\"low-quay\":   #"},
                               {"shown( quay )", "shown( low-quay )"},
                               {"to: quay, at", "to: low-quay, at"},
                               {"until: shown(quay)", "until: shown(low-quay)"}}));
    CHECK(lake.file("coast.yaml") == replaced(coast_file, {{"&here quay", "&here low-quay"},
                                                           {"ready(quay)", "ready(low-quay)"},
                                                           {"mark: quay.", "mark: low-quay."}}));
    CHECK(lake.file("built.csv") == replaced(table, {{"\"quay\",", "\"low-quay\","}}));
    CHECK(renaming.places == 8);
    CHECK(renaming.lines.front().line == 8);
    CHECK(renaming.lines.front().after == "  \"low-quay\":   # the quay");
    // And back again, to the byte.
    lake.rename("low-quay", "quay");
    CHECK(lake.file("plan.yaml") == main_file);
    CHECK(lake.file("coast.yaml") == coast_file);
    CHECK(lake.file("built.csv") == table);
}

TEST_CASE("every other kind of thing that is called so is renamed alone") {
    const auto changes = [](const std::string& from, const std::string& to,
                            const std::string& kind) {
        Lake lake;
        return lake.rename(from, to, kind).places;
    };
    CHECK(changes("quay", "pier", "waypoint") == 3);
    CHECK(changes("quay", "pier", "value") == 4);
    CHECK(changes("quay", "pier", "tag") == 1);
    CHECK(changes("quay.quay", "pier", "") == 3);
    CHECK(changes("hall.quay", "pier", "") == 1);
    CHECK(changes("at_quay", "down_there", "") == 2);
    CHECK(changes("texture", "pictures", "") == 6);
    CHECK(changes("handheld", "pocket", "") == 2);
    CHECK(changes("quay-wood", "oak", "") == 3);
    CHECK(changes("carrier.run", "dash", "") == 2);
    CHECK(changes("desk.go", "off", "") == 2);
    CHECK(changes("desk", "counter", "") == 2);
}

TEST_CASE("what can't be renamed is refused, and says why") {
    Lake lake;
    CHECK(lake.refused("quay", "x") ==
          "several things are called \"quay\"; say which with --kind: level, tag, value, waypoint");
    CHECK(lake.refused("quai", "x") == "nothing is called \"quai\"; did you mean \"quay\"?");
    CHECK(lake.refused("run", "x") == "\"run\" belongs to something; say which: carrier.run");
    CHECK(lake.refused("hall", "the hall").starts_with("\"the hall\" is no name"));
    CHECK(lake.refused("hall", "quay") == "p/plan.yaml:8:3: there is a level \"quay\" already");
    // In conditions a fact hides a value of the same name, and some words have a meaning.
    CHECK(lake.refused("at_quay", "quay").starts_with("with that name the plan would be wrong:\n"));
    CHECK(lake.refused("at_quay", "veiled").find("would mean something else") != std::string::npos);
    CHECK(lake.refused("at_quay", "and").starts_with("with that name the plan would be wrong:\n"));
    // One scalar that is two names can't be changed for one of them.
    lake.disk.files["p/coast.yaml"] += "gates: {g: {needs: [*here]}}\nparcels: 1\n";
    CHECK(lake.refused("hall", "x").starts_with("p/plan.yaml can't be read as it is written"));
    lake.disk.files["p/coast.yaml"] =
        coast_file + "routes: {s: {start: {level: *here}, steps: [{go: *here}]}}\n";
    CHECK(lake.refused("quay", "x", "level").starts_with("with that name the plan would be wrong"));
    // An escape in the name hides it.
    lake.disk.files["p/coast.yaml"] =
        "triggers: {t: {in: \"qu\\x61y\", when: veiled, steps: []}}\n";
    CHECK(lake.refused("quay", "x", "level") ==
          "p/coast.yaml:1:20: the name stands here in a way that can't be changed");
    CHECK(lake.disk.files["p/plan.yaml"] == main_file);
}

TEST_CASE("renaming a level with cells renames them where they are named") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] =
        "hestrel: 1\nlevels:\n  moor: {cells: {size: 10, columns: 2, height: [0, 4], ways: "
        "straight}}\n"
        "  moor-hut: {}\n"
        "players: {carrier: {speeds: {walk: 2}}}\n"
        "triggers: {t: {in: moor, when: shown(moor-1-0), steps: [{show: [moor-0-0, moor-hut]}]}}\n"
        "routes: {r: {start: {level: moor, waypoint: moor-0-0.middle}, steps: [{go: "
        "moor-1-0.middle}]}}\n";
    const edit::Renaming done = edit::rename(disk, "plan.yaml", "moor", "heath", "");
    REQUIRE(done.files.size() == 1);
    CHECK(done.files[0].second ==
          "hestrel: 1\nlevels:\n  heath: {cells: {size: 10, columns: 2, height: [0, 4], ways: "
          "straight}}\n"
          "  moor-hut: {}\n"
          "players: {carrier: {speeds: {walk: 2}}}\n"
          "triggers: {t: {in: heath, when: shown(heath-1-0), steps: [{show: [heath-0-0, "
          "moor-hut]}]}}\n"
          "routes: {r: {start: {level: heath, waypoint: heath-0-0.middle}, steps: [{go: "
          "heath-1-0.middle}]}}\n");
    CHECK_THROWS_AS(edit::rename(disk, "plan.yaml", "moor-1-0", "far", ""), edit::RenameError);
}
