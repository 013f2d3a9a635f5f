// Level lists of spreadsheets.

#include "exchange/import.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "tables/plan_tables.hpp"

using namespace hestrel;
using exchange::ImportedFile;
using tests::Lines;

namespace {

constexpr std::string_view small_plan = R"(hestrel: 1
devices: {box: {memory: {total: 100}, read: {rate: 10}, frame: {fps: 30}}}
purposes: {playable: {needs: [light]}}
levels:
  hall:
    title: The Hall   # as on the sign
    memory: {texture: 10, geometry: 2..4}
    sublevels:
      loft: {packed: 3}
  yard: {memory: {texture: 5}, objects: 12}
)";

ImportedFile list_into(const std::string& csv, const std::string& plan = std::string(small_plan)) {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = plan;
    disk.files["levels.csv"] = csv;
    return exchange::import_file(disk, "plan.yaml", "levels.csv");
}
std::string text_of(const ImportedFile& imported) {
    CHECK(imported.what.errors == Lines{});
    return imported.files.empty() ? std::string() : imported.files.front().second;
}

} // namespace

TEST_CASE("level list: figures change in place, an empty cell says nothing") {
    const ImportedFile imported =
        list_into("level,title,texture,geometry,packed,objects\r\nhall,,12,2..4,7.5,\r\n"
                  "yard,The Yard,5 MiB,,,12\r\n");
    std::string expected(small_plan);
    expected.replace(expected.find("texture: 10"), 11, "texture: 12");
    expected.replace(expected.find("      loft: {packed: 3}"), 23,
                     "      loft: {packed: 3}\n    packed: 7.5");
    expected.replace(expected.find("objects: 12}"), 12, "objects: 12, title: The Yard}");
    CHECK(text_of(imported) == expected);
    CHECK(imported.what.changed == Lines{"plan.yaml:5:3: level hall: texture 10 → 12, packed 7.5",
                                         "plan.yaml:10:3: level yard: title The Yard"});
    REQUIRE(imported.what.kept.size() == 1);
    CHECK(imported.what.kept.front().name == "loft");
}

TEST_CASE("level list: new levels stand below their parents, in whatever order they come") {
    const ImportedFile imported =
        list_into("packed,parent,level,texture\n1,annex,cell,2\n4,,annex,\n2,hall,cellar,9\n");
    const std::string text = text_of(imported);
    CHECK(text.find("      cellar:\n        memory:\n          texture: 9\n        packed: 2\n") !=
          std::string::npos);
    CHECK(
        text.find("  annex:\n    packed: 4\n    sublevels:\n      cell:\n        memory:\n        "
                  "  texture: 2\n        packed: 1\n") != std::string::npos);
    CHECK(imported.what.added.size() == 3);
}

TEST_CASE("level list: what is wrong has its place, and nothing changes") {
    const auto errors = [](const std::string& csv) {
        const ImportedFile imported = list_into(csv);
        CHECK(imported.files.empty());
        return imported.what.errors;
    };
    CHECK(errors("level,textures\nhall,1\n") ==
          Lines{"levels.csv:1:7: error: a level list has no column \"textures\", and the plan no "
                "such pool; did you mean \"texture\"?"});
    CHECK(errors("title\nhall\n") ==
          Lines{"levels.csv:1:1: error: a level list needs the column \"level\""});
    CHECK(errors("level,level\nhall,hall\n").size() == 1);
    CHECK(errors("level,packed\nhall,-3\n").size() == 1);
    CHECK(errors("level,packed\nhall,nan\n").size() == 1);
    CHECK(errors("level,packed\nhall,1e99\n").size() == 1);
    CHECK(errors("level,objects\nhall,2.5\n").size() == 1);
    CHECK(errors("level,objects\nhall\n") ==
          Lines{"levels.csv:2:1: error: 1 fields under 2 columns"});
    CHECK(
        errors("level\nHall\n") ==
        Lines{"levels.csv:2:1: error: there is no level \"Hall\"; it differs from \"hall\" only in "
              "capitals"});
    CHECK(errors("level\na level\n").size() == 1);
    CHECK(errors("level\nnew\nnew\n") == Lines{"levels.csv:3:1: error: new stands there twice"});
    CHECK(errors("level,parent\nnew,nowhere\n") ==
          Lines{"levels.csv:2:5: error: neither plan nor list has a level \"nowhere\""});
    CHECK(errors("level,parent\na,b\nb,a\n").size() == 2);
    CHECK(errors("level,purpose\nhall,playble\n") ==
          Lines{"levels.csv:2:6: error: the plan has no purpose \"playble\"; did you mean "
                "\"playable\"?"});
}

TEST_CASE("level list: a level stays where it stands") {
    const ImportedFile imported = list_into("level,parent\nyard,hall\n");
    CHECK(imported.files.empty());
    CHECK(imported.what.notes ==
          Lines{"levels.csv:2: note: yard stands in no other level in the plan, and stays there"});
}

TEST_CASE("level list: a new plan has the pools and purposes of the list") {
    source::MemoryDisk disk;
    disk.files["new.yaml"] = exchange::new_plan_text("new.yaml");
    disk.files["levels.csv"] = "level,purpose,texture,sound\nhall,playable,10,0.5\nyard,,3,\n";
    const ImportedFile imported = exchange::import_file(disk, "new.yaml", "levels.csv");
    CHECK(text_of(imported) ==
          "hestrel: 1\nname: new\npurposes:\n  playable: {needs: []}\nlevels:\n"
          "  hall:\n    purpose: playable\n    memory:\n      texture: 10\n   "
          "   sound: 0.5\n  yard:\n    memory:\n      texture: 3\n");
}

TEST_CASE("level list: a plan's own list, imported again, changes nothing") {
    for (std::uint32_t seed = 0; seed < tests::seeds(40); ++seed) {
        CAPTURE(seed);
        tests::RandomPlan random(seed, tests::Rich::all);
        const std::string text = random.text();
        const ImportedFile imported = list_into(tables::levels_csv(tests::plan_from(text)), text);
        CHECK(imported.what.errors == Lines{});
        CHECK(imported.what.settings.empty());
        CHECK(imported.what.kept.empty());
    }
}

TEST_CASE("level list: many new levels are one stretch of work") {
    std::string csv = "level,parent,title,owner,texture,packed,objects\n";
    for (int i = 0; i < 400; ++i)
        csv += fmt::format("new{0},{1},New {0},coast,{0}.5,{0},{0}\n", i,
                           i % 4 == 0 ? std::string() : fmt::format("new{}", i - i % 4));
    const std::string text = text_of(list_into(csv));
    const plan::Plan plan = tests::read_text(text).plan;
    CHECK(plan.levels.size() == 3 + 400);
    CHECK(plan.levels[tests::named(plan.levels, "new7")].title == "New 7");
}
