#include "support/figures.hpp"
#include "support/program.hpp"

using namespace hestrel;
using tests::Folder;
using tests::run;

TEST_CASE("order says which levels ship in which order; written, it proposes nothing more",
          "[program]") {
    const Folder folder;
    REQUIRE(
        run(folder, "cp -r " + std::string(HESTREL_SOURCE) + "/examples/glasswater plan").code ==
        0);
    const std::string before = tests::contents(folder / "plan/glasswater.yaml");
    const auto first = run(folder, "HESTREL order plan/glasswater.yaml --out out");
    CHECK(first.code == 0);
    CHECK(first.err == "files: out/\n");
    CHECK(first.out.find("edition full: 20 levels, first title, last credits") !=
          std::string::npos);
    CHECK(first.out.find("6 moves proposed:\n") != std::string::npos);
    CHECK(first.out.find("position 6 leads to far-shore\n") != std::string::npos);
    CHECK(first.out.find("next from glacier-station leads to mail-tunnel\n") != std::string::npos);
    CHECK(tests::contents(folder / "plan/glasswater.yaml") == before);

    const auto write = run(folder, "HESTREL order plan/glasswater.yaml --out out --write");
    CHECK(write.code == 0);
    CHECK(write.err == "files: out/\nwritten: plan/glasswater.yaml\n");
    const std::string after = tests::contents(folder / "plan/glasswater.yaml");
    // Only the three lines of the list differ.
    std::istringstream old_lines(before);
    std::istringstream new_lines(after);
    std::size_t different = 0;
    std::string one;
    std::string other;
    while (std::getline(old_lines, one) && std::getline(new_lines, other))
        different += one == other ? 0 : 1;
    CHECK(different == 3);
    const auto again = run(folder, "HESTREL order plan/glasswater.yaml --out out --write");
    CHECK(again.out.find("moves proposed") == std::string::npos);
    CHECK(again.err == "files: out/\n");
    CHECK(tests::contents(folder / "plan/glasswater.yaml") == after);
    CHECK(run(folder, "HESTREL check plan/glasswater.yaml").code == 0);
    CHECK(folder.files() ==
          std::vector<std::string>{
              "out/.hestrel-written", "out/demo-positions.csv", "out/demo.csv",
              "out/full-order.svg",   "out/full-positions.csv", "out/full.csv",
              "out/order.json",       "out/parcels.csv",        "out/pieces.csv",
              "out/transitions.csv",  "plan/coast.yaml",        "plan/front-end.yaml",
              "plan/glasswater.yaml", "plan/heights.yaml",      "plan/interiors.yaml",
              "plan/lake.gltf",       "plan/loads.csv",         "plan/measured.csv",
              "plan/play-1.csv",      "plan/play-2.csv",        "plan/play-3.csv",
              "plan/routes.yaml"});
}

TEST_CASE("order: problems found, wrong usage, and machines' forms", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", std::string(tests::plain_device) + R"(
levels: {one: {memory: {t: 1}}, two: {memory: {t: 1}}}
menus: {m: {in: one, items: {on: {steps: [{switch: {to: two}}]}}}}
editions: {small: {levels: [one]}}
routes: {r: {edition: small, start: {level: one}, steps: []}}
)");
    const auto bad = run(folder, "HESTREL order plan.yaml --format csv");
    CHECK(bad.code == 1);
    CHECK(bad.out ==
          "position,level,proposed,first_asked_s,route,device,moves,needs,kits,goes_to,pinned,"
          "reason\r\n0,one,0,0.000000,r,box,0,,,two,no,\r\n");
    const auto text = run(folder, "HESTREL order plan.yaml");
    CHECK(text.out.find("item m.on asks for two, which the edition does not ship") !=
          std::string::npos);
    CHECK(run(folder, "HESTREL order plan.yaml --edition smal").err.find("did you mean") !=
          std::string::npos);
    CHECK(run(folder, "HESTREL order plan.yaml --edition smal").code == 2);
    CHECK(run(folder, "HESTREL order plan.yaml --write --set devices.box.read.rate=50").code == 2);
    CHECK(run(folder, "HESTREL order").code == 2);
    folder.write("none.yaml", std::string(tests::plain_device) + "levels: {a: {memory: {t: 1}}}\n");
    CHECK(run(folder, "HESTREL order none.yaml").code == 2);
}
