// Rubbish, hostile names and a machine in a bad state: one clear message, the right exit code, and
// nothing that a terminal or a reader would act on.

#include "support/checked.hpp"
#include "support/program.hpp"

#include <cstring>
#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

namespace {

bool contains(const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
}

/// A folder with `tests::clean` as plan.yaml, the first `from` replaced.
struct PlanFolder : Folder {
    explicit PlanFolder(const std::string& from = "hestrel: 1",
                        const std::string& to = "hestrel: 1") {
        write("plan.yaml", tests::with(from, to));
    }
};

} // namespace

TEST_CASE("rubbish: a frame that attaches nothing is said, and divides nothing by 0", "[program]") {
    const PlanFolder folder("frame: {fps: 30}", "frame: {fps: 30, attach: 0, veiled-attach: 0}");
    const auto result = run(folder, "HESTREL check plan.yaml");
    CHECK(result.code == 1);
    CHECK(result.out ==
          "plan.yaml:2:114: error: attach of 0 never attaches anything  [wrong-value]\n"
          "plan.yaml:2:132: error: veiled-attach of 0 never attaches anything  [wrong-value]\n"
          "2 errors\nRules about what the plan lacks wait until it can be read whole.\n");
}

TEST_CASE("rubbish: spread of a plan without routes is refused", "[program]") {
    const PlanFolder folder("routes: {r: {start: {level: hall}, steps: []}}\n", "");
    const auto result = run(folder, "HESTREL spread plan.yaml");
    CHECK(result.code == 2);
    CHECK(result.err == "hestrel: plan.yaml has no routes to walk\n");
}

TEST_CASE("rubbish: a share of more shards than there can be trials is refused", "[program]") {
    const PlanFolder folder;
    const auto result = run(folder, "HESTREL spread plan.yaml --shard 1/18446744073709551615");
    CHECK(result.code == 2);
    CHECK(contains(result.err, "--shard: expected a share such as 2/8"));
}

TEST_CASE("rubbish: measured times that no machine takes are refused, and no figure overflows",
          "[program]") {
    const Folder folder;
    folder.write("log.csv", "piece,packed,read_s\na,10,1e308\nb,20,1e308\nc,30,2e308\nd,40,1\n");
    const auto result = run(folder, "HESTREL calibrate log.csv --out out");
    CHECK(result.code == 1);
    CHECK(contains(result.err, "log.csv:2:6: error: read_s \"1e308\" is more than 10000000 s\n"));
    CHECK_FALSE(contains(result.out + result.err, "nan"));
}

TEST_CASE("rubbish: what aliases expand to is nested no deeper than what is written", "[program]") {
    const PlanFolder folder;
    std::string deep = "hestrel: 1\nlimits:\n  - &a0 []\n";
    for (int i = 1; i < 3000; ++i)
        deep += fmt::format("  - &a{} {}*a{}{}\n", i, std::string(60, '['), i - 1,
                            std::string(60, ']'));
    folder.write("deep.yaml", deep);
    for (const char* line : {"check deep.yaml", "compare deep.yaml plan.yaml",
                             "rename deep.yaml a b", "walk deep.yaml"}) {
        const auto result = run(folder, std::string("HESTREL ") + line);
        CAPTURE(line, result.err);
        CHECK((result.code == 1 || result.code == 3));
        CHECK(contains(result.out + result.err,
                       "with what &a1 stands for this is nested deeper than a plan can be"));
    }
}

TEST_CASE("rubbish: names of files that are not UTF-8 stand in JSON and XML as far as they can",
          "[program]") {
    const Folder folder;
    folder.write("p\xFFq.yaml", tests::with("[quay]}]}\n  u", "[quay]}], nope: 1}\n  u"));
    const auto sarif = run(folder, "HESTREL check p*q.yaml --findings json");
    CHECK(sarif.code == 1);
    const auto json = nlohmann::json::parse(sarif.out);
    CHECK(json["findings"][0]["file"] == "p\xEF\xBF\xBDq.yaml");
    const auto text = run(folder, "HESTREL check p*q.yaml");
    CHECK(contains(text.out, "p\\xffq.yaml:13:"));
}

TEST_CASE("rubbish: JSON nested 200,000 deep is refused, wherever it is read", "[program]") {
    const PlanFolder folder("hestrel: 1",
                            "hestrel: 1\nfacts: {round: {initial: 0, lifetime: saved}}");
    const std::string deep = std::string(200'000, '[') + std::string(200'000, ']');
    for (const std::string& text :
         {deep, "{\"facts\": " + deep + "}", "{\"facts\": {\"round\": " + deep + "}}",
          "{\"checkpoint\": " + deep + "}", "{\"hestrel_figures\": 1, \"values\": " + deep + "}",
          std::string(200'000, '[')}) {
        folder.write("deep.json", text);
        for (const char* line :
             {"walk plan.yaml --route r --device d --no-figures --saved deep.json",
              "compare plan.yaml --baseline deep.json --no-figures"}) {
            const auto result = run(folder, fmt::format("HESTREL {}", line));
            CHECK(result.code == 3);
            CHECK(result.err.starts_with("hestrel: deep.json: "));
            CHECK(result.err.size() < 300);
        }
    }
}

TEST_CASE("rubbish: what is no UTF-8 is refused or told, in logs, tables, shards and values",
          "[program]") {
    const PlanFolder folder("hestrel: 1", "hestrel: 1\nsizes: [sizes.csv]");
    const auto says = [&](const std::string& line, int code, const std::string& told) {
        CAPTURE(line);
        const auto result = run(folder, "HESTREL " + line + " --no-figures --force");
        CHECK(result.code == code);
        CHECK_THAT(result.err + result.out, Catch::Matchers::Contains(told));
        CHECK_FALSE(contains(result.err + result.out, "\xff"));
    };
    folder.write("sizes.csv", "piece,pool,memory\nhall,tex\xffture,100\n");
    says("check plan.yaml", 1, R"(sizes.csv:2:6: error: "tex\xffture" is no pool)");
    folder.write("sizes.csv", "piece,pool,memory\nhall,texture,100\n");
    // What a piece is called is nobody's business but the log's.
    folder.write("log.csv", "piece,packed,read_s\na\xff,10,1\nb,20,2\nc,30,9\nd,40,4\ne,50,5\n");
    says("calibrate log.csv", 0, "read.rate");
    CHECK(nlohmann::json::accept(contents(folder / "hestrel-out/calibrate/calibration.json")));
    REQUIRE(run(folder, "HESTREL spread plan.yaml --trials 4 --out s --no-figures").code == 0);
    folder.write("s/r--d/trials.csv", "trial,of,seed,boot_us,\xff\n");
    says("spread plan.yaml --merge s --out t", 1, "not the trials of this plan, route and device");
    says("check plan.yaml --set \"$(printf 'name=\\377')\"", 1, "invalid leading UTF-8 octet");
    says("walk plan.yaml --set \"$(printf 'levels.\\377.packed=3')\"", 1,
         R"(there is no "\xff" at levels)");
}

TEST_CASE("rubbish: a shard with nothing but its header is refused", "[program]") {
    const PlanFolder folder;
    REQUIRE(run(folder, "HESTREL spread plan.yaml --trials 4 --out s --no-figures").code == 0);
    const std::string csv = contents(folder / "s/r--d/trials.csv");
    folder.write("s/r--d/trials.csv", csv.substr(0, csv.find('\n') + 1));
    const auto result = run(folder, "HESTREL spread plan.yaml --merge s --out t --no-figures");
    CHECK(result.code == 1);
    CHECK(result.err == "hestrel: r--d: there are no trials\n");
}

TEST_CASE("rubbish: a long value is cut between characters", "[program]") {
    const PlanFolder folder("hestrel: 1", "hestrel: xäääääääääääääääääääääääääääääää");
    const auto result = run(folder, "HESTREL check plan.yaml --findings json");
    CHECK(result.code == 1);
    CHECK(contains(result.out, "xäääääääääääääääääää\\\"…"));
}

TEST_CASE("shown: escape sequences in a plan reach no terminal", "[program]") {
    const PlanFolder folder("hall: {", "hall: {title: \"\\e]0;owned\\a\", nope: \"\\e[2J\", ");
    for (const char* line : {"check plan.yaml", "walk plan.yaml", "compare plan.yaml plan.yaml"}) {
        const auto result = run(folder, std::string("HESTREL ") + line);
        CAPTURE(line);
        CHECK(result.code == 1);
        CHECK_FALSE(contains(result.out + result.err, "\x1B"));
        CHECK_FALSE(contains(result.out + result.err, "\x07"));
    }
    const auto option = run(folder, "HESTREL walk plan.yaml --$(printf '\\033')x");
    CHECK(option.code == 2);
    CHECK(contains(option.err, "--\\x1bx"));
}

TEST_CASE("shown: nothing of an included file that is none of a plan's", "[program]") {
    const PlanFolder folder("hestrel: 1",
                            "hestrel: 1\ninclude: [notes, list]\nsizes: [secret.csv]");
    folder.write("notes", "root:$6$salt$hash:19000:0:99999:7:::\ndaemon:*: x: [\n");
    folder.write("list", "[hash, words]\n");
    folder.write("secret.csv", "hash,words\n1,2\n");
    const auto result = run(folder, "HESTREL check plan.yaml");
    CHECK(result.code == 1);
    CHECK_FALSE(contains(result.out + result.err, "hash"));
    CHECK_FALSE(contains(result.out + result.err, "words"));
    CHECK(contains(result.out, "plan.yaml:2:11: error: notes is no part of a plan  [wrong-value]"));
    CHECK(contains(result.out, "plan.yaml:2:18: error: list is no part of a plan  [wrong-value]"));
    CHECK(contains(result.out, "plan.yaml:3:9: error: secret.csv is no table of sizes"));
}

TEST_CASE("shown: an included file outside the plan's folder is a note of check alone",
          "[program]") {
    const Folder folder;
    folder.write("game/plan.yaml",
                 tests::with("hestrel: 1", "hestrel: 1\ninclude: [../more.yaml, sub/own.yaml]"));
    folder.write("game/sub/own.yaml", "veils: {dusk: {min: 1 s}}\n");
    folder.write("more.yaml", "facts: {}\n");
    const auto result = run(folder, "HESTREL check game/plan.yaml");
    CHECK(contains(result.out,
                   "game/plan.yaml:2:11: note: more.yaml lies outside the folder of this "
                   "plan  [include-outside]\n"));
    CHECK_FALSE(contains(result.out, "own.yaml lies"));
    CHECK(run(folder, "HESTREL walk game/plan.yaml --no-figures").err.find("outside") ==
          std::string::npos);
}

TEST_CASE("rubbish: what only old YAML takes for a line end is none", "[program]") {
    const PlanFolder folder(
        "hestrel: 1",
        "hestrel: 1 # copied\xE2\x80\xA8 from a page: [\xC2\x85{\nname: \"a\xE2\x80\xA9z\"");
    const auto result = run(folder, "HESTREL check plan.yaml");
    CHECK(result.out == "nothing found\n");
    const auto json = run(folder, "HESTREL check plan.yaml --findings json");
    CHECK(nlohmann::json::parse(json.out)["plan"] == "a\xE2\x80\xA9z");
}

TEST_CASE("a reader that wants no more results ends nothing: the files are written", "[program]") {
    const PlanFolder folder;
    const auto result =
        run(folder, "HESTREL walk plan.yaml --details --out out | head -1 | wc -l; wait");
    CHECK(result.err.find("can't be written") == std::string::npos);
    const auto files = folder.files();
    CHECK(std::find(files.begin(), files.end(), "out/flow.svg") != files.end());
    const auto gone =
        run(folder, "( HESTREL check --list; echo $? >code ) | true; sleep 0.2; cat code");
    CHECK(gone.out == "0\n");
    CHECK(gone.err.empty());
}

TEST_CASE("figures: a TMPDIR that is no folder is named", "[program]") {
    const PlanFolder folder;
    const auto result = run(folder, "env TM''PDIR=/nope/nope HESTREL walk plan.yaml --out out");
    CHECK(result.code == 3);
    CHECK(result.err.ends_with("hestrel: no temporary folder to draw in can be made in /nope/nope "
                               "(TMPDIR)\n"));
}

TEST_CASE("figures: gnuplot reads no start-up file of a user's, and no path a shell could read",
          "[program]") {
    const PlanFolder folder;
    folder.write("home/.gnuplot", "system 'touch home/ran'\nexit\n");
    std::filesystem::create_directory(folder / "<touch pwned");
    const auto result =
        run(folder, "env HOME=$PWD/home TM''PDIR='<touch pwned' HESTREL walk plan.yaml --out out");
    CHECK(result.code == 0);
    for (const std::string& file : folder.files()) {
        CHECK_FALSE(file == "home/ran");
        CHECK_FALSE(file == "pwned");
    }
}

#if !defined(__SANITIZE_ADDRESS__) && !defined(__has_feature)
TEST_CASE("no memory: a limit on the process ends in a message and exit code 5", "[program]") {
    const Folder folder;
    std::string large = tests::clean;
    large += "facts:\n";
    for (int i = 0; i < 200'000; ++i) large += fmt::format("  fact-{}: {{initial: false}}\n", i);
    folder.write("plan.yaml", large);
    const auto result = run(folder, "ulimit -v 60000; HESTREL check plan.yaml");
    CHECK(result.code == 5);
    CHECK(result.err == "hestrel: there is not enough memory\n");
}
#endif
