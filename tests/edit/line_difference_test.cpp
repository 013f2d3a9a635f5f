// Which lines change.

#include "edit/line_difference.hpp"

#include "support/printing.hpp"

using hestrel::edit::line_difference;

TEST_CASE("lines that change, come and go, each with its place") {
    CHECK(line_difference("a\nb\nc\n", "a\nb\nc\n").empty());
    const auto changed = line_difference("a\nb\nc\nd\n", "a\nB\nc\nnew\nd\n");
    REQUIRE(changed.size() == 2);
    CHECK(changed[0].line == 2);
    CHECK(changed[0].before == std::vector<std::string>{"b"});
    CHECK(changed[0].after == std::vector<std::string>{"B"});
    CHECK(changed[1].line == 4);
    CHECK(changed[1].before.empty());
    CHECK(changed[1].after == std::vector<std::string>{"new"});
    const auto gone = line_difference("a\nb\n", "b");
    REQUIRE(gone.size() == 1);
    CHECK(gone[0].before == std::vector<std::string>{"a"});
    const auto all = line_difference("", "x\ny\n");
    REQUIRE(all.size() == 1);
    CHECK(all[0].line == 1);
    CHECK(all[0].after == std::vector<std::string>{"x", "y"});
    CHECK(line_difference("x\ny", "").front().before == std::vector<std::string>{"x", "y"});
}
