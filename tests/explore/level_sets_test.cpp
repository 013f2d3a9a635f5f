// Sets of levels: each once, read and changed level by level.

#include "explore/level_sets.hpp"

#include "explore/explorer.hpp"
#include "explore/memo.hpp"
#include "support/dice.hpp"
#include "support/plan_text.hpp"

#include <fmt/format.h>

using namespace hestrel;
using explore::LevelSets;
using explore::LevelThere;
using plan::LevelId;

namespace {

/// So many levels, every second one a sublevel of the one before.
plan::Plan plan_of_levels(int count) {
    std::string text = "hestrel: 1\nlevels:\n";
    for (int i = 0; i < count; i += 2)
        text += fmt::format("  l{}: {{sublevels: {{l{}: {{}}}}}}\n", i, i + 1);
    return tests::plan_from(text);
}

/// A level in each condition that it can be in, where players hurry.
std::vector<LevelThere> conditions(LevelId level) {
    std::vector<LevelThere> all{{level, false, false, false, false, true}};
    for (const bool blocked : {false, true}) {
        all.push_back({level, false, false, false, blocked, false});
        all.push_back({level, false, true, false, blocked, false});
        all.push_back({level, true, true, false, blocked, false});
        all.push_back({level, false, false, true, blocked, false});
        all.push_back({level, false, true, true, blocked, false});
    }
    return all;
}

} // namespace

TEST_CASE("a set of levels is what was put in, in every condition, and is numbered once") {
    const plan::Plan plan = plan_of_levels(40);
    const plan::LevelTree tree = plan::level_tree(plan.levels);
    explore::Pages pages;
    LevelSets sets(tree, pages);
    tests::Dice dice(3);
    std::map<std::vector<LevelThere>, std::uint32_t> known;
    for (int i = 0; i < 2'000; ++i) {
        std::vector<LevelThere> levels;
        for (const LevelId level : plan.levels.ids()) {
            if (!dice.one_in(30)) continue;
            const std::vector<LevelThere> all = conditions(level);
            levels.push_back(
                all[static_cast<std::size_t>(dice.below(static_cast<int>(all.size())))]);
        }
        const std::uint32_t set = sets.number(levels);
        const auto [found, fresh] = known.try_emplace(levels, set);
        CHECK(found->second == set);
        CHECK(sets.levels(set) == levels);
        for (const LevelId level : plan.levels.ids()) {
            CHECK(sets.is_there(set, level) == explore::is_there(levels, level));
            CHECK(sets.is_shown(set, level) == explore::is_shown(levels, level));
        }
    }
    CHECK(sets.size() == known.size());
}

TEST_CASE("what makes one set another makes the same of sets that differ elsewhere") {
    const plan::Plan plan = plan_of_levels(40);
    const plan::LevelTree tree = plan::level_tree(plan.levels);
    explore::Pages pages;
    LevelSets sets(tree, pages);
    const auto shown = [](std::uint32_t level) {
        return LevelThere{LevelId{level}, true, true, false, false, false};
    };
    const std::uint32_t before = sets.number({shown(0), shown(20)});
    const std::uint32_t after = sets.number({shown(0), shown(31)});
    const explore::FewBits writes =
        explore::difference(sets.row(before), sets.row(after), sets.words());
    CHECK(sets.changed(before, writes) == after);
    CHECK(sets.changed(sets.number({shown(7), shown(20)}), writes) ==
          sets.number({shown(7), shown(31)}));
    CHECK(sets.changed(before, {}) == before);
}

TEST_CASE("what goes on is what is on its way, leaves or waits, and all above it") {
    const plan::Plan plan = plan_of_levels(6);
    const plan::LevelTree tree = plan::level_tree(plan.levels);
    explore::Pages pages;
    LevelSets sets(tree, pages);
    const auto level = [&](const char* name) { return tests::named(plan.levels, name); };
    const LevelThere l0{level("l0"), true, true, false, false, false};
    const LevelThere l1{level("l1"), false, true, false, false, false};
    const LevelThere l2{level("l2"), true, true, false, false, false};
    const LevelThere l4{level("l4"), false, false, true, false, false};
    CHECK(sets.going_on(sets.number({l0, l2})) == 0);
    const std::uint32_t some = sets.going_on(sets.number({l0, l1, l4}));
    CHECK(some != 0);
    std::vector<LevelId> moving{l0.level, l1.level, l4.level};
    std::sort(moving.begin(), moving.end());
    CHECK(sets.what_goes_on(some) == moving);
    CHECK(sets.going_on(sets.number({l0, l1, l2, l4})) == some); // l2 has nothing to do with it
    CHECK(sets.going_on(sets.number({l0, l1})) != some);
}

TEST_CASE("whether any of some levels holds a kit is one question") {
    const plan::Plan plan = plan_of_levels(40);
    const plan::LevelTree tree = plan::level_tree(plan.levels);
    explore::Pages pages;
    LevelSets sets(tree, pages);
    const explore::Layout layout(plan, 1);
    explore::Stands stands;
    explore::ReadValues values(layout, sets, stands);
    const auto ready = [](std::uint32_t level) {
        return LevelThere{LevelId{level}, false, false, false, false, false};
    };
    const std::uint32_t users =
        values.users(LevelSets::all_bits({LevelId{39U}, LevelId{3U}, LevelId{17U}}));
    CHECK(values.users(LevelSets::all_bits({LevelId{3U}, LevelId{17U}, LevelId{39U}})) == users);
    CHECK(!values.is_held(users, sets.row(sets.number({}))));
    CHECK(!values.is_held(users, sets.row(sets.number({ready(2), ready(16), ready(18)}))));
    CHECK(values.is_held(users, sets.row(sets.number({ready(2), ready(17)}))));
    CHECK(values.is_held(users, sets.row(sets.number({ready(39)}))));
}

namespace {

/// A row of cells, and what else is said of each.
std::string row_of_cells(int count, const std::string& more) {
    std::string text =
        "hestrel: 1\ndevices: {box: {memory: {total: 400}, read: {rate: 100}, frame: "
        "{fps: 60}}}\nkits: {grass: {memory: {t: 8}}}\nplayers: {carrier: {speeds: "
        "{walk: 2}, count: 2}}\nlevels:\n  base: {memory: {t: 1}, entries: {in: "
        "w0}}\n";
    std::string waypoints = "waypoints: {";
    std::string paths = "paths: [";
    std::string edition = "base";
    for (int i = 0; i < count; ++i) {
        text += fmt::format("  c{}: {{memory: {{t: 10}}, {}area: [{{min: [{}, 0, 0], max: [{}, 9, "
                            "100]}}], near: {{load: 60, unload: 160}}}}\n",
                            i, more, i * 100, i * 100 + 100);
        waypoints += fmt::format("{}w{}: [{}, 0, 50]", i == 0 ? "" : ", ", i, i * 100 + 50);
        if (i > 0) paths += fmt::format("{}[w{}, w{}]", i == 1 ? "" : ", ", i - 1, i);
        edition += fmt::format(", c{}", i);
    }
    return text + "editions: {all: {levels: [" + edition + "]}}\n" + waypoints + "}\n" + paths +
           "]\n";
}

std::size_t moves_tried(const std::string& text) {
    const plan::Plan plan = tests::plan_from(text);
    explore::Options options;
    options.edition = plan::EditionId{0U};
    options.devices = {plan::DeviceId{0U}};
    explore::Explorer explorer(plan, options);
    explorer.run();
    CHECK(explorer.complete());
    std::size_t tried = 0;
    explorer.for_outcomes([&](const explore::Outcome&) { ++tried; });
    return tried;
}

} // namespace

TEST_CASE("a move in one corner of a world is worked out once, whatever is loaded elsewhere") {
    // By where the other player is, and which cells lag behind, there are more and more situations;
    // of what a move goes by there are as many cases in the middle of a long row as of a short one.
    for (const std::string kit : {"", "kits: [grass], "}) {
        CAPTURE(kit);
        const std::size_t ten = moves_tried(row_of_cells(10, kit));
        const std::size_t eleven = moves_tried(row_of_cells(11, kit));
        const std::size_t twelve = moves_tried(row_of_cells(12, kit));
        CHECK(twelve - eleven == eleven - ten);
    }
}
