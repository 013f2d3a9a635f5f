// What `cmake --install` puts in place, used with nothing else of the tree: the program, and the
// library by a program of somebody else.

#include "support/program.hpp"

#include <hestrel/version.hpp>

using namespace hestrel;
using tests::Folder;

namespace {

/// Where what was built is installed: once for all tests, when the first asks.
const std::string& prefix() {
    static const Folder folder;
    static const std::string path = [] {
        const std::string into = folder / "prefix";
        const tests::Run installed = tests::run(
            folder, fmt::format("cmake --install '{}' --prefix '{}'", HESTREL_BUILD, into));
        INFO(installed.err);
        REQUIRE(installed.code == 0);
        return into;
    }();
    return path;
}

const std::string example = "/share/doc/hestrel/examples/library";

/// Finds what was installed, and compiles as this was compiled.
std::string environment() {
    return fmt::format("export CMAKE_PREFIX_PATH='{0}' CXX='{1}' CXXFLAGS='{2}' "
                       "PKG_CONFIG_PATH=$(dirname \"$(find '{0}' -name hestrel.pc)\"); ",
                       prefix(), HESTREL_COMPILER, HESTREL_LINKED_WITH);
}

} // namespace

TEST_CASE("the example of the library is built against what is installed", "[program]") {
    const Folder folder;
    CHECK(std::filesystem::exists(prefix() + example + "/main.cpp"));
    const tests::Run by_cmake = tests::run(
        folder, environment() + "cmake -S " + prefix() + example +
                    " -B built -G Ninja -DCMAKE_BUILD_TYPE=Debug && cmake --build built");
    INFO(by_cmake.out + by_cmake.err);
    REQUIRE(by_cmake.code == 0);
    folder.write("plan.yaml", R"(hestrel: 1
devices: {handheld: {memory: {total: 200, base: 40}, read: {rate: 50}, frame: {fps: 30}}}
levels: {hall: {memory: {texture: 60}}}
menus: {desk: {in: hall, items: {leave: {steps: [{end: session}]}}}}
editions: {full: {levels: [hall]}}
routes: {out: {steps: [{press: desk.leave}]}}
)");
    const tests::Run told = tests::run(folder, "built/verdict plan.yaml");
    CHECK(told.out == fmt::format("hestrel {}\nout on handheld: 100 of 200 MiB, fine\n"
                                  "edition full: 2 situations, 0 findings\n",
                                  HESTREL_VERSION));
    CHECK(told.code == 0);
    const tests::Run over =
        tests::run(folder, "sed -i 's/total: 200/total: 90/' plan.yaml; built/verdict plan.yaml");
    CHECK(over.out.find("100 of 90 MiB, over budget") != std::string::npos);
    CHECK(over.code == 1);
    CHECK(tests::run(folder, "built/verdict none.yaml").code == 3);
}

TEST_CASE("pkg-config knows how to compile and link the library", "[program]") {
    const Folder folder;
    const tests::Run built =
        tests::run(folder, environment() + "$CXX $CXXFLAGS -std=c++20 " + prefix() + example +
                               "/main.cpp "
                               "$(pkg-config --cflags --libs hestrel) -o verdict && "
                               "./verdict none.yaml");
    INFO(built.err);
    CHECK(built.code == 3);
    CHECK(built.err.find("none.yaml") != std::string::npos);
    CHECK(tests::run(folder, environment() + "pkg-config --modversion hestrel").out ==
          HESTREL_VERSION "\n");
}

TEST_CASE("the installed program runs the example with nothing else of the tree", "[program]") {
    const Folder folder;
    const tests::Run demo =
        tests::run(folder, "cd " + prefix() +
                               "/bin && env -i PATH=/usr/bin:/bin ./hestrel new TMP/game && "
                               "env -i PATH=/usr/bin:/bin ./hestrel walk TMP/game/plan.yaml --out "
                               "TMP/out --no-figures && ./hestrel check "
                               "../share/doc/hestrel/examples/glasswater/glasswater.yaml --quiet");
    INFO(demo.err);
    CHECK(demo.code == 0);
    CHECK(demo.out.find("first-round  handheld") != std::string::npos);
    for (const char* file :
         {"/share/man/man1/hestrel.1", "/share/man/man1/hestrel-walk.1",
          "/share/bash-completion/completions/hestrel", "/share/zsh/site-functions/_hestrel",
          "/share/fish/vendor_completions.d/hestrel.fish"})
        CHECK(std::filesystem::exists(prefix() + file));
}

TEST_CASE("the packages have the version of the project", "[program]") {
    const std::string changes = tests::contents(std::string(HESTREL_SOURCE) + "/debian/changelog");
    CHECK(changes.starts_with("hestrel (" HESTREL_VERSION ") "));
}
