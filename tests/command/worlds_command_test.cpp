// An open world in cells as people see it: one row, whatever the command.

#include "support/program.hpp"

#include <string>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

namespace {

/// Eight by eight cells that come near by day, one of which is not there, and a way through.
const std::string moor = R"(hestrel: 1
devices: {box: {memory: {total: 900, base: 100}, read: {rate: 100}, frame: {fps: 60}}}
facts: {day: {initial: true}}
levels:
  moor:
    memory: {ground: 2}
    cells:
      size: 100
      columns: 8
      rows: 8
      height: [0, 20]
      each: {memory: {ground: 10}, near: {load: 90, unload: 120, when: day}}
      without: [[7, 7]]
      ways: straight
players: {carrier: {speeds: {run: 10}}}
routes: {through: {start: {level: moor, waypoint: moor-0-0.middle}, steps: [{go: moor-3-0.middle}]}}
)";

bool says(const std::string& text, const std::string& what) {
    return text.find(what) != std::string::npos;
}

} // namespace

TEST_CASE("a world of cells is one row in every table, figure and list", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", moor);
    CHECK(run(folder, "HESTREL check plan.yaml").out == "nothing found\n");

    const auto walked = run(folder, "HESTREL walk plan.yaml --out out");
    CHECK(says(walked.out, "near cells"));
    CHECK(says(walked.out, "moor: 10 of 63 cells"));
    CHECK_FALSE(says(walked.out, "moor-1-0 "));
    for (const std::string figure : {"loads", "residency", "map"}) {
        CAPTURE(figure);
        const std::string svg = contents(folder / ("out/through--box/" + figure + ".svg"));
        CHECK(says(svg, "moor: 10 of 63 cells"));
        CHECK_FALSE(says(svg, "moor-1-0"));
    }
    CHECK(says(contents(folder / "out/flow.svg"), "moor: 63 cells"));
    // Machines are told of each.
    CHECK(says(contents(folder / "out/through--box/loads.csv"), ",moor-1-0,level,"));

    const auto list = run(folder, "HESTREL show plan.yaml --list levels --format csv");
    CHECK(list.out == "level,parent,owner,editions,box_mib,box_with_kits_mib\r\n"
                      "moor,,,,2.000,2.000\r\n"
                      "moor: 63 cells,moor,,,630.000,630.000\r\n");
    CHECK(says(run(folder, "HESTREL show plan.yaml moor").out,
               "moor: 63 cells, in 8 columns by 8 rows, of 100 by 100 m"));
    CHECK(says(run(folder, "HESTREL show plan.yaml moor-3-7").out,
               "column 3, row 7 of moor: 63 cells"));
    CHECK(run(folder, "HESTREL show plan.yaml moor-7-7").code == 2);

    const auto advised = run(folder, "HESTREL advise plan.yaml --out out");
    CHECK(says(advised.out, "near cells"));
    CHECK_FALSE(says(advised.out, "near moor-2-0 "));

    const auto explored =
        run(folder, "HESTREL explore plan.yaml --limit 60 --out out --no-figures --format json");
    CHECK(says(explored.out, "\"situations\""));
    CHECK(run(folder, "HESTREL play plan.yaml < /dev/null").code == 0);
}

TEST_CASE("what is so of every cell is told once, and allowed on the level that has them",
          "[program]") {
    const Folder folder;
    std::string text = moor;
    const std::string near = ", near: {load: 90, unload: 120, when: day}";
    text.replace(text.find(near), near.size(), "");
    folder.write("plan.yaml", text);
    const auto told = run(folder, "HESTREL check plan.yaml");
    CHECK(says(told.out, "nothing uses the level moor-0-0; so it is of 62 cells more"));
    CHECK_FALSE(says(told.out, "moor-1-0"));
    text.replace(text.find("    cells:"), 0,
                 "    allow: {unused-definition: for the next patch}\n");
    folder.write("plan.yaml", text);
    CHECK_FALSE(says(run(folder, "HESTREL check plan.yaml").out, "moor-0-0"));
}
