// Results take the place of nothing that is not theirs.

#include "support/checked.hpp"
#include "support/program.hpp"

using namespace hestrel;
using Catch::Matchers::Contains;
using tests::contents;
using tests::Folder;
using tests::run;

namespace {

/// A plan of two files, a table of sizes, and a log of loads.
struct Project : Folder {
    Project() {
        std::string plan =
            tests::with("hall: {", "hall: {arrive: [{set: {round: +1}}, {save: all}], ");
        plan += "include: [\"parts/*\"]\nsizes: [sizes.csv]\n"
                "facts: {round: {initial: 0, lifetime: saved}}\n";
        write("plan.yaml", plan);
        write("parts/more.yaml", "editions: {full: {levels: [hall, quay]}}\n");
        write("sizes.csv", "piece,pool,memory\nhall,texture,100\n");
        write("loads.csv", "piece,packed,read_s\nhall,10,1\nquay,20,2\nyard,30,3\nquay,40,4\n");
    }
};

} // namespace

TEST_CASE("outputs: no option writes over the plan, its parts, its tables or the log",
          "[program]") {
    const Project project;
    struct Try {
        const char* line;
        const char* kept;
    };
    for (const Try& each : std::vector<Try>{
             {"check plan.yaml --findings sarif --out plan.yaml", "plan.yaml"},
             {"check plan.yaml --findings sarif --out ./parts/../parts/more.yaml",
              "parts/more.yaml"},
             {"check plan.yaml --findings junit --out sizes.csv", "sizes.csv"},
             {"check plan.yaml --findings json --out parts/new.json", ""},
             {"compare plan.yaml --keep plan.yaml", "plan.yaml"},
             {"compare plan.yaml --keep sizes.csv", "sizes.csv"},
             {"walk plan.yaml --route r --device d --saved plan.yaml --fresh", "plan.yaml"},
             {"report plan.yaml --out parts/more.yaml", "parts/more.yaml"},
             {"walk plan.yaml --out parts", ""}}) {
        CAPTURE(each.line);
        const std::vector<std::string> before = project.files();
        const std::string kept = *each.kept == '\0' ? "" : contents(project / each.kept);
        for (const char* force : {"", " --force"}) {
            const auto result =
                run(project, fmt::format("HESTREL {} --no-figures{}", each.line, force));
            CHECK(result.code == 3);
            CHECK_THAT(result.err, Contains("it stays: name another, or add --force") ||
                                       Contains("no result takes its place") ||
                                       Contains("would be read as a part of the plan"));
            if (*each.kept != '\0') CHECK(contents(project / each.kept) == kept);
        }
        for (const std::string& name : project.files()) {
            CAPTURE(name);
            const bool is_result = name.starts_with("hestrel-out/");
            CHECK((is_result || std::count(before.begin(), before.end(), name) == 1));
        }
    }
    // The log, by the name that a table of results has.
    std::filesystem::rename(project / "loads.csv", project / "residuals.csv");
    const std::string log = contents(project / "residuals.csv");
    CHECK(run(project, "HESTREL calibrate residuals.csv --out . --force").code == 3);
    CHECK(contents(project / "residuals.csv") == log);
    // Shards that are put together are read.
    CHECK(run(project, "HESTREL spread plan.yaml --trials 4 --out s --no-figures").code == 0);
    CHECK(run(project, "HESTREL spread plan.yaml --merge s --out s --no-figures").code == 3);
    CHECK(run(project, "HESTREL spread plan.yaml --merge s --out t --no-figures").code == 0);
}

TEST_CASE("outputs: what Hestrel did not write stays, unless --force is given", "[program]") {
    const Project project;
    const std::string walk = "HESTREL walk plan.yaml --no-figures --out out";
    project.write("out/findings.json", "mine");
    CHECK(run(project, walk).code == 3);
    CHECK(contents(project / "out/findings.json") == "mine");
    CHECK(run(project, walk + " --force").code == 0);
    CHECK(run(project, walk).code == 0);
    CHECK(run(project, "cd out && sha256sum --quiet --check .hestrel-written").code == 0);
    project.write("out/r--d/loads.csv", "my notes");
    const auto refused = run(project, walk);
    CHECK(refused.code == 3);
    CHECK_THAT(refused.err, Contains("out/r--d/loads.csv: Hestrel did not write this file, or it "
                                     "was changed since; it stays"));
    CHECK(contents(project / "out/r--d/loads.csv") == "my notes");
}

TEST_CASE("outputs: every single file is known again by its first line", "[program]") {
    const Project project;
    for (const char* line :
         {"check plan.yaml --findings sarif --out f", "check plan.yaml --findings junit --out f",
          "check plan.yaml --findings json --out f", "compare plan.yaml --keep f",
          "walk plan.yaml --saved f --fresh --no-figures", "report plan.yaml --no-figures --out f",
          "schema --out f", "schema --markdown --out f"}) {
        CAPTURE(line);
        const std::string command = "HESTREL " + std::string(line);
        project.write("f", "mine\n");
        CHECK(run(project, command).code == 3);
        CHECK(contents(project / "f") == "mine\n");
        std::filesystem::remove(project / "f");
        CHECK(run(project, command).code == 0);
        const std::string first = contents(project / "f");
        CHECK_THAT(first.substr(0, first.find('\n')), Contains("written by Hestrel"));
        project.write("f", first + "\n"); // of another version, say
        CHECK(run(project, command).code == 0);
        CHECK(contents(project / "f") == first);
    }
}
