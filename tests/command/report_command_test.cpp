// The report, made by the built program and opened in a browser.

#include "source/fingerprint.hpp"
#include "support/figures.hpp"
#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

/// Opens a page from its file in headless Chromium, with a script at its end that looks at it, and
/// returns what that script left in `document.title`. What the browser says goes wrong is `err`.
tests::Run look_at(const Folder& folder, const std::string& page, const std::string& script) {
    std::string text = tests::contents(folder / page);
    const std::size_t end = text.rfind("</body>");
    REQUIRE(end != std::string::npos);
    text.insert(end, "<script>" + script + "</script>\n");
    // The page runs no script but its own.
    const std::string allowed = "script-src ";
    const std::size_t policy = text.find(allowed);
    REQUIRE(policy != std::string::npos);
    text.insert(policy + allowed.size(), "'sha256-" + source::sha256_base64(script) + "' ");
    folder.write("looked.html", text);
    tests::Run result =
        run(folder, "chromium --headless --no-sandbox --disable-gpu --disable-quic --no-first-run "
                    "--disable-background-networking --disable-component-update --disable-sync "
                    "--user-data-dir=TMP/browser --enable-logging=stderr --log-level=0 "
                    "--virtual-time-budget=3000 --dump-dom "
                    "file://TMP/looked.html");
    const std::size_t title = result.out.find("<title>");
    const std::size_t close = result.out.find("</title>", title);
    REQUIRE(close != std::string::npos);
    result.out = result.out.substr(title + 7, close - title - 7);
    return result;
}

} // namespace

TEST_CASE("the report is one page, the same for any number of jobs, and problems found is exit 1",
          "[program]") {
    const Folder folder;
    // One carrier: there is less to explore.
    const std::string plan = std::string(HESTREL_SOURCE) +
                             "/examples/glasswater/glasswater.yaml --device handheld "
                             "--route hurried-round demo-edition --set players.carrier.count=1";
    const auto result = run(folder, "HESTREL report " + plan + " --out a.html --jobs 1");
    CHECK(result.code == 1);
    CHECK(result.out == "a.html\n");
    CHECK(result.err == "");
    CHECK(run(folder, "HESTREL report " + plan + " --out b.html --jobs 4").code == 1);
    CHECK(tests::contents(folder / "a.html") == tests::contents(folder / "b.html"));
    CHECK(folder.files() == std::vector<std::string>{"a.html", "b.html"});
}

TEST_CASE("the page leads nowhere else, and asks for nothing", "[program]") {
    const Folder folder;
    REQUIRE(run(folder, "HESTREL report " + std::string(HESTREL_SOURCE) +
                            "/examples/glasswater/glasswater.yaml --route hurried-round "
                            "demo-edition --set players.carrier.count=1 --out page.html")
                .code == 1);
    // Only the names of XML's spaces are URLs.
    const std::string page = tests::contents(folder / "page.html");
    for (std::size_t at = page.find("http"); at != std::string::npos;
         at = page.find("http", at + 1)) {
        const bool harmless = page.compare(at, 18, "http://www.w3.org/") == 0 ||
                              page.compare(at, 10, "http-equiv") == 0;
        CHECK(harmless);
    }
    CHECK(page.find("Content-Security-Policy\" content=\"default-src 'none'") != std::string::npos);
}

TEST_CASE("in a browser a nasty name is text, and runs nothing", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tests::grid_plan(3, std::string(tests::nasty_name)));
    run(folder, "HESTREL report plan.yaml --out page.html");
    // What somebody brought onto the page all the same would not run.
    std::string page = tests::contents(folder / "page.html");
    page.insert(page.rfind("</body>"), "<p id=\"in\" onclick=\"document.title = 'hacked'\"></p>"
                                       "<script>document.body.innerHTML = ''</script>");
    folder.write("planted.html", page);
    const auto planted = look_at(folder, "planted.html", R"JS(
document.getElementById('in').click();
if (document.title !== 'hacked') document.title = document.querySelectorAll('svg').length;
)JS");
    CHECK(planted.err.find("violates the following Content Security Policy") != std::string::npos);
    CHECK(std::stoi("0" + planted.out) > 3);
    const auto result = look_at(folder, "page.html", R"JS(
document.title = JSON.stringify({
  heading: document.querySelector('h1').textContent,
  bold: document.querySelectorAll('b').length,
  scripts: document.querySelectorAll('script:not([type])').length,
});
)JS");
    CHECK(result.err.find("CONSOLE") == std::string::npos);
    const std::string escaped = result.out;
    CHECK(escaped.find("\"bold\":0") != std::string::npos);
    CHECK(escaped.find("\"scripts\":2") != std::string::npos); // the page's own, and this test's
    CHECK(escaped.find("alert(1)") != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(folder / "hacked"));
}

TEST_CASE("without the programs that draw there is one message, and the page has its tables",
          "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tests::grid_plan(3));
    const auto none = run(folder, "PATH=/nowhere HESTREL report plan.yaml --out page.html");
    CHECK(none.code == 3);
    CHECK(none.err.find("is not installed, so no figure can be drawn") != std::string::npos);
    CHECK(std::count(none.err.begin(), none.err.end(), '\n') == 1);
    const std::string page = tests::contents(folder / "page.html");
    CHECK(page.find("There are no figures: ") != std::string::npos);
    CHECK(page.find("<table") != std::string::npos);
    CHECK(page.find("<svg") == std::string::npos);
    // Graphviz alone missing: said by its name.
    const auto no_dot =
        run(folder, "mkdir bin && ln -s $(which gnuplot) bin/gnuplot && PATH=TMP/bin "
                    "HESTREL report plan.yaml --out page.html");
    CHECK(no_dot.code == 3);
    CHECK(no_dot.err == "hestrel: Graphviz is not installed, so no figure can be drawn (apt-get "
                        "install graphviz, or --no-figures)\n");
    CHECK(run(folder, "HESTREL report plan.yaml --no-figures --out page.html").err == "");
}

TEST_CASE("what can't be written is said, and wrong usage too", "[program]") {
    const Folder folder;
    folder.write("plan.yaml", tests::grid_plan(2));
    CHECK(run(folder, "HESTREL report plan.yaml --no-figures --out .").code == 3);
    CHECK(run(folder, "HESTREL report").code == 2);
    CHECK(run(folder, "HESTREL report plan.yaml --route nowhere").code == 2);
    CHECK(run(folder, "HESTREL report nothere.yaml").code == 3);
    CHECK(run(folder, "HESTREL report --help").out.find("one HTML file") != std::string::npos);
}
