// Values put into plan files in place.

#include "edit/applied.hpp"
#include "source/yaml_writer.hpp"
#include "support/plan_text.hpp"

using namespace hestrel;
using edit::with_value;

namespace {

std::string set(const std::string& text, const std::string& setting) {
    return with_value(text, source::parse_override(setting));
}

} // namespace

TEST_CASE("several values go into one text, each in its place") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] =
        "hestrel: 1\nlevels:\n  a: {packed: 1} # first\n  b:\n    packed: 2\n";
    const auto changed = edit::applied(disk, "plan.yaml",
                                       {{{"levels", "b", "packed"}, "3"},
                                        {{"levels", "b", "title"}, "B"},
                                        {{"levels", "c"}, "  packed: 4\n  sublevels:\n    d: {}\n"},
                                        {{"levels", "a", "packed"}, "5"},
                                        {{"levels", "a", "packed"}, "6"},
                                        {{"levels", "c", "title"}, "C"}});
    REQUIRE(changed.size() == 1);
    CHECK(changed.front().second ==
          "hestrel: 1\nlevels:\n  a: {packed: 6} # first\n  b:\n    packed: 3\n    title: B\n  "
          "c:\n    packed: 4\n    sublevels:\n      d: {}\n    title: C\n");
}

TEST_CASE("new lines end as those around them do, and fill what is empty") {
    CHECK(with_value("a:\r\n  b: 1\r\nc: 2\r\n", {{"a", "d"}, "3"}) ==
          "a:\r\n  b: 1\r\n  d: 3\r\nc: 2\r\n");
    CHECK(with_value("a:  # nothing yet\nc: 2\n", {{"a", "d"}, "3"}) ==
          "a:  # nothing yet\n  d: 3\nc: 2\n");
}

TEST_CASE("applied: what is there is replaced, and all else stays") {
    CHECK(set("a: 1 # one\nb: {c: [1, 2], d: 'x'}\n", "a=7") ==
          "a: 7 # one\nb: {c: [1, 2], d: 'x'}\n");
    CHECK(set("a: 1\nb: {c: [1, 2], d: 'x'} # b\n", "b.c=[3]") ==
          "a: 1\nb: {c: [3], d: 'x'} # b\n");
    CHECK(set("a:\n  - 1\n  - b: 2 # two\n\n# end\n", "a.1.b=5 s") ==
          "a:\n  - 1\n  - b: 5 s # two\n\n# end\n");
    // What is written by indentation ends with its last part, not with the comments behind it.
    CHECK(set("a:\n  b: 1\n  c: 2 # two\n# end\nd: 3\n", "a={b: 9}") ==
          "a:\n  {b: 9} # two\n# end\nd: 3\n");
    CHECK(set("a:\nb: 1\n", "a={c: 1}") == "a: {c: 1}\nb: 1\n");
    CHECK(set("ü: 1\nb: {ä: 1, c: 2}\n", "b.c=3") == "ü: 1\nb: {ä: 1, c: 3}\n");
}

TEST_CASE("applied: new keys and elements come last") {
    CHECK(set("a: {b: 1}\n", "a.c=2") == "a: {b: 1, c: 2}\n");
    CHECK(set("a: {}\n", "a.c=2") == "a: {c: 2}\n");
    CHECK(set("a:\n  b: 1 # one\n\nd: 4\n", "a.c=2") == "a:\n  b: 1 # one\n  c: 2\n\nd: 4\n");
    CHECK(set("a: 1", "b=2") == "a: 1\nb: 2");
    CHECK(set("a: [1, 2]\n", "a.2=3") == "a: [1, 2, 3]\n");
    CHECK(set("a: []\n", "a.0=3") == "a: [3]\n");
    CHECK(set("a:\n  - x: 1\n    y: 2\n  # more\nb: 1\n", "a.1={z: 3}") ==
          "a:\n  - x: 1\n    y: 2\n  - {z: 3}\n  # more\nb: 1\n");
    CHECK(set("a:\n- 1\n- 2\n", "a.2=3") == "a:\n- 1\n- 2\n- 3\n");
}

TEST_CASE("applied: what is shared, or not there, is said") {
    CHECK_THROWS_AS(set("a: 1\n", "b.c=1"), edit::ApplyError);
    CHECK_THROWS_AS(set("", "b=1"), edit::ApplyError);
    CHECK_THROWS_AS(set("a: {b: 1}\n", "a.b.c=1"), edit::ApplyError);

    source::MemoryDisk disk;
    disk.files["plan.yaml"] = "hestrel: 1\nlevels:\n  hall: &room {memory: {texture: 10}}\n"
                              "  loft: {<<: *room, title: Loft}\n  attic: *room\n";
    // The loft's own key wins over what it merges.
    const auto changed =
        edit::applied(disk, "plan.yaml", {source::parse_override("levels.loft.persist=true")});
    REQUIRE(changed.size() == 1);
    CHECK(changed.front().second.find("{<<: *room, title: Loft, persist: true}") !=
          std::string::npos);
    // What is changed in the hall would change in the other two.
    CHECK_THROWS_AS(
        edit::applied(disk, "plan.yaml", {source::parse_override("levels.hall.persist=true")}),
        edit::ApplyError);
    CHECK_THROWS_AS(
        edit::applied(disk, "plan.yaml", {source::parse_override("levels.attic.memory.texture=4")}),
        edit::ApplyError);
}

TEST_CASE("applied: in the file that has it, comments kept") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = "hestrel: 1\ninclude: [world.yaml] # the rest\n";
    disk.files["world.yaml"] = "# the world\nveils:\n  dawn: {min: 1 s}   # morning\n";
    const auto changed = edit::applied(disk, "plan.yaml",
                                       {source::parse_override("veils.dawn.min=2.5 s"),
                                        source::parse_override("veils.dusk={min: 1 s}")});
    REQUIRE(changed.size() == 1);
    CHECK(changed.front().first == "world.yaml");
    CHECK(changed.front().second ==
          "# the world\nveils:\n  dawn: {min: 2.5 s}   # morning\n  dusk: {min: 1 s}\n");
    CHECK(disk.files["world.yaml"].find("2.5") == std::string::npos);
}

TEST_CASE("flow yaml: reads as the same value again") {
    for (const char* text :
         {"{a: 1, b: [x, 'true', \"1\", 1.5, null], c: {d: \"- e\", f: 'g: h', i: \"\"}}",
          "[{veil: dawn}, {wait: {until: 'speed == 0 and not veiled'}}, {set: {n: +1}}]",
          "{k: \"line\\nbreak\", '#': \"a #b\", 'x y': '@', z: -5, minus: '-', ä: ö}"}) {
        const source::YamlTree once(text, 0);
        const std::string written = source::flow_yaml(once.root());
        CAPTURE(written);
        const source::YamlTree again(written, 0);
        CHECK(source::flow_yaml(again.root()) == written);
        std::vector<std::pair<source::Value, source::Value>> open{{once.root(), again.root()}};
        while (!open.empty()) {
            const auto [one, other] = open.back();
            open.pop_back();
            CHECK(one.kind() == other.kind());
            CHECK(one.text() == other.text());
            CHECK(one.is_null() == other.is_null());
            const auto ours = one.elements();
            const auto theirs = other.elements();
            REQUIRE(ours.size() == theirs.size());
            for (std::size_t i = 0; i < ours.size(); ++i) open.emplace_back(ours[i], theirs[i]);
            const auto our_entries = one.entries();
            const auto their_entries = other.entries();
            REQUIRE(our_entries.size() == their_entries.size());
            for (std::size_t i = 0; i < our_entries.size(); ++i) {
                CHECK(our_entries[i].first.text() == their_entries[i].first.text());
                open.emplace_back(our_entries[i].second, their_entries[i].second);
            }
        }
    }
}
