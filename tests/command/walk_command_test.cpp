// The built program on files: what it prints, writes and exits with.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

const std::string good_plan = R"(hestrel: 1
name: Lake
devices:
  small: {memory: {total: 250}, read: {rate: 100}, frame: {fps: 100}}
  large: {memory: {total: 900}, read: {rate: 500}, frame: {fps: 100}}
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: b}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: [quay]}]}
routes:
  there: {start: {level: hall}, steps: [{go: b}]}
)";

std::string without_blanks(std::string text) {
    text.erase(std::remove(text.begin(), text.end(), ' '), text.end());
    return text;
}

} // namespace

TEST_CASE("walk writes one folder per route and device, and says what came out", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", good_plan);
    const auto result = run(folder, "HESTREL walk plan.yaml --out out --png --json");
    CHECK(result.code == 1); // the small device is over its budget
    std::vector<std::string> files{
        "out/.hestrel-written", "out/budget.png", "out/budget.svg", "out/findings.json",
        "out/flow.png",         "out/flow.svg",   "plan.yaml"};
    for (const std::string device : {"large", "small"}) {
        for (const std::string file :
             {"events.csv", "loads.csv", "loads.png", "loads.svg", "map.png", "map.svg",
              "memory.csv", "memory.png", "memory.svg", "residency.png", "residency.svg",
              "storyboard.png", "storyboard.svg", "transitions.csv", "walk.json"})
            files.push_back("out/there--" + device + "/" + file);
    }
    std::sort(files.begin(), files.end());
    CHECK(folder.files() == files);
    CHECK(
        result.out ==
        "route  device    boot  veiled  stall  gaps  slack  hitches  peak MiB  verdict\n"
        "there  small   1.01 s     0 s    0 s  none      -     none   300/250  over budget\n"
        "there  large   210 ms     0 s    0 s  none      -     none   300/900  fine\n"
        "\n"
        "plan.yaml:13:3: error: at 11.01 s memory is 50 MiB over its 250 MiB for 40.00 s (there on "
        "small)  [over-budget]\n");
    CHECK(tests::contents(folder / "out/there--small/loads.csv") ==
          "transition,piece,kind,priority,asked_s,read_start_s,read_end_s,unpack_start_s,unpack_"
          "end_s,make_start_s,make_end_s\r\n"
          "0,hall,level,soon,0.000000,0.000000,1.000000,,,,\r\n"
          "1,quay,level,soon,11.010000,11.010000,13.010000,,,,\r\n");
    CHECK(tests::contents(folder / "out/there--small/memory.csv") ==
          "time_s,total_mib,staging_mib,veils_mib,texture_mib\r\n"
          "0.000000,100.000,0.000,0.000,100.000\r\n"
          "11.010000,300.000,0.000,0.000,300.000\r\n");
    const auto json = nlohmann::json::parse(tests::contents(folder / "out/there--small/walk.json"));
    CHECK(json["verdict"] == "over budget");
    CHECK(json["peak_mib"] == 300.0);
    CHECK(json["overruns"][0]["resident"] == nlohmann::json{"hall", "quay"});
    CHECK(tests::contents(folder / "out/there--small/memory.png").substr(1, 3) == "PNG");
}

TEST_CASE("the summary as CSV and JSON, one device at a time, quietly", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", good_plan);
    const auto csv = run(folder, "HESTREL walk plan.yaml --device large --no-figures --format csv");
    CHECK(csv.code == 0);
    CHECK(csv.out.starts_with("route,device,verdict,boot_s"));
    CHECK(csv.out.find("there,large,fine,0.210000,50.210000") != std::string::npos);
    const auto json =
        run(folder,
            "HESTREL walk plan.yaml --device large small --route there --no-figures --format json");
    const auto walks = nlohmann::json::parse(json.out)["walks"];
    REQUIRE(walks.size() == 2);
    CHECK(walks[0]["device"] == "small"); // the plan's order
    const auto quiet = run(folder, "HESTREL walk plan.yaml --device large --no-figures --quiet");
    CHECK(quiet.out.empty());
    CHECK(quiet.err.empty());
    CHECK(run(folder, "HESTREL walk plan.yaml --no-figures").err == "files: hestrel-out/walk/\n");
}

TEST_CASE("the same input gives the same bytes, figures included", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", good_plan);
    run(folder, "HESTREL walk plan.yaml --out one --png --json");
    run(folder, "HESTREL walk plan.yaml --out two --png --json");
    for (const auto* name :
         {"events.csv", "loads.csv", "memory.csv", "memory.svg", "memory.png", "walk.json"}) {
        CHECK(tests::contents(folder / ("one/there--small/" + std::string(name))) ==
              tests::contents(folder / ("two/there--small/" + std::string(name))));
    }
}

TEST_CASE("wrong usage exits with 2 and one line", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", good_plan);
    const auto says = [&](const std::string& line, const std::string& message) {
        const auto result = run(folder, line);
        CHECK(result.code == 2);
        CHECK(result.out.empty());
        CHECK(result.err == "hestrel: " + message + "\n");
    };
    says("HESTREL", "which command? try: hestrel --help");
    says("HESTREL wlak plan.yaml", "there is no command \"wlak\"; did you mean \"walk\"?");
    says("HESTREL walk", "walk: which plan? try: hestrel walk --help");
    says("HESTREL walk plan.yaml --device smal",
         "no device of this plan is called \"smal\"; did you mean \"small\"?");
    says("HESTREL walk plan.yaml --route here",
         "no route of this plan is called \"here\"; did you mean \"there\"?");
    says("HESTREL walk plan.yaml --format xml", "--format takes text, json or csv, not \"xml\"");
    says("HESTREL walk plan.yaml --frobnicate", "there is no option \"--frobnicate\"");
    says("HESTREL walk plan.yaml other.yaml",
         "too many positional options have been specified on the command line");
}

TEST_CASE("help and version go to standard output and exit with 0", "[program]") {
    const Folder folder;
    for (const auto* line :
         {"HESTREL --help", "HESTREL walk --help", "HESTREL demo --help", "HESTREL --version"}) {
        const auto result = run(folder, line);
        CHECK(result.code == 0);
        CHECK_FALSE(result.out.empty());
        CHECK(result.err.empty());
    }
}

TEST_CASE("a file that can't be read exits with 3, and says which and why", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", good_plan);
    const auto missing = run(folder, "HESTREL walk nowhere.yaml");
    CHECK(missing.code == 3);
    CHECK(missing.err == "hestrel: nowhere.yaml: cannot be read: No such file or directory\n");
    const auto directory = run(folder, "HESTREL walk TMP");
    CHECK(directory.code == 3);
    CHECK(directory.err == "hestrel: " + folder.path() + ": cannot be read: Is a directory\n");
    // Root may read everything, so another user tries.
    const std::string as_other =
        ::getuid() == 0 ? "chmod 755 TMP && setpriv --reuid=65534 --clear-groups " : "";
    const auto forbidden =
        run(folder, "chmod 000 plan.yaml && " + as_other + "HESTREL walk plan.yaml");
    CHECK(forbidden.code == 3);
    CHECK(forbidden.err == "hestrel: plan.yaml: cannot be read: Permission denied\n");
}

TEST_CASE("a file that can't be written exits with 3 and leaves nothing half-written",
          "[program]") {
    const Folder folder;
    folder.write("plan.yaml", good_plan);
    SECTION("the folder is a file") {
        const auto result = run(folder, "HESTREL walk plan.yaml --no-figures --out plan.yaml");
        CHECK(result.code == 3);
        CHECK(result.err.starts_with("hestrel: plan.yaml: cannot be made: "));
    }
    SECTION("no room: the file may not grow as large as it has to") {
        // 1 block of 512 bytes; events.csv is larger. What was there before stays.
        folder.write("out/there--small/events.csv", "before");
        const auto result = run(
            folder, "ulimit -f 1; HESTREL walk plan.yaml --no-figures --out out --force --json");
        CHECK(result.code == 3);
        CHECK(result.err.find("cannot be written: File too large") != std::string::npos);
        CHECK(tests::contents(folder / "out/there--small/events.csv") == "before");
        for (const std::string& name : folder.files())
            CHECK(name.find(".part") == std::string::npos);
    }
    SECTION("standard output is full") {
        const auto result = run(folder, "HESTREL walk plan.yaml --no-figures >/dev/full");
        CHECK(result.code == 3);
        CHECK(result.err.find("standard output can't be written") != std::string::npos);
    }
}

TEST_CASE("a plan with errors exits with 1, each with its place, and writes nothing", "[program]") {
    const Folder folder;
    const auto says = [&](const std::string& plan, const std::string& line) {
        folder.write("bad.yaml", plan);
        const auto result = run(folder, "HESTREL walk bad.yaml --out out");
        CHECK(result.code == 1);
        CHECK(result.out.empty());
        CHECK(result.err == line + "\n");
        CHECK(folder.files() == std::vector<std::string>{"bad.yaml"});
    };
    says("hestrel: 1\nlevels: [a\n",
         "bad.yaml:3:1: error: broken YAML: did not find expected ',' or ']' while parsing a flow "
         "sequence  [broken-yaml]");
    says("hestrel: 1\nlevels: 3\n",
         "bad.yaml:2:9: error: expected levels by name, found \"3\"  [wrong-value]");
    says("hestrel: 1\nlevles: {}\n", "bad.yaml:2:1: error: a plan has no key \"levles\"; did you "
                                     "mean \"levels\"?  [unknown-key]");
    says("hestrel: 1\nlevels: {a: {packed: -3}}\n",
         "bad.yaml:2:22: error: \"-3\" must be from 0 to 1 TiB (expected memory in MiB, or a range "
         "low..high)  [wrong-value]");
    says("hestrel: 1\nkits: {a: {needs: [a]}}\n",
         "bad.yaml:2:8: error: kits need each other in a circle: a → a  [cycle]");
    says("hestrel: 1\ndevices: {d: {memory: {total: 1}, read: {rate: 0}, frame: {fps: 30}}}\n",
         "bad.yaml:2:48: error: \"0\" must be from 1 KiB/s to 16 TiB/s (expected a data rate in "
         "MiB/s)  [wrong-value]");
    says("hestrel: 1\nlimits: {walk: NaN}\n", "bad.yaml:2:16: error: \"NaN\" is not a number "
                                              "(expected a time such as 2 s)  [wrong-value]");
    says("hestrel: 1\nlevels: {a: {objects: 99999999999999999999}}\n",
         "bad.yaml:2:23: error: \"99999999999999999999\" must be from 0 to 1000000000  "
         "[wrong-value]");
}

TEST_CASE("absurd but valid figures neither overflow nor hang", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", R"(hestrel: 1
devices: {d: {memory: {total: 1}, read: {rate: 0.001, parallel: 1024}, unpack: {rate: 0.001}, frame: {fps: 1000, attach: 1 us}, attach: {per-object: 1 s}}}
levels: {a: {memory: {x: 1 GiB}, packed: 1024 GiB, objects: 1e9}, b: {memory: {x: 0}, packed: 0, objects: 1e9}}
limits: {walk: 10 min}
routes: {huge: {start: {level: a}, steps: []}, slow: {start: {level: b}, steps: []}}
)");
    const auto result = run(folder, "timeout 60 HESTREL walk plan.yaml --no-figures");
    CHECK(result.code == 1);
    CHECK(result.out.find("huge on d: stuck at 600.00 s: it is not done after 600.00 s") !=
          std::string::npos);
    CHECK(result.out.find("slow on d: stuck at 600.00 s: it is not done after 600.00 s") !=
          std::string::npos);
}

TEST_CASE("names and titles can't inject anything into a figure", "[program]") {
    const Folder folder;
    std::string plan = good_plan;
    plan.replace(plan.find("Lake"), 4, R"('<b>"&\ `touch hacked` $(touch hacked) it''s é湖')");
    folder.write("plan.yaml", plan);
    const auto result = run(folder, "HESTREL walk plan.yaml --device large --out out");
    CHECK(result.code == 0);
    const std::string svg = tests::contents(folder / "out/there--large/memory.svg");
    CHECK(svg.find("&lt;b") != std::string::npos);
    CHECK(svg.find("`touch hacked` $(touch hacked) it's é湖") != std::string::npos);
    CHECK(svg.find("<b>") == std::string::npos);
    CHECK_FALSE(std::filesystem::exists(folder / "hacked"));
}

TEST_CASE("without gnuplot there is one clear message, and the tables are there", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", good_plan);
    const auto result =
        run(folder, "PATH=/nowhere HESTREL walk plan.yaml --device large --out out");
    CHECK(result.code == 3);
    CHECK(result.err == "hestrel: gnuplot is not installed, so no figure can be drawn (apt-get "
                        "install gnuplot-nox, or "
                        "--no-figures)\n");
    CHECK(std::filesystem::exists(folder / "out/there--large/memory.csv"));
}

TEST_CASE("the demo runs, writes its plan and names the files to open", "[program]") {
    const Folder folder;
    const auto result = run(folder, "HESTREL demo demo");
    CHECK(result.code == 0);
    CHECK(tests::contents(folder / "demo/plan/glasswater.yaml") ==
          tests::contents(std::string(HESTREL_SOURCE) + "/examples/glasswater/glasswater.yaml"));
    // Every file it names is there.
    std::size_t named = 0;
    const std::size_t open_these = result.out.find("Open these:");
    REQUIRE(open_these != std::string::npos);
    for (std::size_t at = result.out.find("\n  demo/", open_these); at != std::string::npos;
         at = result.out.find("\n  demo/", at + 1)) {
        const std::size_t end = result.out.find(' ', at + 3);
        CHECK(std::filesystem::exists(folder / result.out.substr(at + 3, end - at - 3)));
        ++named;
    }
    CHECK(named >= 3);
    // The story: the handheld is over budget, the others are fine.
    const std::string squeezed = without_blanks(result.out);
    CHECK(squeezed.find("first-roundconsole") != std::string::npos);
    // Over budget in one place, late in another, and once not as expected on purpose: each on the
    // handheld alone.
    std::vector<std::string> errors;
    const std::string walks = result.out.substr(0, result.out.find("$ hestrel explore"));
    for (std::size_t at = walks.find(": error: "); at != std::string::npos;
         at = walks.find(": error: ", at + 1)) {
        const std::string line = walks.substr(at, walks.find('\n', at) - at);
        CHECK(line.find(" on handheld)") != std::string::npos);
        errors.push_back(line.substr(line.find('[')));
    }
    REQUIRE(errors.size() == 3);
    CHECK(errors[0] == "[stood-in-gap]");
    CHECK(errors[1].starts_with("[over-budget]"));
    CHECK(errors[2] == "[expectation-failed]");
    for (const char* device : {"console", "desktop"}) {
        for (const char* route : {"first-round", "hurried-round", "resumed-round", "next-day",
                                  "two-carriers", "demo-edition"}) {
            CAPTURE(route, device);
            const auto row = squeezed.find(std::string(route) + device);
            REQUIRE(row != std::string::npos);
            CHECK(squeezed.substr(row, squeezed.find('\n', row) - row).ends_with("fine"));
        }
    }
}
