// hestrel-mpi as people run it: several processes, the same files.

#include "bench/large_situations.hpp"
#include "support/program.hpp"

#ifdef HESTREL_MPI_PROGRAM

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

/// A command line for so many processes.
std::string with(int processes, const std::string& what) {
    return fmt::format("ASAN_OPTIONS=detect_leaks=0 mpirun --allow-run-as-root --oversubscribe -n "
                       "{} {} {}",
                       processes, HESTREL_MPI_PROGRAM, what);
}

/// Files below one folder are those below the other.
void require_same(const Folder& folder, const std::string& one, const std::string& other) {
    std::vector<std::string> names;
    for (const std::string& name : folder.files()) {
        if (name.starts_with(one + "/")) names.push_back(name.substr(one.size()));
        if (name.starts_with(other + "/"))
            CHECK(std::filesystem::exists(folder / (one + name.substr(other.size()))));
    }
    REQUIRE(names.size() > 2);
    for (const std::string& name : names) {
        CAPTURE(name);
        CHECK(tests::contents(folder / (one + name)) == tests::contents(folder / (other + name)));
    }
}

} // namespace

TEST_CASE("explore by several processes writes what one writes", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", bench::switchboard(14));
    run(folder, "cp -r " + std::string(HESTREL_SOURCE) + "/examples/glasswater demo");
    const std::string options = " --no-figures --format json --force --out ";
    const auto board = run(folder, "HESTREL explore plan.yaml" + options + "one");
    const auto demo = run(folder, "HESTREL explore demo/glasswater.yaml --edition demo --hurried "
                                  "--limit 3000" +
                                      options + "demo-one");
    const auto many = run(folder, with(3, "explore plan.yaml" + options + "many"));
    CHECK(many.code == board.code);
    CHECK(many.out == board.out);
    require_same(folder, "one", "many");
    const auto demo_many = run(folder, with(2, "explore demo/glasswater.yaml --edition demo "
                                               "--hurried --limit 3000" +
                                                   options + "demo-many"));
    CHECK(demo_many.code == demo.code);
    CHECK(demo_many.out == demo.out);
    require_same(folder, "demo-one", "demo-many");
    // Kept by two, gone on with by one, and the other way round.
    run(folder, with(2, "explore plan.yaml --limit 2000 --resume kept" + options + "few"));
    const auto went_on =
        run(folder, with(1, "explore plan.yaml --resume kept" + options + "gone-on"));
    CHECK(went_on.out == board.out);
    CHECK(went_on.err.find(" of an earlier run\n") != std::string::npos);
    run(folder, "HESTREL explore plan.yaml --limit 2000 --resume alone" + options + "few");
    CHECK(run(folder, with(2, "explore plan.yaml --resume alone" + options + "gone-on")).out ==
          board.out);
    require_same(folder, "one", "gone-on");
}

TEST_CASE("spread by several processes writes what one writes", "[program]") {
    const Folder folder;
    run(folder, "cp -r " + std::string(HESTREL_SOURCE) + "/examples/glasswater demo");
    const std::string options =
        "spread demo/glasswater.yaml --route first-round --device handheld --trials 7 "
        "--no-figures --force --out ";
    const auto alone = run(folder, "HESTREL " + options + "one");
    REQUIRE(alone.code <= 1);
    const auto many = run(folder, with(3, options + "many"));
    CHECK(many.out == alone.out);
    CHECK(many.code == alone.code);
    require_same(folder, "one", "many");
}

TEST_CASE("what one process finds wrong before they begin ends all of them", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", bench::switchboard(3));
    const auto missing = run(folder, with(2, "explore nothing.yaml"));
    CHECK(missing.code == 3);
    CHECK(missing.err.find("hestrel: nothing.yaml: cannot be read: No such file") !=
          std::string::npos);
    CHECK(run(folder, with(2, "explore plan.yaml --nonsense")).code == 2);
    const auto check = run(folder, with(2, "check plan.yaml"));
    CHECK(check.code == 2);
    CHECK(check.err.find("hestrel: check is done by one process: hestrel check") !=
          std::string::npos);
    const auto help = run(folder, with(2, "explore --help"));
    CHECK(help.code == 0);
    CHECK(help.out.find("usage: ") == 0);
    CHECK(help.out.find("usage: ", 1) == std::string::npos); // said once
    // And one that fails while they are at it does so, too.
    folder.write("file", "");
    const auto no_folder = run(folder, with(2, "explore plan.yaml --resume file"));
    CHECK(no_folder.code == 3);
    CHECK(no_folder.err.find("file/all: cannot be made") != std::string::npos);
}

#endif
