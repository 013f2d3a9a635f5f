// hestrel advise and compare as people run them.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

namespace {

void copy_example(const Folder& folder) {
    REQUIRE(
        run(folder, "cp -r " + std::string(HESTREL_SOURCE) + "/examples/glasswater plan").code ==
        0);
}

const std::string shore =
    "hestrel: 1\n"
    "devices: {box: {memory: {total: 1000}, read: {rate: 100}, frame: {fps: 100}}}\n"
    "waypoints: {a: [0, 0, 0], b: [50, 0, 0]}\n"
    "paths: [[a, b]]\n"
    "players: {carrier: {speeds: {run: 5}}}\n"
    "levels:\n"
    "  hall: {memory: {texture: 10}, entries: {door: a}}\n"
    "  quay: {memory: {texture: 300}, area: [{min: [40, -1, -9], max: [60, 5, 9]}]} # large\n"
    "triggers:\n"
    "  approach: {in: hall, box: {min: [30, -1, -5], max: [33, 3, 5]}, steps: [{show: [quay]}]}\n"
    "routes: {r: {start: {level: hall}, steps: [{go: b}]}}\n";

} // namespace

TEST_CASE("advise: says what would mend the plan, and is tried with what it says", "[program]") {
    const Folder folder;
    folder.write("lake.yaml", shore);
    const auto advised = run(folder, "HESTREL advise lake.yaml --out out");
    CHECK(advised.code == 1);
    CHECK(advised.out.find("trigger approach brings quay 1.01 s too late on box") !=
          std::string::npos);
    CHECK(advised.out.find("let trigger approach reach 6 m farther") != std::string::npos);
    CHECK(advised.out.find("1.01 s × 5 m/s = 5.0 m") != std::string::npos);
    const auto json = nlohmann::json::parse(contents(folder / "out/advice.json"));
    const auto& first = json["advice"][0];
    CHECK(first["kind"] == "deepen");
    CHECK(first["amount"] == 6);
    const std::string set = first["set"][0];
    CHECK(set == "triggers.approach.box={min: [24, -1, -5], max: [33, 3, 5]}");
    CHECK(run(folder, "HESTREL walk lake.yaml --no-figures").code == 1);
    CHECK(run(folder, "HESTREL walk lake.yaml --no-figures --set '" + set + "'").code == 0);
    CHECK(contents(folder / "out/loads.csv").find("cause,level,device,read_mib") == 0);
    CHECK(contents(folder / "out/advice.csv").find("1,deepen,trigger approach,quay,6,m,") !=
          std::string::npos);
    // What is tried is what is advised on.
    CHECK(run(folder, "HESTREL advise lake.yaml --set '" + set + "'").code == 0);
    // The same on any number of jobs.
    run(folder, "HESTREL advise lake.yaml --out one --jobs 1");
    run(folder, "HESTREL advise lake.yaml --out three --jobs 3");
    CHECK(run(folder, "diff -r one three").code == 0);
}

TEST_CASE("advise: every piece of advice can be applied, and nothing is overwritten", "[program]") {
    const Folder folder;
    folder.write("lake.yaml", shore);
    const auto json =
        nlohmann::json::parse(run(folder, "HESTREL advise lake.yaml --format json").out);
    REQUIRE(json["advice"].size() == 5);
    for (std::size_t i = 1; i <= json["advice"].size(); ++i) {
        const std::string number = std::to_string(i);
        const auto applied =
            run(folder, "HESTREL advise lake.yaml --apply " + number + " > new.yaml");
        CAPTURE(json["advice"][i - 1].dump());
        CHECK(applied.code == 0);
        CHECK(contents(folder / "new.yaml").find("# large") != std::string::npos);
        CHECK(run(folder, "HESTREL walk new.yaml --no-figures").code == 0);
    }
    CHECK(contents(folder / "lake.yaml") == shore);
    CHECK(run(folder, "HESTREL advise lake.yaml --apply 6").code == 2);
    CHECK(run(folder, "HESTREL advise lake.yaml --apply 0").code == 2);
    CHECK(run(folder, "HESTREL advise lake.yaml --apply 1 --set levels.quay.packed=3").code == 2);
}

TEST_CASE("advise: a demo plan of several files", "[program]") {
    const Folder folder;
    copy_example(folder);
    // A veil of its own stands in another file than the list that raises it.
    const auto several = run(folder, "HESTREL advise plan/glasswater.yaml --apply 2 --quiet");
    CHECK(several.code == 0);
    CHECK(several.out.starts_with("# --- plan/glasswater.yaml\n"));
    CHECK(several.out.find("\n# --- plan/coast.yaml\n") != std::string::npos);
    // The first: the stair's trigger, in coast.yaml, whose comments stay.
    run(folder, "HESTREL advise plan/glasswater.yaml --apply 1 > coast.yaml");
    REQUIRE(run(folder, "mv coast.yaml plan/coast.yaml").code == 0);
    CHECK(contents(folder / "plan/coast.yaml").find("# 6 m before the keeper's door") !=
          std::string::npos);
    const auto walk = run(folder, "HESTREL walk plan/glasswater.yaml --no-figures --route "
                                  "hurried-round --device handheld");
    CHECK(walk.out.find("stood-in-gap") == std::string::npos);
}

TEST_CASE("compare: one plan with a value set, two plans, and figures that were kept",
          "[program]") {
    const Folder folder;
    folder.write("lake.yaml", shore);
    std::string better = shore;
    better.replace(better.find("min: [30"), 8, "min: [20");
    folder.write("better.yaml", better);

    const auto gain = run(folder, "HESTREL compare lake.yaml better.yaml --out gain");
    CHECK(gain.code == 0);
    CHECK(gain.out.find("triggers.approach.box.min: [30, -1, -5] → [20, -1, -5]") !=
          std::string::npos);
    CHECK(gain.out.find("late    fine") != std::string::npos);
    CHECK(gain.out.find("stood-in-gap of trigger approach (r, box)") != std::string::npos);
    const auto loss = run(folder, "HESTREL compare better.yaml lake.yaml --out loss");
    CHECK(loss.code == 1);
    CHECK(contents(folder / "loss/differences.csv")
              .find("worse,figure,slack,trigger approach: quay,r,box,0.990000,-1.010000") !=
          std::string::npos);

    const auto slower = run(folder, "HESTREL compare better.yaml --set devices.box.read.rate=98");
    CHECK(slower.code == 1);
    CHECK(slower.out.find("devices.box.read.rate: 100 → 98") != std::string::npos);
    const std::string same = "HESTREL compare better.yaml --set devices.box.read.rate=98 ";
    CHECK(run(folder, same + "--tolerance 10%").code == 0);
    CHECK(run(folder, same + "--tolerance 1%").code == 1);
    CHECK(run(folder, same + "--tolerance '80 ms'").code == 0);
    CHECK(run(folder, same + "--tolerance 20ms").code == 1);
    CHECK(run(folder, same + "--tolerance soon").code == 2);

    CHECK(run(folder, "HESTREL compare better.yaml --keep kept.json").code == 0);
    const auto still = run(folder, "HESTREL compare better.yaml --baseline kept.json");
    CHECK(still.code == 0);
    CHECK(still.out.find("nothing differs") != std::string::npos);
    const auto worse = run(folder, "HESTREL compare lake.yaml --baseline kept.json --format json");
    CHECK(worse.code == 1);
    const auto json = nlohmann::json::parse(worse.out);
    CHECK(json["worse"] == true);
    CHECK(json["plan"][0]["path"] == "triggers.approach.box.min");
    CHECK(json["verdicts"][0]["after"] == "late");

    const auto markdown = run(folder, "HESTREL compare better.yaml lake.yaml --format markdown");
    CHECK(markdown.out.find("## lake.yaml: **worse**") == 0);
    CHECK(markdown.out.find(
              "| slack | trigger approach: quay | r | box | 990 ms | -1.01 s | -2.00 s |") !=
          std::string::npos);
}

TEST_CASE("compare: wrong usage and files that are none", "[program]") {
    const Folder folder;
    folder.write("lake.yaml", shore);
    folder.write("none.json", "{\"figures\": []}");
    for (const char* wrong :
         {"", "lake.yaml --route nowhere --set levels.hall.persist=true",
          "lake.yaml --device none --set levels.hall.persist=true", "--set a=b lake.yaml lake.yaml",
          "lake.yaml lake.yaml --baseline none.json", "lake.yaml --tolerance 5",
          "lake.yaml lake.yaml --format xml"}) {
        CAPTURE(wrong);
        CHECK(run(folder, std::string("HESTREL compare ") + wrong).code == 2);
    }
    const auto none = run(folder, "HESTREL compare lake.yaml --baseline none.json");
    CHECK(none.code == 3);
    CHECK(none.err.find("none.json: this is no file of figures") != std::string::npos);
    CHECK(run(folder, "HESTREL compare lake.yaml --baseline missing.json").code == 3);
    CHECK(run(folder, "HESTREL compare lake.yaml missing.yaml").code == 3);
    // What is no file is not replaced by one, and nobody waits for a reader of it.
    REQUIRE(run(folder, "mkfifo pipe").code == 0);
    const auto pipe = run(folder, "HESTREL compare lake.yaml --keep pipe");
    CHECK(pipe.code == 3);
    CHECK(pipe.err.find("pipe: cannot be written: No such device") != std::string::npos);
    CHECK(run(folder, "test -p pipe").code == 0);
    const auto broken = run(folder, "HESTREL compare lake.yaml --set levels.hall.colour=red");
    CHECK(broken.code == 1);
    CHECK(broken.err.find("unknown-key") != std::string::npos);
}
