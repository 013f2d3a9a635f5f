// hestrel spread as people run it.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

TEST_CASE("spread: shards put together give byte for byte what one run gives", "[program]") {
    const Folder folder;
    REQUIRE(
        run(folder, "cp -r " + std::string(HESTREL_SOURCE) + "/examples/glasswater plan").code ==
        0);
    const std::string spread =
        "HESTREL spread plan/glasswater.yaml --route two-carriers --device console ";
    const auto one = run(folder, spread + "--trials 50 --seed 3 --out one --jobs 1");
    CHECK(one.out.find("50 trials, seed 3") == 0);
    CHECK(one.out.find("two-carriers on console:") != std::string::npos);
    for (const char* shard : {"1", "2", "3"})
        run(folder, spread + "--trials 50 --seed 3 --shard " + shard + "/3 --no-figures --quiet " +
                        "--out part" + shard);
    const auto merged = run(folder, spread + "--merge part3 part1 part2 --out merged");
    CHECK(merged.out == one.out);
    CHECK(merged.code == one.code);
    CHECK(run(folder, "diff -r one merged").code == 0);
    CHECK(contents(folder / "one/two-carriers--console/spread.svg").find("<svg") !=
          std::string::npos);
    const auto json = nlohmann::json::parse(contents(folder / "one/spread.json"));
    CHECK(json[0]["trials"] == 50);
    CHECK(json[0]["measures"][0]["name"] == "boot");

    // A shard too few is said.
    const auto missing = run(folder, spread + "--merge part1 part3 --out merged");
    CHECK(missing.code == 1);
    CHECK(missing.err.find("two-carriers--console: trial 16 of 50 is missing") !=
          std::string::npos);
}

TEST_CASE("spread: wrong usage, and a plan in which nothing varies", "[program]") {
    const Folder folder;
    folder.write("plan.yaml",
                 "hestrel: 1\ndevices: {box: {memory: {total: 100}, read: {rate: 100}, frame: "
                 "{fps: 60}}}\nlevels: {hall: {memory: {t: 20}}}\n"
                 "routes: {r: {start: {level: hall}, steps: []}}\n");
    const auto still = run(folder, "HESTREL spread plan.yaml --trials 3 --out out --no-figures");
    CHECK(still.code == 0);
    CHECK(still.out.find("nothing varies") != std::string::npos);
    for (const char* wrong : {"--trials 0", "--shard 3/2", "--shard half", "--trials many"})
        CHECK(run(folder, std::string("HESTREL spread plan.yaml --out out ") + wrong).code == 2);
    CHECK(run(folder, "HESTREL spread plan.yaml --merge nowhere --out out").code == 3);
}
