// docs/guide/build-servers.md: each of its recipes, run as it stands on the page.

#include "support/program.hpp"

#include <pugixml.hpp>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

/// The recipe below a heading of the page.
std::string recipe(const std::string& heading) {
    static const std::string page =
        tests::contents(std::string(HESTREL_SOURCE) + "/docs/guide/build-servers.md");
    const std::size_t section = page.find("\n## " + heading + "\n");
    REQUIRE(section != std::string::npos);
    const std::size_t from = page.find("```sh\n", section) + 6;
    return page.substr(from, page.find("```\n", from) - from);
}

/// A repository with a plan of one level and a route that is fine on `handheld`.
struct Repository {
    Repository() {
        folder.write("work/plan.yaml", plan);
        CHECK(shell("git init -q -b main && git config user.email a@b.example && git config "
                    "user.name a && "
                    "git add . && git commit -qm first")
                  .code == 0);
    }
    /// A shell in which `hestrel` is the program, in the folder of the plan.
    [[nodiscard]] tests::Run shell(const std::string& script) const {
        folder.write("script", script);
        folder.write("bin/hestrel", fmt::format("#!/bin/sh\nexec {} \"$@\"\n", HESTREL_PROGRAM));
        return run(folder, "chmod +x bin/hestrel; cd work; PATH=TMP/bin:$PATH sh -e ../script");
    }
    /// With a part of the plan changed.
    void change(const std::string& part, const std::string& by) const {
        std::string text = plan;
        const std::size_t at = text.find(part);
        REQUIRE(at != std::string::npos);
        folder.write("work/plan.yaml", text.replace(at, part.size(), by));
    }

    Folder folder;
    std::string plan = R"(hestrel: 1
devices:
  handheld: {memory: {total: 100}, read: {rate: 50}, frame: {fps: 30}}
levels:
  hall: {memory: {texture: 60}}
  quay: {memory: {texture: 30}}
menus:
  desk: {in: hall, items: {begin: {steps: [{switch: {to: quay, order: free-first}}]}, stay: {steps: [{end: session}]}}}
  sign: {in: quay, items: {home: {steps: [{switch: {to: hall, order: free-first}}]}, stop: {steps: [{end: session}]}}}
editions: {full: {levels: [hall, quay]}}
routes:
  there: {start: {level: hall}, steps: [{press: desk.begin}, {until: shown(quay)}]}
)";
};

} // namespace

TEST_CASE("recipe: check every change", "[program]") {
    const Repository repository;
    CHECK(repository.shell(recipe("Check every change")).code == 0);
    CHECK(tests::contents(repository.folder / "work/findings.sarif").find("\"2.1.0\"") !=
          std::string::npos);
    repository.change("{to: quay", "{to: Quay");
    CHECK(repository.shell(recipe("Check every change")).code == 1);
    CHECK(tests::contents(repository.folder / "work/findings.sarif").find("\"unknown-name\"") !=
          std::string::npos);
}

TEST_CASE("recipe: routes as tests", "[program]") {
    const Repository repository;
    const auto failures = [&] {
        pugi::xml_document document;
        REQUIRE(document.load_file((repository.folder / "work/routes.xml").c_str()));
        return document.select_nodes("//testcase/failure").size();
    };
    CHECK(repository.shell(recipe("Routes as tests")).code == 0);
    CHECK(failures() == 0);
    repository.change("texture: 60", "texture: 101"); // more than the handheld has
    CHECK(repository.shell(recipe("Routes as tests")).code == 1);
    CHECK(failures() == 1);
}

TEST_CASE("recipe: what a pull request does", "[program]") {
    const Repository repository;
    repository.change("rate: 50", "rate: 25");
    const auto result = repository.shell(recipe("What a pull request does"));
    CAPTURE(result.err);
    CHECK(result.code == 1);
    const std::string comment = tests::contents(repository.folder / "work/comment.md");
    CHECK(comment.find("**worse**") != std::string::npos);
    CHECK(comment.find("| devices.handheld.read.rate | 50 | 25 |") != std::string::npos);
    // Nothing was changed: nothing is worse.
    const Repository same;
    CHECK(same.shell(recipe("What a pull request does")).code == 0);
}

TEST_CASE("recipe: the game's logs", "[program]") {
    const Repository repository;
    // The handheld stores content unpacked: 60 MiB at 50 MiB/s are 1.2 s, then it is attached in
    // the next frame; the quay takes 0.6 s.
    const std::string log = "time_s,event,subject,detail,player\n0,launched,,,\n"
                            "1.23,boot-ended,,,\n1.23,shown,hall,,\n2,pressed,desk.begin,,\n"
                            "2,unloaded,hall,,\n";
    repository.folder.write("work/logs/a.csv", log + "2.63,shown,quay,,\n3,ended,,,\n");
    const auto fine = repository.shell(recipe("The game's logs, every night"));
    CAPTURE(fine.err, tests::contents(repository.folder / "work/plays.xml"));
    CHECK(fine.code == 0);
    repository.folder.write("work/logs/b.csv", log + "3,ended,,,\n");
    CHECK(repository.shell(recipe("The game's logs, every night")).code == 1);
    CHECK(tests::contents(repository.folder / "work/plays.xml").find("load-missing") !=
          std::string::npos);
}

TEST_CASE("recipe: the worst that players can do", "[program]") {
    const Repository repository;
    CHECK(repository.shell(recipe("The worst that players can do, every night")).code == 0);
    // Both at once are 60 and 50 MiB of 100; freed first each is alone.
    repository.change("{to: quay, order: free-first}", "{to: quay}");
    std::string text = tests::contents(repository.folder / "work/plan.yaml");
    repository.folder.write("work/plan.yaml",
                            text.replace(text.find("texture: 30"), 11, "texture: 50"));
    CHECK(repository.shell(recipe("The worst that players can do, every night")).code == 1);
    CHECK(std::filesystem::exists(repository.folder / "work/explored/findings.json"));
}

TEST_CASE("recipe: before each commit", "[program]") {
    const Repository repository;
    repository.folder.write("work/.git/hooks/pre-commit", recipe("Before each commit"));
    CHECK(repository.shell("chmod +x .git/hooks/pre-commit").code == 0);
    repository.change("{to: quay", "{to: Quay");
    const auto refused = repository.shell("git commit -qam second");
    CHECK(refused.code == 1);
    CHECK((refused.out + refused.err).find("[unknown-name]") != std::string::npos);
    repository.change("rate: 50", "rate: 40");
    CHECK(repository.shell("git commit -qam second").code == 0);
}
