// Sessions over several machines, in the built program (docs/model.md section 11).

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

/// A hall, and a quay that a switch leads to; each device takes its time for it.
const std::string two_machines = R"(hestrel: 1
name: Lake
devices:
  small: {memory: {total: 900}, read: {rate: 50}, frame: {fps: 100}, spread: {read: 0.1}}
  large: {memory: {total: 900}, read: {rate: 100}, frame: {fps: 100}, spread: {read: 0.1}}
veils: {dusk: {}}
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: c}}
waypoints: {a: [0, 0, 0], b: [20, 0, 0], c: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {run: 5}}}
triggers:
  t: {in: hall, box: {min: [10, -1, -1], max: [11, 1, 1]}, steps: [{switch: {to: quay, veil: dusk}}]}
limits: {others: 1 s}
routes:
  alone: {start: {level: hall}, steps: [{go: b}]}
  together:
    start: {level: hall}
    machines:
      host: {device: large, players: [ada]}
      guest: {device: any, players: [ben], delay: 50 ms}
    network: {delay: 0.3}
    players: {ada: {steps: [{go: b}]}, ben: {steps: [{pause: 1 s}]}}
)";

} // namespace

TEST_CASE("walk: a session has a folder with one for each machine, and says who waits for whom",
          "[program]") {
    const Folder folder;
    folder.write("plan.yaml", two_machines);
    const auto result =
        run(folder, "HESTREL walk plan.yaml --route together --out out --no-figures");
    CHECK(result.code == 1); // the host waits too long for the small device
    CHECK(result.out.find("host (large) with small") != std::string::npos);
    CHECK(result.out.find("guest (large)") != std::string::npos);
    CHECK(result.out.find("worst: over a limit (host), host waits 2.20 s") != std::string::npos);
    std::vector<std::string> files;
    for (const std::string& file : folder.files()) {
        if (file.find("large+small") != std::string::npos) files.push_back(file.substr(4));
    }
    std::vector<std::string> expected;
    for (const std::string machine : {"guest", "host"}) {
        for (const char* table : {"events.csv", "loads.csv", "memory.csv", "transitions.csv"})
            expected.push_back("together--large+small/" + machine + "/" + table);
    }
    expected.push_back("together--large+small/machines.csv");
    CHECK(files == expected);
    // Ada has run 10 m at 3.01: 2 s of reading there, 4 s here, and 50 ms each way.
    CHECK(tests::contents(folder / "out/together--large+small/machines.csv") ==
          "transition,cause,machine,reached_s,ready_s,shown_s,waited_s,waited_for\r\n"
          "1,trigger t,host,3.010000,5.010000,7.120000,2.200000,guest\r\n"
          "1,trigger t,guest,3.060000,7.060000,7.170000,0.000000,\r\n");
    const std::string roles = tests::contents(folder / "out/roles.csv");
    CHECK(roles.find("together,guest,small,,,large+small,over a limit,host,,0.000000,2.200000,host,"
                     "guest\r\n") != std::string::npos);
    const auto findings =
        nlohmann::json::parse(tests::contents(folder / "out/findings.json"))["findings"];
    REQUIRE(findings.size() == 1);
    CHECK(findings[0]["name"] == "waits-for-slowest");
    CHECK(findings[0]["machine"] == "host");

    const auto details = run(
        folder, "HESTREL walk plan.yaml --route together --device small --details --no-figures");
    CHECK(details.out.find("     waits 2.20 s for others, longest for guest\n") !=
          std::string::npos);
    CHECK(details.out.find("     reaches this machine 50 ms later\n") != std::string::npos);
    const auto junit = run(
        folder, "HESTREL walk plan.yaml --device small --findings junit --no-figures --out two");
    CHECK(junit.out.find("tests=\"3\" failures=\"1\"") != std::string::npos);
    CHECK(junit.out.find("together on host (large) with small") != std::string::npos);
}

TEST_CASE("walk: parcels are for one machine; where a session was asked for, that is refused",
          "[program]") {
    const Folder folder;
    folder.write("plan.yaml", two_machines);
    const auto named = run(folder, "HESTREL walk plan.yaml --route together --delivery");
    CHECK(named.code == 2);
    CHECK(named.err.find("together is played on several") != std::string::npos);
    const auto all = run(folder, "HESTREL walk plan.yaml --delivery --no-figures --out out");
    CHECK(all.code == 0);
    CHECK(all.err.find("without together") != std::string::npos);
    CHECK(all.out.find("alone") != std::string::npos);
}

TEST_CASE("spread, advise and compare know sessions", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", two_machines);
    const auto spread = run(folder, "HESTREL spread plan.yaml --route together --device small "
                                    "--trials 40 --no-figures --out spread");
    const std::string trials = tests::contents(folder / "spread/together--large+small/trials.csv");
    CHECK(trials.find("trial,of,seed,read:host,read:guest,delay:guest,") == 0);
    CHECK(spread.out.find("large+small") != std::string::npos);
    const auto again = run(folder, "HESTREL spread plan.yaml --route together --device small "
                                   "--trials 40 --no-figures --jobs 3 --out again");
    CHECK(tests::contents(folder / "again/together--large+small/trials.csv") == trials);

    const auto advise = run(folder, "HESTREL advise plan.yaml --route together --device small");
    CHECK(advise.out.find("host (now)") != std::string::npos);
    CHECK(tests::contents(folder / "hestrel-out/advise/keepers.csv")
              .find("together,large+small,guest,") != std::string::npos);
    // The guest's machine is told at 3.06, knows it at 7.12: the dusk must last 4.11 s.
    CHECK(tests::contents(folder / "hestrel-out/advise/veils.csv")
              .find("dusk,small,trigger t,quay,4.") != std::string::npos);

    const auto compare =
        run(folder, "HESTREL compare plan.yaml --set levels.quay.memory.texture=300");
    CHECK(compare.out.find("host (large) with small") != std::string::npos);
}

TEST_CASE("the page has a section for sessions, and chooses the route, then the machine",
          "[program]") {
    const Folder folder;
    folder.write("plan.yaml", two_machines);
    const auto result = run(folder, "HESTREL report plan.yaml --out page.html");
    CHECK(result.code == 1);
    const std::string page = tests::contents(folder / "page.html");
    CHECK(page.find("<h2>Several machines</h2>") != std::string::npos);
    CHECK(page.find("together: which device in which role") != std::string::npos);
    CHECK(page.find("Who waits for whom") != std::string::npos);
    CHECK(page.find("Machines – Lake, route together") != std::string::npos);
    CHECK(page.find("data-id=\"together--large+small\"") != std::string::npos);
    CHECK(page.find("<h3>together on large+small</h3>") != std::string::npos);
}
