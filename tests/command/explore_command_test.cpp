// hestrel explore as people run it.

#include "bench/large_situations.hpp"
#include "support/figures.hpp"
#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

std::size_t lines_in(const std::string& text) {
    return static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n'));
}

} // namespace

TEST_CASE("explore finds the demo's flaws, and each witness walks into one", "[program]") {
    const Folder folder;
    REQUIRE(
        run(folder, "cp -r " + std::string(HESTREL_SOURCE) + "/examples/glasswater plan").code ==
        0);
    const auto found =
        run(folder, "HESTREL explore plan/glasswater.yaml --edition demo --out out --witness wit");
    CHECK(found.code == 1);
    CHECK(found.err == "all players share one machine here: hestrel walk plays dedicated on "
                       "several\nfiles: out/\n");
    CHECK(found.out.find("edition demo: ") == 0);
    for (const char* name :
         {"over-budget", "nothing-shown-here", "unload-under-player", "fact-left-over", "piles-up"})
        CHECK(found.out.find("[" + std::string(name) + "]") != std::string::npos);
    // Every finding is explained, also to a machine.
    const auto sarif = nlohmann::json::parse(
        run(folder, "HESTREL explore plan/glasswater.yaml --edition demo --findings sarif --out "
                    "out --no-figures")
            .out);
    std::set<std::string> explained;
    for (const auto& rule : sarif["runs"][0]["tool"]["driver"]["rules"])
        if (rule.contains("help")) explained.insert(rule["id"]);
    std::set<std::string> named;
    for (const auto& result : sarif["runs"][0]["results"]) named.insert(result["ruleId"]);
    CHECK(named.contains("over-budget"));
    CHECK(std::includes(explained.begin(), explained.end(), named.begin(), named.end()));
    CHECK(lines_in(tests::contents(folder / "out/demo/places.csv")) > 50);
    CHECK(tests::contents(folder / "out/demo/moves.csv").find("press title.front-desk.begin,") !=
          std::string::npos);
    const auto json = nlohmann::json::parse(tests::contents(folder / "out/demo/explore.json"));
    CHECK(json["complete"] == true);
    CHECK(json["edition"] == "demo");

    // The most that is used during a move is used in the walk of it, to the MiB.
    double bound = 0;
    for (const auto& worst : json["worst"]) {
        if (worst["device"] == "handheld" && worst["budget"] == "total" && worst["when"] == "move")
            bound = std::max(bound, worst["used_mib"].get<double>());
    }
    const auto walked =
        run(folder, "HESTREL walk wit/demo-over-budget-2.yaml --route demo-over-budget-2 --device "
                    "handheld --no-figures --json --format json --out walked");
    CHECK(walked.code == 1);
    const auto record = nlohmann::json::parse(
        tests::contents(folder / "walked/demo-over-budget-2--handheld/walk.json"));
    CHECK(record["peak_mib"].get<double>() == Approx(bound).margin(0.001));
}

TEST_CASE("explore gives the same bytes for any number of jobs", "[program]") {
    const Folder folder;
    std::string plan = bench::ring(9, 9, 2);
    const std::string editions = "{all: {levels: [hall]}}";
    plan.replace(plan.find(editions), editions.size(),
                 "{all: {levels: [hall]}, more: {levels: [hall]}}");
    folder.write("plan.yaml", plan);
    const auto one = run(folder, "HESTREL explore plan.yaml --out one --jobs 1");
    const auto four = run(folder, "HESTREL explore plan.yaml --out four --jobs 4");
    CHECK(one.out.find("edition all: ") == 0);
    CHECK(one.out.find("\nedition more: ") != std::string::npos);
    CHECK(one.out == four.out);
    CHECK(run(folder, "diff -r one four").code == 0);
}

TEST_CASE("explore: cut off, for machines, wrong usage", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", std::string(tests::plain_device) + R"(
levels: {one: {memory: {t: 1}, entries: {in: a}}}
players: {carrier: {speeds: {walk: 2}}}
waypoints: {a: [0, 0, 0], b: [9, 0, 0], c: [18, 0, 0]}
paths: [[a, b], [b, c]]
editions: {small: {levels: [one]}}
)");
    const auto fine = run(folder, "HESTREL explore plan.yaml --out out");
    CHECK(fine.code == 0);
    CHECK(fine.out.find("edition small: 3 situations, 4 moves between them, the farthest 2 moves "
                        "from the start\n") == 0);
    CHECK(fine.out.find("nothing found\n") != std::string::npos);
    CHECK(tests::contents(folder / "out/small/worst.csv") ==
          "device,budget,when,used_mib,budget_mib,moves,levels\r\n"
          "box,total,settled,1.000,10000.000,0,one\r\nbox,total,move,1.000,10000.000,1,one\r\n");

    const auto cut = run(folder, "HESTREL explore plan.yaml --out out --limit 1");
    CHECK(cut.code == 1);
    CHECK(cut.out.find("cut off at a limit: 1 situation not looked at") != std::string::npos);
    CHECK(cut.out.find("\nnobody came to 1 of 3 places: c\n") != std::string::npos);
    CHECK(cut.out.find("never loaded") == std::string::npos); // there is one level
    CHECK(tests::contents(folder / "out/small/covered.csv") ==
          "kind,name,situations,looked_at\r\nplace,a,1,1\r\nplace,b,1,0\r\nplace,c,0,0\r\n"
          "level,one,2,1\r\n");
    const auto sarif = run(folder, "HESTREL explore plan.yaml --out out --findings sarif");
    CHECK(nlohmann::json::parse(sarif.out)["version"] == "2.1.0");
    CHECK(run(folder, "HESTREL explore plan.yaml --memory lots").code == 2);
    CHECK(run(folder, "HESTREL explore plan.yaml --limit few").code == 2);
    CHECK(run(folder, "HESTREL explore plan.yaml --edition smal").err.find("did you mean") !=
          std::string::npos);
    CHECK(run(folder, "HESTREL explore missing.yaml").code == 3);
    folder.write("none.yaml", std::string(tests::plain_device) + "levels: {a: {memory: {t: 1}}}\n");
    const auto nowhere = run(folder, "HESTREL explore none.yaml");
    CHECK(nowhere.code == 2);
    folder.write("crowd.yaml", std::string(tests::plain_device) +
                                   "levels: {a: {memory: {t: 1}}}\neditions: {e: {levels: [a]}}\n"
                                   "players: {many: {count: 40}}\n");
    const auto crowd = run(folder, "HESTREL explore crowd.yaml");
    CHECK(crowd.code == 2);
    CHECK(crowd.err.find("up to 16 players; the plan's counts make 40") != std::string::npos);
    folder.write("empty.yaml", std::string(tests::plain_device) +
                                   "levels: {a: {memory: {t: 1}}}\neditions: {e: {levels: []}}\n");
    CHECK(run(folder, "HESTREL explore empty.yaml").code != 4);
    CHECK(nowhere.err.find("nothing says where a game begins") != std::string::npos);
}

TEST_CASE("explore looks for one situation", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", std::string(tests::plain_device) + R"(
levels: {one: {memory: {t: 1}, entries: {in: a}}, two: {memory: {t: 20}}}
players: {carrier: {speeds: {walk: 2}}}
waypoints: {a: [0, 0, 0], b: [9, 0, 0], c: [18, 0, 0]}
paths: [[a, b], [b, c]]
triggers: {t: {box: {min: [14, 0, -1], max: [15, 1, 1]}, steps: [{show: [two]}]}}
editions: {small: {levels: [one, two]}}
)");
    const auto found =
        run(folder,
            "HESTREL explore plan.yaml --out out --witness wit --toward 'memory > 20 and at(b)'");
    CHECK(found.code == 0);
    CHECK(found.out == "edition small: 3 moves lead to a situation in which memory > 20 and at(b) "
                       "on box holds (4 situations looked for)\n    go b, go c, go b\n"
                       "    wit/small-toward-1.yaml\n");
    const auto json = nlohmann::json::parse(tests::contents(folder / "out/small/toward.json"));
    CHECK(json["found"] == true);
    CHECK(json["way"].size() == 3);
    const auto walked = run(folder, "HESTREL walk wit/small-toward-1.yaml --route small-toward-1 "
                                    "--out walked --no-figures");
    CHECK(walked.code == 0);
    const auto nowhere = run(folder, "HESTREL explore plan.yaml --out out --toward 'memory > 21'");
    CHECK(nowhere.code == 0);
    CHECK(nowhere.out == "edition small: in none of 5 situations memory > 21 holds\n");
    const auto cut =
        run(folder, "HESTREL explore plan.yaml --out out --toward 'memory > 21' --limit 1");
    CHECK(cut.code == 1);
    CHECK(cut.out.find("memory > 21 held in none of 2 situations: cut off at a limit\nnobody came "
                       "to 1 of 3 places: c\n1 of 2 levels were never loaded: two\n") !=
          std::string::npos);
    const auto wrong = run(folder, "HESTREL explore plan.yaml --toward 'shwn(two)'");
    CHECK(wrong.code == 2);
    CHECK(wrong.err.find("--toward: ") != std::string::npos);
    CHECK(run(folder, "HESTREL explore plan.yaml --toward 'memory >'").code == 2);
    CHECK(run(folder, "HESTREL explore plan.yaml --toward ''").code == 2);
    CHECK(run(folder, "HESTREL explore plan.yaml --toward \"it's\"").code == 2);
    CHECK(run(folder, "HESTREL explore plan.yaml --toward 'at(a)' --findings sarif").code == 2);
}

TEST_CASE("explore leaves levels out that stream by distance", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", std::string(tests::plain_device) + R"(
levels:
  one: {memory: {t: 1}, entries: {in: a}}
  two: {memory: {t: 20}, area: [{min: [14, 0, -1], max: [18, 1, 1]}], near: {load: 2, unload: 9}}
players: {carrier: {speeds: {walk: 2}}}
waypoints: {a: [0, 0, 0], b: [9, 0, 0], c: [18, 0, 0]}
paths: [[a, b], [b, c]]
editions: {small: {levels: [one, two]}}
)");
    const auto kept = run(folder, "HESTREL explore plan.yaml --out out");
    CHECK(kept.out.find("edition small: 4 situations") == 0);
    const auto folded = run(folder, "HESTREL explore plan.yaml --out out --fold-near");
    CHECK(folded.out.find("edition small: 3 situations") == 0);
    CHECK(folded.out.find("\n1 level streams by distance and nothing goes by them") !=
          std::string::npos);
    CHECK(folded.out.find("nothing found") != std::string::npos);
    CHECK(tests::contents(folder / "out/small/places.csv") ==
          "place,level,loaded,shown,situations,loaded_in,shown_in\r\n"
          "a,one,always,always,1,1,1\r\nb,one,always,always,1,1,1\r\n"
          "b,two,always,never,1,1,0\r\nc,one,always,always,1,1,1\r\n"
          "c,two,always,always,1,1,1\r\n");
    CHECK(run(folder, "HESTREL explore plan.yaml --out out --fold-near no").out == kept.out);
    CHECK(run(folder, "HESTREL explore plan.yaml --out out --fold-near maybe").code == 2);
}

TEST_CASE("an unhurried route can be written by hand", "[program]") {
    const Folder folder;
    const std::string plan = std::string(tests::plain_device) + R"(
levels:
  one: {memory: {t: 1}, entries: {in: a}}
  two: {memory: {t: 1}}
players: {carrier: {speeds: {walk: 2}}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [10, 0, 10]}
paths: [[a, b], {from: a, to: b, via: [[0, 0, 30]]}, [b, c]]
triggers: {t: {box: {min: [4, 0, -1], max: [5, 1, 1]}, steps: [{wait: 3 s}, {show: [two]}]}}
menus: {m: {in: one, items: {x: {stays: true, steps: []}}, after: {delay: 10 min, steps: [{show: [two]}]}}}
editions: {small: {levels: [one, two]}}
routes:
)";
    const auto took = [&](const std::string& route) {
        folder.write("plan.yaml", plan + route);
        const auto walked = run(folder, "HESTREL walk plan.yaml --no-figures --json --out out");
        INFO(walked.out + walked.err);
        CHECK(walked.code == 0);
        return nlohmann::json::parse(tests::contents(folder / "out/r--box/walk.json"))["end_s"]
            .get<double>();
    };
    const std::string start = "  r: {start: {level: one}, unhurried: true, steps: ";
    // 10 m at 2 m/s, and a wait of 3 s on the way, during which it stands still.
    CHECK(took(start + "[{go: b}]}\n") == Approx(8).margin(0.2));
    // Round by the other path nothing is in the way: 30 m and 31.62 m.
    CHECK(took(start + "[{go: b, along: 1}]}\n") == Approx(30.81).margin(0.2));
    // The delay of ten minutes comes at once.
    CHECK(took(start + "[{after: m}]}\n") < 1);
    // Who has the second turn waits for the first: 5 s and 3 s, then 5 s; both at once, 8 s.
    const std::string two = "  r: {start: {level: one}, unhurried: true, players: {ada: {steps: "
                            "[{go: b, turn: 1}]}, ben: {steps: [{go: b, along: 1, turn: 2}]}}}\n";
    CHECK(took(two) == Approx(8 + 30.81).margin(0.3));

    folder.write("plan.yaml", plan + start + "[{go: c, along: 1}]}\n");
    const auto wrong = run(folder, "HESTREL check plan.yaml");
    CHECK(wrong.code == 1);
    CHECK(wrong.out.find("path 1 does not lead to c") != std::string::npos);
    folder.write("plan.yaml", plan + start + "[{go: b, along: 7}]}\n");
    CHECK(run(folder, "HESTREL check plan.yaml").out.find("there is no path 7") !=
          std::string::npos);
    folder.write("plan.yaml", plan + start + "[{pause: 1 s, along: 1}]}\n");
    CHECK(run(folder, "HESTREL check plan.yaml").out.find("pause takes no along") !=
          std::string::npos);
}

TEST_CASE("explore goes on from what an earlier run has kept, however it was ended", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", bench::switchboard(15));
    const auto explored = [&](const std::string& options) {
        return run(folder, "HESTREL explore plan.yaml --no-figures --force " + options);
    };
    const auto alone = explored("--out alone");
    CHECK(alone.code == 1); // 15 facts are set and never read
    const std::vector<std::string> files = folder.files();
    const auto same = [&](const std::string& out) {
        for (const std::string& name : files) {
            if (!name.starts_with("alone/") || name.ends_with("files.txt")) continue;
            CAPTURE(name);
            CHECK(tests::contents(folder / name) ==
                  tests::contents(folder / (out + name.substr(name.find('/')))));
        }
    };
    // Killed sooner or later; it goes on three times.
    for (const char* seconds : {"0.05", "0.2", "0.4"}) {
        run(folder, std::string("timeout -s KILL ") + seconds +
                        " HESTREL explore plan.yaml --no-figures --force --out killed "
                        "--resume kept 2>/dev/null");
    }
    const auto gone_on = explored("--out gone-on --resume kept");
    CHECK(gone_on.code == alone.code);
    CHECK(gone_on.out == alone.out);
    same("gone-on");
    const auto again = explored("--out again --resume kept --memory 1MiB --jobs 3");
    CHECK(again.out == alone.out);
    CHECK(again.err.find("edition all: 32,768 situations of an earlier run\n") == 0);
    same("again");
    // In less memory, on a disk.
    const auto outside = explored("--out outside --memory 1MiB");
    CHECK(outside.out == alone.out);
    same("outside");
    // Cut off at a limit it goes on with another.
    explored("--out few --limit 1000 --resume few-kept");
    CHECK(explored("--out many --resume few-kept").out == alone.out);

    const std::string other = "kept/all: what is kept there is of another plan, other options or "
                              "another version: choose another folder, or remove it";
    const auto differs = explored("--quit-anywhere --out differs --resume kept");
    CHECK(differs.code == 3);
    CHECK(differs.err.find(other) != std::string::npos);
    folder.write("plan.yaml", bench::switchboard(14));
    CHECK(explored("--out differs --resume kept").err.find(other) != std::string::npos);
    folder.write("plan.yaml", bench::switchboard(15));
    folder.write("kept/all/ways.bin", "no");
    const auto spoilt = explored("--out spoilt --resume kept");
    CHECK(spoilt.code == 3);
    CHECK(spoilt.err.find("kept/all: what is kept there is damaged: remove the folder") !=
          std::string::npos);
    CHECK(explored("--toward f1 --resume kept").code == 2);
    folder.write("file", "");
    CHECK(explored("--resume file").code == 3);
}
