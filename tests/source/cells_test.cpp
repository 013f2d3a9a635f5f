// Open worlds in cells (docs/model.md section 2): what they expand to, and what can't be.

#include "geometry/ways.hpp"
#include "support/plan_text.hpp"

#include <fmt/format.h>

using namespace hestrel;
using plan::LevelId;
using tests::findings_of;
using tests::Lines;
using tests::named;

namespace {

/// A moor of 3 × 2 cells of 100 × 50 m, one of which is not there.
std::string moor(const std::string& more) {
    return "hestrel: 1\nlevels:\n  moor:\n    memory: {geometry: 8}\n    entries: {gate: start}\n"
           "    waypoints: {start: [-10, 0, 10]}\n"
           "    sublevels: {hut: {memory: {geometry: 3}}}\n"
           "    cells: {corner: [0, 10], size: [100, 50], columns: 3, rows: 2, height: [-2, 30], "
           "without: [[1, 0]]" +
           more +
           "}\n  town: {memory: {geometry: 5}}\n"
           "paths: [[moor.start, moor-0-0.middle]]\n"
           "routes: {r: {start: {level: moor}, steps: []}}\n";
}

plan::Plan moor_with_ways(const std::string& more = "", const std::string& ways = "straight") {
    std::string text = moor(", ways: " + ways + more);
    source::PlanReading reading = tests::read_text(text);
    for (const plan::Finding& each : reading.findings)
        FAIL_CHECK(plan::finding_text(reading.plan, each));
    return std::move(reading.plan);
}

} // namespace

TEST_CASE("cells are sublevels named by column and row, after those that are written out") {
    const plan::Plan plan = moor_with_ways(", each: {memory: {geometry: 12}, provides: [floor]}");
    Lines names;
    for (const plan::Level& level : plan.levels) names.push_back(level.name);
    CHECK(names ==
          Lines{"moor", "hut", "moor-0-0", "moor-2-0", "moor-0-1", "moor-1-1", "moor-2-1", "town"});
    REQUIRE(plan.grids.size() == 1);
    const plan::Grid& grid = plan.grids[plan::GridId{0}];
    CHECK_FALSE(grid.cell(1, 0));
    CHECK(plan.levels[grid.cell(2, 1)].name == "moor-2-1");
    const plan::Level& cell = plan.levels[grid.cell(1, 1)];
    CHECK(cell.parent == named(plan.levels, "moor"));
    CHECK(cell.grid == plan::GridId{0});
    REQUIRE(cell.area.size() == 1);
    CHECK(cell.area[0].min == plan::Vec3{100, -2, 60});
    CHECK(cell.area[0].max == plan::Vec3{200, 30, 110});
    CHECK(cell.content.figures.memory.front().second.high == plan::mebibytes(12));
    // Neighbours share their border.
    CHECK(plan.levels[grid.cell(2, 1)].area[0].min[0] == cell.area[0].max[0]);
}

TEST_CASE("ways lead from the middle of each cell to its neighbours', after all other paths") {
    const auto ways_of = [](const plan::Plan& plan) {
        Lines ways;
        for (const plan::Path& path : plan.paths)
            ways.push_back(plan.waypoints[path.from].name + " " + plan.waypoints[path.to].name);
        return ways;
    };
    const plan::Plan straight = moor_with_ways();
    CHECK(ways_of(straight) ==
          Lines{"moor.start moor-0-0.middle", "moor-0-0.middle moor-0-1.middle",
                "moor-2-0.middle moor-2-1.middle", "moor-0-1.middle moor-1-1.middle",
                "moor-1-1.middle moor-2-1.middle"});
    const auto middle = named(straight.waypoints, "moor-1-1.middle");
    CHECK(straight.waypoints[middle].at == plan::Vec3{150, -2, 85}); // on its floor
    const plan::Plan diagonal = moor_with_ways("", "diagonal");
    CHECK(ways_of(diagonal) ==
          Lines{"moor.start moor-0-0.middle", "moor-0-0.middle moor-0-1.middle",
                "moor-0-0.middle moor-1-1.middle", "moor-2-0.middle moor-2-1.middle",
                "moor-2-0.middle moor-1-1.middle", "moor-0-1.middle moor-1-1.middle",
                "moor-1-1.middle moor-2-1.middle"});
}

TEST_CASE("cells stand where their level's space is, turned with it") {
    std::string text = moor(", ways: straight");
    text.replace(text.find("    memory:"), 0, "    origin: [1000, 5, 0]\n    turn: 90\n");
    source::PlanReading reading = tests::read_text(text);
    REQUIRE(reading.findings.empty());
    const auto middle = named(reading.plan.waypoints, "moor-0-0.middle");
    // [50, -2, 35], a quarter turn counter-clockwise seen from above: [35, -2, -50].
    const plan::Vec3 at = reading.plan.waypoints[middle].at;
    CHECK(at[0] == Approx(1035));
    CHECK(at[1] == Approx(3));
    CHECK(at[2] == Approx(-50));
}

TEST_CASE("a table of sizes can name single cells") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] =
        moor(", ways: straight, each: {memory: {geometry: 12}}") + "sizes: measured.csv\n";
    disk.files["measured.csv"] =
        "piece,device,pool,memory,packed\nmoor-2-0,,geometry,40,\nmoor-1-0,,geometry,40,\n";
    const source::PlanReading reading = source::read_plan(disk, "plan.yaml");
    REQUIRE(reading.findings.size() == 1); // one is a hole
    CHECK(reading.findings[0].message.find("\"moor-1-0\"") != std::string::npos);
    const auto& plan = reading.plan;
    CHECK(plan.levels[named(plan.levels, "moor-2-0")].content.measured.size() == 1);
    CHECK(plan.levels[named(plan.levels, "moor-0-0")].content.measured.empty());
}

TEST_CASE("what cells can't be") {
    const auto said = [](const std::string& cells) {
        const Lines lines = findings_of("hestrel: 1\nlevels:\n  moor:\n    cells: {" + cells +
                                        "}\nroutes: {r: {start: {level: moor}, steps: []}}\n");
        return lines.empty() ? std::string() : lines.front();
    };
    CHECK(said("size: 100, columns: 2, rows: 2").empty());
    CHECK(said("size: 100, columns: 2, rows: 2, without: [[2, 0]]") ==
          "plan.yaml:4:55: error: there is no cell [2, 0]: columns end at 1, and rows at 1 "
          " [wrong-value]");
    CHECK(said("size: 0, columns: 2, rows: 2").find("no size") != std::string::npos);
    CHECK(said("size: -5, columns: 2, rows: 2").find("wrong-value") != std::string::npos);
    CHECK(said("size: [10, 20, 30]").find("[x, z]") != std::string::npos);
    CHECK(said("size: 10, columns: 100000000").find("wrong-value") != std::string::npos);
    CHECK(said("size: 10, height: [5, 1]").find("no inside") != std::string::npos);
    CHECK(said("columns: 2").find("\"size\"") != std::string::npos);
    CHECK(said("size: 10, without: [3]").find("a cell [column, row]") != std::string::npos);
    CHECK(said("size: .nan").find("wrong-value") != std::string::npos);
    CHECK(said("size: 10, each: {near: {load: 5, unload: 1}}").find("nearer") != std::string::npos);
    CHECK(said("size: 10, each: {entries: {}}").find("unknown") != std::string::npos);
    const Lines twice = findings_of("hestrel: 1\nlevels:\n  moor: {cells: {size: 10, height: [0, "
                                    "1]}}\n  moor-0-0: {}\n"
                                    "routes: {r: {start: {level: moor}, steps: []}}\n");
    REQUIRE(twice.size() == 1);
    CHECK(twice[0].find("defined-twice") != std::string::npos);
}

TEST_CASE("cells of two levels that lie on one another are told, once") {
    const auto two = [](int corner) {
        return findings_of(fmt::format(
            "hestrel: 1\nlevels:\n"
            "  moor: {{cells: {{size: 10, columns: 4, rows: 4, height: [0, 5]}}}}\n"
            "  bog: {{cells: {{corner: [{}, 0], size: 7, columns: 4, rows: 4, height: [0, 5]}}}}\n"
            "routes: {{r: {{start: {{level: moor}}, steps: []}}}}\n",
            corner));
    };
    CHECK(two(40).empty()); // side by side
    REQUIRE(two(30).size() == 1);
    CHECK(two(30)[0].find("lie on one another") != std::string::npos);
}
