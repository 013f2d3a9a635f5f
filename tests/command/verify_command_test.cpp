// hestrel verify as people run it.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

namespace {

/// A folder with the example in it.
Folder& with_example(Folder& folder) {
    std::filesystem::copy(HESTREL_SOURCE "/examples/glasswater", folder / "plan");
    return folder;
}

constexpr const char* on_handheld = "HESTREL verify plan/glasswater.yaml --device handheld ";

} // namespace

TEST_CASE("verify: the example's plays, as planned and not", "[program]") {
    Folder folder;
    with_example(folder);
    const auto fine = run(folder, std::string(on_handheld) +
                                      "plan/play-1.csv plan/play-2.csv --out out --no-figures");
    CHECK(fine.code == 0);
    CHECK(fine.out.find("nothing found") != std::string::npos);
    const auto off = run(folder, std::string(on_handheld) +
                                     "plan/play-3.csv --out out --force --calibrate --sizes");
    CHECK(off.code == 1);
    CHECK(off.out.find("coast.yaml:36:7: error: trigger quay.keeper-stair did not fire between") !=
          std::string::npos);
    CHECK(off.out.find("[later-than-planned]") != std::string::npos);
    CHECK(off.out.find("[unplanned-firing]") == std::string::npos);
    CHECK(off.out.find("read.rate") != std::string::npos);
    for (const char* name : {"plays.csv", "firings.csv", "events.csv", "memory.csv", "loads.csv",
                             "sizes.csv", "findings.json", "verify.svg"})
        CHECK(std::filesystem::exists(folder / (std::string("out/") + name)));
    // What calibrating says explains the log: with it the loads are as planned.
    const auto at = off.out.find("read: {rate: ");
    REQUIRE(at != std::string::npos);
    const double rate = std::stod(off.out.substr(at + 13));
    CHECK(rate == Approx(52).epsilon(0.05));
}

TEST_CASE("verify: a walk's own events, and its findings for machines", "[program]") {
    Folder folder;
    with_example(folder);
    CHECK(run(folder, "HESTREL walk plan/glasswater.yaml --route first-round --device console "
                      "--no-figures --out walk")
              .code == 0);
    const std::string verify = "HESTREL verify plan/glasswater.yaml "
                               "walk/first-round--console/events.csv --device console --out out "
                               "--no-figures --findings ";
    const auto sarif = run(folder, verify + "sarif");
    CHECK(sarif.code == 0);
    CHECK(nlohmann::json::parse(sarif.out)["runs"][0]["results"].empty());
    const auto junit = run(folder, verify + "junit --force");
    CHECK(junit.out.find("load-missing") != std::string::npos);
    CHECK(junit.out.find("<failure") == std::string::npos);
}

TEST_CASE("verify: what can't be read or is not said gets one message", "[program]") {
    Folder folder;
    with_example(folder);
    folder.write("log.csv", "time_s,event\nsoon,shown\n");
    const auto broken = run(folder, std::string(on_handheld) + "log.csv --out out");
    CHECK(broken.code == 1);
    CHECK(broken.err == "log.csv:2:1: error: time_s \"soon\" is not a number\n");
    CHECK_FALSE(std::filesystem::exists(folder / "out"));
    CHECK(run(folder, std::string(on_handheld) + "none.csv").code == 3);
    CHECK(run(folder, std::string(on_handheld) + "plan").code == 3);
    CHECK(run(folder, "HESTREL verify plan/glasswater.yaml").code == 2);
    CHECK(run(folder, "HESTREL verify plan/glasswater.yaml plan/play-1.csv").code == 2);
    const auto tolerance =
        run(folder, std::string(on_handheld) + "plan/play-1.csv --tolerance ten");
    CHECK(tolerance.code == 2);
    CHECK(tolerance.err.find("--tolerance \"ten\"") != std::string::npos);
}
