// Copying a level: with all that is inside it, and nothing else by a byte.

#include "edit/copy_level.hpp"

#include "source/plan_content.hpp"
#include "support/plan_text.hpp"
#include "support/random_row.hpp"

using namespace hestrel;
using edit::CopyError;
using tests::Lines;

namespace {

const std::string house_plan = R"yaml(hestrel: 1
include: [levels/*.yaml, flow.yaml]
editions:
  full:
    levels:
      - hall     # first
      - "yard"
  short: {levels: [hall]}
)yaml";
const std::string house_levels = R"yaml(# The hall.
levels:
  # The first remark is the hall's, and stays with it alone.
  hall:                          # a remark
    waypoints: &ways {door: [0, 0, 0], desk: [9, 0, 0]}
    entries: {front: door}
    arrive: [{mark: hall.front}] # its own entry
    sublevels:
      hall-loft: {memory: {texture: 5}}
      cellar:
        triggers: {t: {when: shown(hall) and ready(cellar), steps: [{show: [hall-loft, yard]}]}}
    # The last one is inside.

  yard:
    waypoints: *ways
)yaml";
const std::string house_flow = "triggers: {t: {in: hall, when: shown(cellar), steps: [{show: "
                               "[hall]}]}, u: {in: yard, when: at(hall.desk), steps: []}}\n";

struct House {
    House() {
        disk.files = {{"p/plan.yaml", house_plan},
                      {"p/levels/hall.yaml", house_levels},
                      {"p/flow.yaml", house_flow}};
    }
    edit::Copied copy(const std::string& level, const std::string& name,
                      const edit::CopyOptions& options = {}) {
        edit::Copied copied = edit::copy_level(disk, "p/plan.yaml", level, name, options);
        disk.write_all(copied.files);
        return copied;
    }
    std::string refused(const std::string& level, const std::string& name,
                        const edit::CopyOptions& options = {}) {
        try {
            edit::copy_level(disk, "p/plan.yaml", level, name, options);
        } catch (const CopyError& error) {
            return error.what();
        }
        return "not refused";
    }
    source::MemoryDisk disk;
};

} // namespace

TEST_CASE("a copy stands behind the level, with its comments, sublevels and own names") {
    House house;
    const edit::Copied copied = house.copy("hall", "porch");
    const std::string copy = R"yaml(
  porch:                          # a remark
    waypoints: {door: [0, 0, 0], desk: [9, 0, 0]}
    entries: {front: door}
    arrive: [{mark: porch.front}] # its own entry
    sublevels:
      porch-loft: {memory: {texture: 5}}
      porch-cellar:
        triggers: {t: {when: shown(porch) and ready(porch-cellar), steps: [{show: [porch-loft, yard]}]}}
    # The last one is inside.
)yaml";
    std::string expected = house_levels;
    expected.insert(expected.find("\n  yard:"), copy);
    CHECK(house.disk.files["p/levels/hall.yaml"] == expected);
    CHECK(house.disk.files["p/plan.yaml"] == house_plan);
    CHECK(copied.place == "p/levels/hall.yaml:14");
    CHECK(copied.names ==
          std::vector<std::pair<std::string, std::string>>{
              {"hall", "porch"}, {"hall-loft", "porch-loft"}, {"cellar", "porch-cellar"}});
    Lines places;
    for (const edit::Mention& each : copied.mentions) places.push_back(each.place);
    CHECK(places == Lines{"p/plan.yaml:6:9", "p/plan.yaml:8:20", "p/flow.yaml:1:20",
                          "p/flow.yaml:1:32", "p/flow.yaml:1:63", "p/flow.yaml:1:93"});
}

TEST_CASE("a copy is listed behind the old one in editions, where that is asked for") {
    House house;
    const edit::Copied copied = house.copy("hall", "porch", {"", true});
    CHECK(copied.editions == Lines{"full", "short"});
    std::string expected = house_plan;
    expected.insert(expected.find("\n      - \"yard\""), "\n      - porch");
    expected.insert(expected.find("]}\n", expected.find("short")), ", porch");
    CHECK(house.disk.files["p/plan.yaml"] == expected);
    for (const edit::Mention& each : copied.mentions) CHECK(each.place.starts_with("p/flow.yaml"));
}

TEST_CASE("a copy into another file: one of the plan, or a new one that it includes") {
    House house;
    house.disk.files["p/attic.yaml"] = "levels: {attic: {memory: {texture: 1}}}\n";
    house.disk.files["p/plan.yaml"].replace(house_plan.find("flow.yaml"), 0, "attic.yaml, ");
    CHECK(house.copy("attic", "loft", {"p/flow.yaml", false}).place == "p/flow.yaml:4");
    CHECK(house.disk.files["p/flow.yaml"] ==
          house_flow + "\nlevels:\n  loft: {memory: {texture: 1}}\n");
    CHECK(house.copy("loft", "shed", {"p/levels/hall.yaml", false}).place ==
          "p/levels/hall.yaml:16");
    CHECK(house.disk.files["p/levels/hall.yaml"] ==
          house_levels + "  shed: {memory: {texture: 1}}\n");
    CHECK(house.copy("hall", "porch", {"p/levels/porch.yaml", false}).place ==
          "p/levels/porch.yaml:2");
    CHECK(house.disk.files["p/levels/porch.yaml"].starts_with(
        "levels:\n  porch:                          # a remark\n    waypoints: {door"));
    // An anchor is known in its own file only.
    CHECK(house.refused("yard", "lawn", {"p/flow.yaml", false}).find("no anchor &ways") !=
          std::string::npos);
}

TEST_CASE("what can't be copied is said, and nothing is written") {
    House house;
    CHECK(house.refused("hal", "porch") == "no level is called \"hal\"; did you mean \"hall\"?");
    CHECK(house.refused("hall", "yard") ==
          "p/levels/hall.yaml:14:3: there is a level \"yard\" already");
    CHECK(house.refused("hall", "a.b").find("is no name") != std::string::npos);
    CHECK(house.refused("cellar", "vault", {"p/flow.yaml", false}) ==
          "a sublevel stands with its parent, in the same file");
    CHECK(house.refused("hall", "lawn", {"p/elsewhere.yaml", false}) ==
          "the plan does not include p/elsewhere.yaml: add it to `include:`");
    house.disk.files["p/elsewhere.yaml"] = "levels: {}\n";
    CHECK(house.refused("hall", "lawn", {"p/elsewhere.yaml", false}) ==
          "p/elsewhere.yaml is no part of this plan");
    house.disk.files["p/flow.yaml"] += "levels: {<<: {attic: {memory: {texture: 1}}}}\n";
    CHECK(house.refused("attic", "loft").find("not written out there") != std::string::npos);
    house.disk.files["p/flow.yaml"] = "levels: {broken: [}\n";
    CHECK(house.refused("hall", "porch").find("mend that first") != std::string::npos);
}

TEST_CASE("random levels: nothing differs but the copy, which is walked as the old one") {
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        INFO("seed " << seed);
        const tests::RandomRow row(seed);
        source::MemoryDisk disk;
        disk.files["plan.yaml"] = row.inside() + tests::RandomRow::route("copy", ".");
        const source::Json before = [&] {
            source::MemoryDisk old;
            old.files["plan.yaml"] = row.inside();
            return source::plan_content(old, "plan.yaml", {});
        }();
        disk.files["plan.yaml"] = row.inside();
        disk.write_all(edit::copy_level(disk, "plan.yaml", "hall1", "copy", {}).files);
        const auto changes =
            source::plan_changes(before, source::plan_content(disk, "plan.yaml", {}));
        REQUIRE(changes.size() == 1);
        CHECK(changes.front().path == "levels.copy");

        disk.files["plan.yaml"] += tests::RandomRow::route("copy", ".");
        const source::PlanReading reading = source::read_plan(disk, "plan.yaml");
        REQUIRE_FALSE(reading.has_errors());
        const plan::Plan& plan = reading.plan;
        const auto one = walk::walk(plan, tests::named(plan.routes, "in-hall1"), plan::DeviceId{0});
        const auto other =
            walk::walk(plan, tests::named(plan.routes, "in-copy"), plan::DeviceId{0});
        CHECK(one.end == other.end);
        CHECK(one.peak == other.peak);
        CHECK(one.events.size() == other.events.size());
    }
}
