// What the command line takes: each command its own options, and says who takes the others.

#include "support/program.hpp"

#include <sstream>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

const std::string demo = std::string(HESTREL_SOURCE) + "/examples/glasswater/glasswater.yaml";

} // namespace

TEST_CASE("an option that does nothing in a command is refused: it says which commands take it",
          "[program]") {
    const Folder folder;
    const auto refused = [&](const std::string& line) {
        const auto one = run(folder, "HESTREL " + line);
        CHECK(one.code == 2);
        CHECK(one.out == "");
        return one.err;
    };
    CHECK(refused("explore " + demo + " --route nope") ==
          "hestrel: this command takes no --route; walk, play, show, order, advise, compare, "
          "spread, verify, report, export do\n");
    CHECK(refused("advise " + demo + " --png") == "hestrel: this command takes no --png; walk, "
                                                  "explore, order, spread, verify, calibrate do\n");
    CHECK(refused("calibrate log.csv --device box") ==
          "hestrel: this command takes no --device; walk, play, show, explore, order, advise, "
          "compare, spread, "
          "verify, report, export do\n");
    CHECK(refused("check " + demo + " --details") ==
          "hestrel: this command takes no --details; walk does\n");
    CHECK(refused("walk " + demo + " --detials") ==
          "hestrel: there is no option \"--detials\"; did you mean \"details\"?\n");
    CHECK(folder.files().empty());
}

TEST_CASE("every command takes --quiet, --jobs and --no-figures", "[program]") {
    const Folder folder;
    std::istringstream overview(run(folder, "HESTREL --help").out);
    int commands = 0;
    for (std::string line; std::getline(overview, line);) {
        const bool names_one = line.starts_with("  ") && line.size() > 2 && line[2] >= 'a' &&
                               line[2] <= 'z'; // no exit code
        if (!names_one) continue;
        ++commands;
        const std::string name = line.substr(2, line.find(' ', 2) - 2);
        CAPTURE(name);
        const auto help = run(folder, "HESTREL " + name + " --quiet --jobs 1 --no-figures --help");
        CHECK(help.code == 0);
        CHECK(help.err == "");
        CHECK(help.out.starts_with("usage: hestrel " + name));
        CHECK(help.out.find("\noptions:\n") != std::string::npos);
    }
    CHECK(commands == 21);
    CHECK(folder.files().empty());
    const auto quiet =
        run(folder, "HESTREL walk " + demo + " --out out --quiet --no-figures --jobs 1");
    CHECK(quiet.out == "");
    CHECK(quiet.err == "");
    CHECK(quiet.code == 1);
    CHECK_FALSE(folder.files().empty());
    const auto no_jobs = run(folder, "HESTREL schema --jobs 0");
    CHECK(no_jobs.code == 2);
    CHECK(no_jobs.err == "hestrel: --jobs takes a number from 1 to 1024\n");
}

TEST_CASE("what is missing on the command line is asked for", "[program]") {
    const Folder folder;
    const auto asked = [&](const std::string& line) {
        const auto one = run(folder, "HESTREL " + line);
        CHECK(one.code == 2);
        return one.err;
    };
    CHECK(asked("walk") == "hestrel: walk: which plan? try: hestrel walk --help\n");
    CHECK(asked("calibrate") == "hestrel: calibrate: which log? try: hestrel calibrate --help\n");
    CHECK(asked("new") == "hestrel: new: into which folder? try: hestrel new --help\n");
    CHECK(asked("rename plan.yaml hall") ==
          "hestrel: rename: which plan, which name, and what instead? try: hestrel rename "
          "--help\n");
    CHECK(asked("check") == "hestrel: check: which plan? try: hestrel check --help\n");
    CHECK(asked("wlak x") == "hestrel: there is no command \"wlak\"; did you mean \"walk\"?\n");
    CHECK(asked("") == "hestrel: which command? try: hestrel --help\n");
}

TEST_CASE("standard output and standard error keep their order where both go to one file",
          "[program]") {
    const Folder folder;
    const auto both =
        run(folder, "HESTREL walk " + demo + " --route first-round --out out --no-figures 2>&1");
    CHECK(both.code == 1);
    CHECK(both.out.ends_with("files: out/\n")); // behind the tables, not in the middle of one
    CHECK(both.out.starts_with("route"));
}
