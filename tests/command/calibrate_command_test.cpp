// hestrel calibrate as people run it.

#include "support/program.hpp"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

namespace {

/// 20 pieces read at 50 MiB/s after 10 ms, unpacked at 200 MiB/s, attached in 2 ms and 5 us each.
std::string exact_log() {
    std::string log = "piece,packed,unpacked,objects,read_s,unpack_s,attach_s\r\n";
    for (int i = 1; i <= 20; ++i)
        log += fmt::format("level-{},{},{},{},{:.6f},{:.6f},{:.6f}\r\n", i, 5 * i, 8 * i, 100 * i,
                           0.01 + i * 0.1, i * 0.04, 0.002 + i * 0.0005);
    return log;
}

} // namespace

TEST_CASE("calibrate prints a device, and the plan with it pasted walks", "[program]") {
    const Folder folder;
    folder.write("log.csv", exact_log());
    const auto done = run(folder, "HESTREL calibrate log.csv --name handheld --out out --png");
    CHECK(done.code == 0);
    CHECK(done.err == "files: out/\n");
    const std::string block = "devices:\n"
                              "  handheld:\n"
                              "    read: {rate: 50, latency: 10 ms}\n"
                              "    unpack: {rate: 200}\n"
                              "    attach: {fixed: 2 ms, per-object: 5 us}\n";
    CHECK(done.out.find(block) != std::string::npos);
    CHECK(contents(folder / "out/device.yaml") == block);
    CHECK(std::filesystem::file_size(folder / "out/calibration.png") > 1'000);
    const auto json = nlohmann::json::parse(contents(folder / "out/calibration.json"));
    CHECK(json["read"]["rate"]["value"].get<double>() == Approx(50));
    CHECK(json["attach"]["outliers"].empty());

    // Pasted: what it does not say is added to the device.
    folder.write("plan.yaml", "hestrel: 1\n" + block +
                                  "    memory: {total: 500}\n    frame: {fps: 100}\n"
                                  "levels: {hall: {memory: {t: 80}, packed: 50, objects: 200}}\n"
                                  "routes: {r: {start: {level: hall}, steps: []}}\n");
    const auto walked = run(folder, "HESTREL walk plan.yaml --out walked --no-figures");
    CHECK(walked.code == 0);
    // Read 10 ms + 1 s, unpacked in 0.4 s, then attached (3 ms of work) in one frame.
    CHECK(walked.out.find("1.42") != std::string::npos);
}

TEST_CASE("calibrate names what it leaves out and what it can't tell", "[program]") {
    const Folder folder;
    std::string log = exact_log();
    log += "odd,40,64,700,9.5,0.32,0.0055\r\n";
    folder.write("log.csv", log);
    const auto odd = run(folder, "HESTREL calibrate log.csv --out out --no-figures");
    CHECK(odd.code == 0);
    CHECK(odd.out.find("log.csv:22: read of odd: 9.5 s, where 0.81 s fit the others") !=
          std::string::npos);

    folder.write("same.csv", "piece,packed,read_s\na,5,1\nb,5,1.1\nc,5,1.2\n");
    const auto same = run(folder, "HESTREL calibrate same.csv --out out --no-figures");
    CHECK(same.code == 1);
    CHECK(same.out.find("read: can't be told: all are of the same size") != std::string::npos);
    CHECK(same.out.find("unpack: nothing was measured") != std::string::npos);
    CHECK(same.out.find("devices:") == std::string::npos);
}

TEST_CASE("calibrate: broken logs get a message with line and column", "[program]") {
    const Folder folder;
    const auto said = [&](const std::string& log) {
        folder.write("log.csv", log);
        const auto done = run(folder, "HESTREL calibrate log.csv --out out");
        CHECK(done.code == 1);
        CHECK(done.out.empty());
        return done.err;
    };
    CHECK(said("piece,read_s\na,-1\n").find("log.csv:2:3: error: read_s \"-1\" is negative") == 0);
    CHECK(said("piece,pakced\na,1\n")
              .find("log.csv:1:7: error: a log of loads has no column "
                    "\"pakced\"") == 0);
    CHECK(said("packed\n1\n")
              .find("log.csv:1:1: error: a log of loads needs the column "
                    "\"piece\"") == 0);
    CHECK(said("piece,packed\na\n").find("log.csv:2:1: error: 1 fields under 2 columns") == 0);
    CHECK(said("piece,objects\na,nan\n").find("log.csv:2:3: error: objects \"nan\"") == 0);
    CHECK(run(folder, "HESTREL calibrate none.csv").code == 3);
    CHECK(run(folder, "HESTREL calibrate").code == 2);
    CHECK(run(folder, "HESTREL calibrate log.csv --name 'no name'").code == 2);
    CHECK_FALSE(std::filesystem::exists(folder / "out"));
}

TEST_CASE("calibrate tells how quick makers are, and what was made without a plan", "[program]") {
    const Folder folder;
    std::string log = "piece,make,make_s\n";
    for (int i = 1; i <= 8; ++i) log += fmt::format("moor-{},{},{}\n", i, i, i / 0.8);
    log += "hut,,2.5\nhut,,2.1\n";
    folder.write("log.csv", log);
    const auto done = run(folder, "HESTREL calibrate log.csv --out out --no-figures");
    CHECK(done.code == 0);
    CHECK(done.out.find("    makers: {speed: 0.8}\n") != std::string::npos);
    CHECK(done.out.find("hut   2.1..2.5 s         2\n") != std::string::npos);
    CHECK(contents(folder / "out/made.csv") ==
          "piece,least_s,most_s,measurements\r\nhut,2.100000,2.500000,2\r\n");
    const auto json = nlohmann::json::parse(contents(folder / "out/calibration.json"));
    CHECK(json["make"]["speed"]["value"].get<double>() == Approx(0.8));
    CHECK(json["made"][0]["most_s"] == 2.5);
}
