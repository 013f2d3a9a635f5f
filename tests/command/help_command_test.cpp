// hestrel help, and how a page reads on a terminal.

#include "command/embedded.hpp"
#include "command/page_text.hpp"
#include "support/program.hpp"

#include <catch2/catch.hpp>

using namespace hestrel;
using command::page_text;
using tests::Folder;
using tests::run;

TEST_CASE("a page as text: headings, paragraphs, lists and code") {
    CHECK(page_text("# A lift\n\nIt is slow.\nIt is **old**.\n\n## Its parts\n") ==
          "A lift\n======\n\nIt is slow. It is old.\n\nIts parts\n---------\n");
    CHECK(page_text("- one\n  goes on\n- two\n\n1. first\n") ==
          "- one goes on\n- two\n\n1. first\n");
    CHECK(page_text("```yaml a.yaml\na: [1]\n\n# no heading\n```\nend\n") ==
          "    a: [1]\n\n    # no heading\nend\n");
    const std::string word = "lighthouse ";
    std::string line = "- ";
    for (int i = 0; i < 10; ++i) line += word;
    const std::string text = page_text(line + "\n");
    CHECK(text.find("\n  lighthouse") != std::string::npos); // goes on below its own beginning
    CHECK(text.find('\n') <= 100);
}

TEST_CASE("a page as text: links name their topic, marks are gone, code keeps them") {
    CHECK(page_text("See [the recipe](../guide/saving.md#x), [walk](walk.md).\n") ==
          "See the recipe (saving), walk.\n");
    CHECK(page_text("[A site](https://example.org/a.md)\n") == "A site\n");
    CHECK(page_text("`a **b** [c](d.md)` is code\n") == "`a **b** [c](d.md)` is code\n");
    CHECK(page_text("a [b] c\n") == "a [b] c\n");
    CHECK(page_text("![a picture](a.png)\n\nend\n") == "end\n");
    CHECK(page_text("<a id=\"x\"></a>here\n") == "here\n");
    CHECK(page_text("an open `quote\n") == "an open `quote\n");
}

TEST_CASE("a page as text: of tables, each term with what is said of it") {
    CHECK(page_text("| key | does |\n|---|---|\n| `a` | one |\n| `b` | two |\n") ==
          "  `a`\n      one\n  `b`\n      two\n");
    CHECK(page_text("| event | subject | detail |\n|---|---|---|\n| fired | trigger | |\n") ==
          "  fired\n      subject: trigger\n");
    CHECK(page_text("| a | b |\n|---|---|\n| x \\| y | z |\n") == "  x | y\n      z\n");
}

TEST_CASE("every page can be read as text, and has no marks of links left") {
    const auto& pages = command::embedded_pages();
    CHECK(pages.size() > 40);
    for (const source::EmbeddedFile& page : pages) {
        INFO(page.name);
        const std::string text = page_text(page.text);
        CHECK(text.size() > 200);
        CHECK(text.find("](") == std::string::npos);
    }
}

TEST_CASE("help: pages, commands, findings, and what is none", "[program]") {
    const Folder folder;
    const auto list = run(folder, "HESTREL help");
    CHECK(list.code == 0);
    CHECK(list.out.find("(first-plan)") != std::string::npos);
    CHECK(list.out.find("Reference\n---------") != std::string::npos);
    CHECK(run(folder, "HESTREL help walk").out.starts_with("hestrel walk\n============\n"));
    CHECK(run(folder, "HESTREL help model").out.starts_with("The model"));
    CHECK(run(folder, "HESTREL help stuck").out ==
          run(folder, "HESTREL check --explain stuck").out);
    const auto wrong = run(folder, "HESTREL help savin");
    CHECK(wrong.code == 2);
    CHECK(wrong.out.empty());
    CHECK(wrong.err ==
          "hestrel: there is no page or finding \"savin\"; did you mean \"saving\"?; hestrel "
          "help lists them\n");
    CHECK(run(folder, "HESTREL help walk check").code == 2);
}
