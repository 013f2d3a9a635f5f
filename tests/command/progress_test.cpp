// How far a command has come.

#include "command/progress.hpp"

#include "support/figures.hpp"
#include "support/printing.hpp"
#include "support/program.hpp"

using namespace hestrel;
using command::progress_text;
using command::Stretch;

TEST_CASE("progress: how much is done, and how long the rest will take at that pace") {
    CHECK(progress_text({"walks", 0, 36}, 5) == "walks: 0 of 36");
    CHECK(progress_text({"walks", 9, 36}, 0.2) == "walks: 9 of 36"); // too soon to say
    CHECK(progress_text({"walks", 9, 36}, 1) == "walks: 9 of 36, about 3 s left");
    CHECK(progress_text({"walks", 36, 36}, 4) == "walks: 36 of 36");
    CHECK(progress_text({"trials", 1'000, 180'000}, 1) ==
          "trials: 1,000 of 180,000, about 3 min left");
    CHECK(progress_text({"trials", 1, 100'001}, 1) == "trials: 1 of 100,001, about 28 h left");
    CHECK(progress_text({"situations looked at", 1'200'000, 1'500'000, true}, 8) ==
          "situations looked at: 1,200,000 of 1,500,000 known so far, at least 2 s left");
}

TEST_CASE("progress is shown on a terminal while commands work, and taken away", "[program]") {
    const tests::Folder folder;
    folder.write("plan.yaml", tests::grid_plan(4) + "editions: {all: {levels: [level0]}}\n");
    for (const std::string command :
         {"explore plan.yaml --no-figures", "order plan.yaml --no-figures", "advise plan.yaml",
          "spread plan.yaml --trials 20 --no-figures", "report plan.yaml --no-figures"}) {
        INFO(command);
        const auto watched =
            tests::run(folder, "script -qec 'HESTREL " + command + " >/dev/null' /dev/null");
        if (command.starts_with("explore")) continue; // done before there is anything to say
        CHECK(watched.out.find(" of ") != std::string::npos);
        CHECK(watched.out.find("\r\033[K") != std::string::npos);
        // Neither in a pipe nor where it is to be quiet.
        CHECK(tests::run(folder, "HESTREL " + command + " 2>&1 >/dev/null").out.find('\r') ==
              std::string::npos);
        CHECK(
            tests::run(folder, "script -qec 'HESTREL " + command + " --quiet >/dev/null' /dev/null")
                .out.find('\033') == std::string::npos);
    }
}
