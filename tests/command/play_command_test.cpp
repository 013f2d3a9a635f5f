// The built program played: through a pipe, and on a terminal.

#include "support/terminal.hpp"

#include <sstream>

using namespace hestrel;
using tests::Folder;
using tests::run;
using tests::Terminal;

namespace {

const std::string tower = R"(hestrel: 1
name: Tower
devices:
  fast: {memory: {total: 400, pools: {texture: 350}}, read: {rate: 100}, frame: {fps: 100}}
  slow: {memory: {total: 100}, read: {rate: 10}, frame: {fps: 100}}
levels:
  title: {memory: {texture: 10}}
  hall: {memory: {texture: 100}, entries: {door: a}}
  vault: {memory: {texture: 50}}
editions: {full: {levels: [title, hall, vault]}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
facts: {round: {initial: 0, range: [0, 3], lifetime: saved}, key: {initial: false}}
players: {carrier: {speeds: {walk: 2, run: 5}, count: 2}}
menus:
  main:
    in: title
    items:
      begin:  {steps: [{switch: {to: hall}}]}
      resume: {when: round > 0, steps: [{switch: {to: hall}}]}
triggers:
  t: {in: hall, box: {min: [8, -1, -1], max: [11, 3, 9]}, steps: [{set: {round: 1, key: true}}, {save: all}, {load: [vault]}]}
# the routes
routes:
  first: # a way
    steps: [{press: main.begin}]
)";

/// What a game answers to lines, as a whole.
tests::Run played(const Folder& folder, const std::string& lines, const std::string& options = "") {
    folder.write("lines.txt", lines);
    return run(folder, "HESTREL play plan.yaml " + options + " < lines.txt");
}

/// What stands behind a line that was typed, up to the next.
std::string answer(const std::string& out, const std::string& line) {
    const std::size_t at = out.find("> " + line + "\n");
    REQUIRE(at != std::string::npos);
    const std::size_t from = at + line.size() + 3;
    return out.substr(from, out.find("\n> ", from) + 1 - from);
}

} // namespace

TEST_CASE("play through a pipe: what is seen, what comes, what can be done", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tower);
    const auto result = played(folder, "press main.begin\nuntil shown(hall)\ngo b\nexpect key and "
                                       "round == 1\nexpect not key\nwhy vault\nlaunch again\n");
    CHECK(result.code == 0);
    CHECK(result.err.empty());
    CHECK(
        answer(result.out, "press main.begin").find("coming    hall (reading, shown in 1.01 s)") !=
        std::string::npos);
    CHECK(answer(result.out, "go b") ==
          "-- 6.12 s on fast, carrier-1's turn ---------------------------------------------------"
          "-------------\n"
          "carrier-1 at b\n"
          "carrier-2 at a\n"
          "sees      hall\n"
          "memory    [###########...................] 150 of 400 MiB; texture 150/350\n"
          "hidden    vault\n"
          "just now  1.12 s   set-out carrier-1 b\n"
          "          5.12 s   fired t, fact-set round 1, fact-set key true, saved\n"
          "          5.62 s   ready vault\n"
          "          6.12 s   arrived carrier-1 b\n"
          "you can   1 go a (10 m, 5.00 s)\n");
    CHECK(answer(result.out, "expect key and round == 1") == "it holds: key is true, round is 1\n");
    CHECK(answer(result.out, "expect not key") == "it does not hold: key is true\n");
    CHECK(answer(result.out, "why vault") ==
          "vault is ready\n"
          "  asked for at 5.12 s by trigger t (plan.yaml:22:3)\n"
          "  queued 5.12 s, priority soon; read from 5.12 s to 5.62 s\n");
    CHECK(result.out.find("2 press main.resume") != std::string::npos);
    std::istringstream lines(result.out);
    for (std::string line; std::getline(lines, line);) CHECK(line.size() <= 100);
}

TEST_CASE("an answer fits 100 columns by 24 lines, however much there is to say", "[program]") {
    std::string plan =
        "hestrel: 1\ndevices: {d: {memory: {total: 900, pools: {texture: 800, "
        "geometry: 10, audio: 20, logic: 30}}, read: {rate: 1}, frame: {fps: 30}}}\n"
        "players: {a-carrier-with-a-long-name: {speeds: {walk: 2}, count: 6}}\nlevels:\n"
        "  hall: {memory: {texture: 1}, entries: {door: w}}\n";
    std::string loads, paths, waypoints, items;
    for (int i = 0; i < 40; ++i) {
        plan += fmt::format("  a-level-of-some-length-{}: {{memory: {{texture: 40}}}}\n", i);
        loads += fmt::format("{}a-level-of-some-length-{}", i == 0 ? "" : ", ", i);
        waypoints += fmt::format(", a-place-far-from-here-{}: [{}, 0, 9]", i, i + 1);
        paths += fmt::format("{}[w, a-place-far-from-here-{}]", i == 0 ? "" : ", ", i);
        items += fmt::format("item-{}: {{stays: true, steps: [{{show: [{}]}}, {{wait: {{until: "
                             "veiled}}}}]}}, ",
                             i, loads);
    }
    plan +=
        fmt::format("waypoints: {{w: [0, 0, 0]{}}}\npaths: [{}]\nmenus: {{m: {{in: hall, items: "
                    "{{{}}}}}}}\nroutes: {{r: {{start: {{level: hall}}, steps: []}}}}\n",
                    waypoints, paths, items);
    const Folder folder;
    folder.write("plan.yaml", plan);
    const auto result = played(folder, "press m.item-39\npress m.item-1\npause 100\npause 400\ngo "
                                       "a-place-far-from-here-3\npause 5000\n");
    CHECK(result.code == 0);
    std::istringstream all(result.out);
    std::size_t lines = 0;
    std::size_t answers = 0;
    for (std::string line; std::getline(all, line);) {
        std::size_t cells = 0;
        for (const char c : line) cells += (static_cast<unsigned char>(c) & 0xC0U) == 0x80U ? 0 : 1;
        CHECK(cells <= 100);
        if (line.starts_with("> ")) {
            lines = 0;
            continue;
        }
        if (line.starts_with("-- ")) ++answers;
        CHECK(++lines <= 24);
    }
    CHECK(answers >= 6);
}

TEST_CASE("every wrong line gets one message, and changes nothing", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tower);
    const std::vector<std::string> wrong{"go nowhere",
                                         "go",
                                         "go a walk fast",
                                         "press main.resume",
                                         "press main",
                                         "press",
                                         "0",
                                         "7",
                                         "pause -1",
                                         "pause",
                                         "until key and",
                                         "until shown(hal)",
                                         "pick north",
                                         "pick",
                                         "launch",
                                         "launch twice",
                                         "expect",
                                         "expect memory > many",
                                         "expect key within -1 s",
                                         "set",
                                         "set key: 3",
                                         "set keys: true",
                                         "with ben",
                                         "with",
                                         "undo",
                                         "undo 0",
                                         "undo x",
                                         "undo 99999999999999999999",
                                         "why",
                                         "why nothing",
                                         "save",
                                         "save a/b",
                                         "save first plan.yaml",
                                         "save mine other.yaml",
                                         "device",
                                         "device phone",
                                         "frob",
                                         "{go: a}",
                                         "go \xff\xfe",
                                         "press [main.begin",
                                         "until \"",
                                         "expect 'a",
                                         "set {",
                                         std::string(20'000, 'x')};
    std::string lines;
    for (const std::string& line : wrong) lines += line + "\n";
    const auto result = played(folder, lines + "save all-of-it\n");
    CHECK(result.code == 0);
    CHECK(result.err.empty());
    CHECK(result.out.find("steps: []") != std::string::npos);
    CHECK(answer(result.out, "until shown(hal)") ==
          "  shown(hal)\n"
          "        ^\n"
          "in this condition no level is called \"hal\"; "
          "did you mean \"hall\"?; `help` tells what can be "
          "typed\n");
    CHECK(answer(result.out, "press main.resume") ==
          "that can't be done: its \"round > 0\" does not hold; here one can: press main.begin\n");
    CHECK(tests::contents(folder / "plan.yaml") == tower);
}

TEST_CASE("what was played is a route: the walk of it has the same figures", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tower);
    const auto result =
        played(folder,
               "press main.begin\npause 0.5\nundo\nuntil shown(hall)\ngo b run\nwith "
               "carrier-2\ngo b\nexpect now\ndevice slow\npause 1.5\ndevice "
               "fast\nundo 2\nlaunch again\nwith carrier-1\nexpect round == 1 and "
               "not key\nsave mine plan.yaml\n",
               "--out played");
    CHECK(result.code == 0);
    CHECK(result.out.find("mine is in plan.yaml now") != std::string::npos);
    const std::string changed = tests::contents(folder / "plan.yaml");
    CHECK(changed.starts_with(tower)); // nothing but an addition
    const auto walked =
        run(folder, "HESTREL walk plan.yaml --route mine --device fast --no-figures --out walked");
    CHECK(walked.code == 0);
    for (const std::string table : {"events.csv", "loads.csv", "memory.csv", "transitions.csv"}) {
        CHECK(tests::contents(folder / ("played/mine--fast/" + table)) ==
              tests::contents(folder / ("walked/mine--fast/" + table)));
    }
    // And is begun after.
    const auto after = played(folder, "save again\nsave mine plan.yaml\n", "--route mine");
    CHECK(after.out.find("carrier-1 nowhere") != std::string::npos);
    CHECK(after.out.find("there is a route mine already") != std::string::npos);
}

TEST_CASE("a witness of explore is played to its end", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tower);
    REQUIRE(run(folder, "HESTREL explore plan.yaml --witness ways --no-figures --quiet").code < 2);
    std::string witness;
    for (const std::string& file : folder.files()) {
        if (file.starts_with("ways/") && file.ends_with(".yaml")) witness = file;
    }
    REQUIRE_FALSE(witness.empty());
    const auto result = played(folder, "", "--witness " + witness);
    CHECK(result.code == 0);
    CHECK(result.out.find("\n> {") != std::string::npos);
}

TEST_CASE("play on a terminal: typing, completion, history, Ctrl-C, Ctrl-D", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tower);
    Terminal terminal(folder, {"play", "plan.yaml"});
    REQUIRE(terminal.sees("you can   1 press main.begin"));
    REQUIRE(terminal.sees("> "));
    terminal.type("pr\tma\tb\t\r");
    REQUIRE(terminal.sees("egin")); // the rest was typed
    REQUIRE(terminal.sees("coming    hall"));
    REQUIRE(terminal.sees("> "));
    terminal.type("1\r");
    REQUIRE(terminal.sees("you can   1 go b"));
    REQUIRE(terminal.sees("> "));
    terminal.type("go nowhere and this is broken off\x03"); // Ctrl-C
    REQUIRE(terminal.sees("^C"));
    REQUIRE(terminal.sees("> "));
    terminal.type("go \t\t"); // several: they are listed
    REQUIRE(terminal.sees("a  b"));
    REQUIRE(terminal.sees("> "));
    terminal.type("b run\r");
    REQUIRE(terminal.sees("carrier-1 at b"));
    REQUIRE(terminal.sees("> "));
    terminal.type("undo\r");
    REQUIRE(terminal.sees("carrier-1 at a"));
    REQUIRE(terminal.sees("> "));
    terminal.type("\x1b[A\x1b[A\r"); // the line before the last
    REQUIRE(terminal.sees("carrier-1 at b"));
    REQUIRE(terminal.sees("> "));
    terminal.type("\x04"); // Ctrl-D
    CHECK(terminal.end() == 0);
}

TEST_CASE("play says what it can't begin with", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tower);
    folder.write("empty.yaml", "hestrel: 1\ndevices: {d: {memory: {total: 1}, read: {rate: 1}, "
                               "frame: {fps: 1}}}\n");
    CHECK(run(folder, "HESTREL play empty.yaml < /dev/null").code == 2);
    CHECK(run(folder, "HESTREL play plan.yaml --device slow fast < /dev/null").code == 2);
    CHECK(run(folder, "HESTREL play plan.yaml --route none < /dev/null").code == 2);
    CHECK(run(folder, "HESTREL play nothing.yaml < /dev/null").code == 3);
    CHECK(run(folder, "HESTREL play plan.yaml --png < /dev/null").code == 2);
    CHECK(run(folder, "HESTREL play plan.yaml < /dev/null").code == 0);
}
