// Manual pages and completions: what they hold, and that those who read them take them.

#include "manual/completion_scripts.hpp"
#include "manual/man_page.hpp"
#include "support/program.hpp"

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

/// A folder with the example, and the three scripts.
struct Shell {
    Shell() {
        folder.write("hestrel.bash", manual::bash_completion());
        folder.write("_hestrel", manual::zsh_completion());
        folder.write("hestrel.fish", manual::fish_completion());
        const std::string example = std::string(HESTREL_SOURCE) + "/examples/starter/plan.yaml";
        folder.write("plan.yaml", tests::contents(example));
    }
    /// What bash offers behind a command line, in which the last word is typed.
    [[nodiscard]] std::string offered(const std::string& words) const {
        const auto result =
            run(folder, fmt::format("bash -c '. ./hestrel.bash; COMP_WORDS=({}); "
                                    "COMP_CWORD=$((${{#COMP_WORDS[@]}} - 1)); _hestrel; "
                                    "printf \"%s \" \"${{COMPREPLY[@]}}\"'",
                                    words));
        CHECK(result.err.empty());
        return result.out;
    }
    Folder folder;
};

} // namespace

TEST_CASE("each command has a manual page that man can read, with all its options") {
    const Folder folder;
    for (const command::Command& each : command::commands()) {
        CAPTURE(each.name);
        const std::string page = manual::man_page(each, "1.2");
        folder.write("page.1", page);
        const auto result = run(folder, "groff -man -Tascii -P-cbou -ww -rLL=190n page.1");
        CHECK(result.err.empty());
        CHECK(std::all_of(page.begin(), page.end(), [](char c) { return (c & 0x80) == 0; }));
        CHECK(result.out.find(std::string(each.answers).substr(0, 20)) != std::string::npos);
        for (const auto& option : each.options.options())
            CHECK(result.out.find("--" + option->long_name()) != std::string::npos);
    }
    const std::string all = manual::overview_page("1.2");
    for (const command::Command& each : command::commands())
        CHECK(all.find(fmt::format("\\fB{}\\fR", each.name == "language-server"
                                                     ? "language\\-server"
                                                     : each.name)) != std::string::npos);
}

TEST_CASE("bash completes commands, options, words and names of the plan", "[program]") {
    const Shell shell;
    CHECK(shell.offered("HESTREL w") == "walk ");
    CHECK(shell.offered("HESTREL walk plan.yaml --dev") == "--device ");
    CHECK(shell.offered("HESTREL walk plan.yaml --device \"\"") == "handheld ");
    CHECK(shell.offered("HESTREL walk plan.yaml --route f") == "first-round ");
    CHECK(shell.offered("HESTREL walk plan.yaml --format j") == "json ");
    CHECK(shell.offered("HESTREL show plan.yaml q") == "quay ");
    CHECK(shell.offered("HESTREL check pl") == "plan.yaml ");
    CHECK(shell.offered("HESTREL help savi") == "saving ");
    // Without a plan there are no names, and no complaint.
    CHECK(shell.offered("HESTREL walk --route f") == " ");
}

TEST_CASE("every shell takes its script", "[program]") {
    const Shell shell;
    CHECK(run(shell.folder, "bash -n hestrel.bash").code == 0);
    const auto zsh = run(shell.folder, "zsh -n _hestrel");
    CHECK(zsh.err.empty());
    CHECK(zsh.code == 0);
    const auto fish =
        run(shell.folder,
            "HOME=$PWD fish -c 'source hestrel.fish; "
            "complete -C \"hestrel wal\" | cut -f1; complete -C \"hestrel walk --dev\" | cut -f1'");
    CHECK(fish.out == "walk\n--device\n");
}
