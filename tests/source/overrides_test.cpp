// Setting values in a tree, and finding places in a text.

#include "source/overrides.hpp"
#include "source/source_text.hpp"
#include "source/yaml_json.hpp"
#include "source/yaml_tree.hpp"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace hestrel;

namespace {

/// The tree as JSON after setting a value, and whether there was a place for it.
std::pair<std::string, bool> after(const std::string& text, const std::string& override_text) {
    source::YamlTree tree(text, 0);
    const source::Override wanted = source::parse_override(override_text);
    const bool placed = tree.set(wanted.path, wanted.value, {3, 1, 1});
    return {source::yaml_as_json(tree.root()).dump(), placed};
}

} // namespace

TEST_CASE("set: a value that is there, a new key, an element of a list") {
    const std::string text = "a: {b: 1, c: [4, 5]}\n";
    CHECK(after(text, "a.b=2") == std::pair{std::string(R"({"a":{"b":2,"c":[4,5]}})"), true});
    CHECK(after(text, "a.d=x y") ==
          std::pair{std::string(R"({"a":{"b":1,"c":[4,5],"d":"x y"}})"), true});
    CHECK(after(text, "a.c.2={d: 6}") ==
          std::pair{std::string(R"({"a":{"b":1,"c":[4,5,{"d":6}]}})"), true});
    CHECK(after(text, "a.c.1=9").first == R"({"a":{"b":1,"c":[4,9]}})");
    CHECK(after(text, "a={b: [1, {c: 2}]}").first == R"({"a":{"b":[1,{"c":2}]}})");
    CHECK(after(text, "a.b=").first == R"({"a":{"b":null,"c":[4,5]}})");
}

TEST_CASE("set: what leads nowhere changes nothing") {
    const std::string text = "a: {b: 1, c: [4, 5]}\n";
    const std::string same = R"({"a":{"b":1,"c":[4,5]}})";
    CHECK(after(text, "x.y=1") == std::pair{same, false});
    CHECK(after(text, "a.b.c=1") == std::pair{same, false});
    CHECK(after(text, "a.c.7=1") == std::pair{same, false});
}

TEST_CASE("set: aliases and merge keys share what they shared, but for what is set") {
    CHECK(after("a: &x {k: 1}\nb: *x\n", "b.k=2").first == R"({"a":{"k":1},"b":{"k":2}})");
    CHECK(after("a: &x {k: {m: 1, n: 2}}\nb: {<<: *x}\n", "b.k.m=5").first ==
          R"({"a":{"k":{"m":1,"n":2}},"b":{"k":{"m":5,"n":2}}})");
    // What is set where the anchor stands does not reach its aliases either.
    CHECK(after("a: &x {k: 1}\nb: *x\nc: {<<: *x}\n", "a.k=2").first ==
          R"({"a":{"k":2},"b":{"k":1},"c":{"k":1}})");
    CHECK(after("a: &x {k: 1}\nb: *x\n", "a.j=2").first == R"({"a":{"k":1,"j":2},"b":{"k":1}})");
    CHECK(after("a: &x {k: 1}\nb: *x\n", "a=[3]").first == R"({"a":[3],"b":{"k":1}})");
    CHECK(after("a: &x [1, {k: 2}]\nb: *x\n", "b.1.k=3").first ==
          R"({"a":[1,{"k":2}],"b":[1,{"k":3}]})");
}

TEST_CASE("set: the new value's place is the one given; broken YAML is told") {
    source::YamlTree tree("a: 1\n", 0);
    tree.set({"a"}, "{b: 2}", {3, 1, 1});
    CHECK(tree.root().entries()[0].second.place() == plan::Place{3, 1, 1});
    CHECK_THROWS_AS(tree.set({"a"}, "{b: ", {3, 1, 1}), source::YamlError);
    CHECK_THROWS_AS(source::parse_override("a"), std::invalid_argument);
    CHECK_THROWS_AS(source::parse_override("=1"), std::invalid_argument);
    CHECK_THROWS_AS(source::parse_override("a..b=1"), std::invalid_argument);
    CHECK(source::parse_override("a.b=c=d").value == "c=d");
}

TEST_CASE("places in a text: as libyaml counts lines and columns") {
    const std::string text = "\xEF\xBB\xBF"
                             "a: ü\r\nb: [x]\rc: 1\n";
    const source::SourceText source(text);
    CHECK(source.line(1) == "a: ü");
    CHECK(source.line(2) == "b: [x]");
    CHECK(source.line(3) == "c: 1");
    CHECK(source.line(4).empty());
    CHECK(source.line(9).empty());
    CHECK(text.substr(*source.offset_of({0, 1, 1}), 1) == "a");
    CHECK(text.substr(*source.offset_of({0, 2, 5}), 1) == "x");
    CHECK_FALSE(source.offset_of({0, 0, 1}));
    CHECK_FALSE(source.offset_of({0, 9, 1}));
    // The same places as the parser's.
    const source::YamlTree tree(text, 0);
    for (const auto& [key, value] : tree.root().entries()) {
        const auto at = source.offset_of(key.place());
        REQUIRE(at);
        CHECK(text.substr(*at, 1) == key.text());
    }
}
