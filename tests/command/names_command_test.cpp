// hestrel new, schema and rename on files: what they print and write, and exit codes.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

TEST_CASE("new writes a plan that checks clean and walks, and never replaces a file", "[program]") {
    const Folder folder;
    const auto made = run(folder, "HESTREL new lake");
    CHECK(made.code == 0);
    CHECK(made.out.starts_with("lake/plan.yaml is yours."));
    CHECK(folder.files() == std::vector<std::string>{"lake/plan.schema.json", "lake/plan.yaml"});
    const auto checked = run(folder, "HESTREL check lake/plan.yaml");
    CHECK(checked.code == 0);
    CHECK(checked.out == "nothing found\n");
    const auto walked = run(folder, "HESTREL walk lake/plan.yaml --no-figures --out out");
    CHECK(walked.code == 0);
    CHECK(walked.out.find("fine") != std::string::npos);
    folder.write("lake/plan.yaml", "mine");
    const auto again = run(folder, "HESTREL new lake");
    CHECK(again.code == 3);
    CHECK(again.err == "hestrel: lake/plan.yaml: is there already; nothing was written\n");
    CHECK(contents(folder / "lake/plan.yaml") == "mine");
    CHECK(run(folder, "HESTREL new").code == 2);
    CHECK(run(folder, "HESTREL new lake/plan.yaml/below").code == 3);
}

TEST_CASE("new --levels writes a row of levels, a file each, that checks clean and walks",
          "[program]") {
    const Folder folder;
    CHECK(run(folder, "HESTREL new game --levels title,hall,yard").code == 0);
    CHECK(folder.files() == std::vector<std::string>{"game/levels/hall.yaml",
                                                     "game/levels/title.yaml",
                                                     "game/levels/yard.yaml",
                                                     "game/plan.schema.json", "game/plan.yaml"});
    CHECK(run(folder, "HESTREL check game/plan.yaml").out == "nothing found\n");
    const auto walked = run(folder, "HESTREL walk game/plan.yaml --no-figures --out out");
    CHECK(walked.code == 0);
    CHECK(walked.out.find("fine") != std::string::npos);
    CHECK(run(folder, "HESTREL explore game/plan.yaml --no-figures --out out2").code == 0);
    CHECK(run(folder, "HESTREL copy game/plan.yaml hall attic --into game/levels/attic.yaml --also "
                      "editions")
              .code == 0);
    CHECK(run(folder, "HESTREL check game/plan.yaml").out == "nothing found\n");
    CHECK(run(folder, "HESTREL new game --levels a,b").code == 3);
    CHECK(run(folder, "HESTREL new other --levels a,,b").code == 2);
    CHECK(run(folder, "HESTREL new other --levels a,b,a").code == 2);
    CHECK(run(folder, "HESTREL new one --levels alone").code == 0);
    CHECK(run(folder, "HESTREL check one/plan.yaml").out == "nothing found\n");
}

TEST_CASE("demo never replaces a plan that has been edited", "[program]") {
    const Folder folder;
    folder.write("demo/plan/coast.yaml", "mine");
    const auto result = run(folder, "HESTREL demo demo");
    CHECK(result.code == 3);
    CHECK(result.err == "hestrel: demo/plan/coast.yaml: is not the example's any more; nothing was "
                        "replaced: name another folder\n");
    CHECK(folder.files() == std::vector<std::string>{"demo/plan/coast.yaml"});
    CHECK(contents(folder / "demo/plan/coast.yaml") == "mine");
}

TEST_CASE("schema prints the schema, or writes it whole", "[program]") {
    const Folder folder;
    const auto printed = run(folder, "HESTREL schema");
    CHECK(printed.code == 0);
    CHECK(nlohmann::json::parse(printed.out)["properties"].contains("levels"));
    CHECK(run(folder, "HESTREL schema --out plan.schema.json").code == 0);
    CHECK(contents(folder / "plan.schema.json") == printed.out);
    CHECK(run(folder, "HESTREL schema --markdown").out.starts_with("### plan\n"));
    CHECK(run(folder, "HESTREL schema --xml").code == 2);
    CHECK(run(folder, "HESTREL schema >/dev/full").code == 3);
}

TEST_CASE("copy writes a level again, into a new file too, and all files or none", "[program]") {
    const Folder folder;
    const std::string main = "hestrel: 1\ninclude: [levels/*.yaml]\neditions: {full: {levels: "
                             "[quay]}}\nroutes: {r: {steps: []}}\n";
    const std::string quay = "levels:\n  quay: # here\n    memory: {texture: 5}\n";
    folder.write("plan.yaml", main);
    folder.write("levels/quay.yaml", quay);
    const auto dry = run(folder, "HESTREL copy plan.yaml quay pier --dry-run");
    CHECK(dry.code == 0);
    CHECK(dry.out ==
          "  pier: # here\n    memory: {texture: 5}\n\nlevels/quay.yaml:4: pier would be "
          "a copy of quay (nothing was changed)\n\nwhat names quay                    "
          " where\neditions: {full: {levels: [quay]}}  plan.yaml:3:28\n");
    CHECK(contents(folder / "levels/quay.yaml") == quay);
    const auto copied =
        run(folder, "HESTREL copy plan.yaml quay pier --into levels/pier.yaml --also editions");
    CHECK(copied.code == 0);
    CHECK(copied.out == "levels/pier.yaml:2: pier is a copy of quay\nListed in: full.\n");
    CHECK(contents(folder / "levels/pier.yaml") ==
          "levels:\n  pier: # here\n    memory: {texture: 5}\n");
    CHECK(contents(folder / "plan.yaml").find("[quay, pier]") != std::string::npos);
    CHECK(run(folder, "HESTREL copy plan.yaml quay pier").code == 1);
    CHECK(run(folder, "HESTREL copy plan.yaml quay jetty --also parcels").code == 2);
    CHECK(run(folder, "HESTREL copy none.yaml quay jetty").code == 3);
}

TEST_CASE("rename changes all files of a plan; --dry-run shows the lines and changes none",
          "[program]") {
    const Folder folder;
    const std::string plan = "hestrel: 1 # quay\ninclude: [coast.yaml]\nroutes: {r: {start: "
                             "{level: quay}, steps: []}}\n";
    const std::string coast = "levels:\n  quay: {memory: {texture: 1}}\n";
    folder.write("plan.yaml", plan);
    folder.write("coast.yaml", coast);
    const auto dry = run(folder, "HESTREL rename plan.yaml quay pier --dry-run");
    CHECK(dry.code == 0);
    CHECK(dry.out == "plan.yaml:3\n"
                     "- routes: {r: {start: {level: quay}, steps: []}}\n"
                     "+ routes: {r: {start: {level: pier}, steps: []}}\n"
                     "coast.yaml:2\n"
                     "-   quay: {memory: {texture: 1}}\n"
                     "+   pier: {memory: {texture: 1}}\n"
                     "level quay would be pier: 2 places in 2 files (nothing was changed)\n");
    CHECK(contents(folder / "plan.yaml") == plan);
    const auto done = run(folder, "HESTREL rename plan.yaml quay pier");
    CHECK(done.code == 0);
    CHECK(done.out == "level quay is now pier: 2 places in 2 files\n");
    CHECK(contents(folder / "plan.yaml").starts_with("hestrel: 1 # quay\n"));
    CHECK(contents(folder / "coast.yaml") == "levels:\n  pier: {memory: {texture: 1}}\n");
    CHECK(folder.files() == std::vector<std::string>{"coast.yaml", "plan.yaml"});
    CHECK(run(folder, "HESTREL check plan.yaml").code == 0);

    const auto refused = run(folder, "HESTREL rename plan.yaml quay x");
    CHECK(refused.code == 1);
    CHECK(refused.err == "hestrel: nothing is called \"quay\"\n");
    CHECK(run(folder, "HESTREL rename plan.yaml quay").code == 2);
    CHECK(run(folder, "HESTREL rename nowhere.yaml a b").code == 3);
}

TEST_CASE("rename changes no file where one can't be written", "[program]") {
    const Folder folder;
    const std::string plan =
        "hestrel: 1\ninclude: [sub/coast.yaml]\nroutes: {r: {start: {level: quay}, steps: []}}\n";
    folder.write("plan.yaml", plan);
    folder.write("sub/coast.yaml", "levels: {quay: {memory: {texture: 1}}}\n");
    // A folder in the way of the file that is written beside: it takes the program's own number.
    const auto failed =
        run(folder, "(ulimit -f 0; trap '' XFSZ; HESTREL rename plan.yaml quay pier)");
    CHECK(failed.code == 3);
    CHECK(contents(folder / "plan.yaml") == plan);
    CHECK(folder.files() == std::vector<std::string>{"plan.yaml", "sub/coast.yaml"});
}
