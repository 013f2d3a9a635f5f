#include "source/yaml_tree.hpp"

#include <catch2/catch.hpp>
#include <fmt/format.h>

using namespace hestrel;
using source::Value;
using source::YamlError;
using source::YamlTree;

namespace {

plan::Place error_place(const std::string& text) {
    try {
        const YamlTree tree(text, 0);
        (void)tree.root().entries();
        for (const auto& [key, value] : tree.root().entries()) (void)value.entries();
    } catch (const YamlError& error) {
        return error.place;
    }
    return {};
}

} // namespace

TEST_CASE("every value knows its line and column") {
    const YamlTree tree("a: 1\nb:\n  - x\n  - {c: y}\n", 3);
    const auto entries = tree.root().entries();
    REQUIRE(entries.size() == 2);
    CHECK(entries[0].first.place() == plan::Place{3, 1, 1});
    CHECK(entries[0].second.place() == plan::Place{3, 1, 4});
    const auto list = entries[1].second.elements();
    CHECK(list[1].entries()[0].second.place() == plan::Place{3, 4, 9});
}

TEST_CASE("aliases stand for what their anchor holds; merge keys fill in what is not there") {
    const YamlTree tree(
        "base: &b {x: 1, y: 2}\nother: &o {y: 5, z: 6}\nuse: {<<: [*b, *o], y: 9}\nsame: *b\n", 0);
    const auto entries = tree.root().entries();
    const auto use = entries[2].second.entries();
    REQUIRE(use.size() == 3);
    CHECK(use[0].second.text() == "9");
    CHECK(use[1].second.text() == "1");
    CHECK(use[2].second.text() == "6");
    CHECK(use[1].second.place() == plan::Place{0, 1, 14}); // where it is written
    CHECK(entries[3].second.entries().size() == 2);
}

TEST_CASE("one key of a mapping, its own before those of merge keys") {
    const YamlTree tree("base: &b {x: 1, y: 2}\nuse: {<<: *b, y: 9, y: 10}\nsame: *b\nlist: [x]\n",
                        0);
    const Value root = tree.root();
    CHECK(root.at("use").at("x").text() == "1");
    CHECK(root.at("use").at("y").text() == "9");
    CHECK(root.at("same").at("y").text() == "2");
    CHECK_FALSE(root.at("use").at("z"));
    CHECK_FALSE(root.at("list").at("x")); // no mapping
    CHECK_FALSE(Value().at("x"));
    std::string all;
    root.at("use").for_entries([&](const Value& key, const Value& value) {
        all.append(key.text()).append("=").append(value.text()).append(" ");
    });
    CHECK(all == "y=9 y=10 x=1 ");
}

TEST_CASE("broken YAML is refused with its place") {
    CHECK(error_place("a: [1, 2\nb: 3\n").line == 2);
    CHECK(error_place("a: 1\n\tb: 2\n").line == 2);
    CHECK(error_place("a: *nowhere\n") == plan::Place{0, 1, 4});
    CHECK(error_place("a: &a [*a]\n") == plan::Place{0, 1, 8});
    CHECK(error_place("a: 1\n---\nb: 2\n").line == 2);
    CHECK(error_place("a: \"\xff\xfe\"\n").line != 0);
    CHECK(error_place("a: {<<: 3}\n").line == 1);
    CHECK(error_place(std::string(500, '[')).line == 1);
}

TEST_CASE("aliases that expand without bound are refused") {
    std::string text = "a0: &a0 [x, x, x, x, x, x, x, x, x, x]\n";
    for (int i = 1; i < 12; ++i) {
        text += fmt::format("a{}: &a{} [", i, i);
        for (int j = 0; j < 10; ++j) text += fmt::format("{}*a{}", j == 0 ? "" : ", ", i - 1);
        text += "]\n";
    }
    CHECK(error_place(text).line == 1);
}

TEST_CASE("an empty file is nothing; a file of 100,000 values is no problem") {
    CHECK(YamlTree("", 0).root().is_null());
    CHECK(YamlTree("# only a comment\n", 0).root().is_null());
    std::string text;
    for (int i = 0; i < 100'000; ++i) text += "- x\n";
    CHECK(YamlTree(text, 0).root().elements().size() == 100'000);
}
