// Levels that stream by distance and that nothing goes by: left out of situations, and counted in
// memory wherever they may be.

#include "explore/explored.hpp"
#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "support/situations.hpp"

#include <fmt/format.h>

using namespace hestrel;
using explore::Explorer;
using plan::LevelId;
using tests::named;

namespace {

explore::Options options_for(const plan::Plan& plan, bool fold) {
    explore::Options options = tests::exploring_of(plan);
    options.most_situations = 20'000;
    options.tell_players_apart = true;
    options.fold_near = fold;
    return options;
}

/// The most of one measure, settled or during moves; below 0 where there is none.
std::int64_t most_of(const Explorer& explorer, std::size_t measure, bool during) {
    const auto& worst = explorer.worst().worst(measure, during);
    return worst.empty() ? -1 : worst.front().amount;
}

/// What was found, but for memory and frames.
std::set<std::string> names_found(const explore::Explored& explored) {
    std::set<std::string> all;
    for (const explore::Found& each : explored.found) {
        const plan::Finding& finding = each.finding;
        if (finding.name == "over-budget" || finding.name == "slow-frames") continue;
        all.insert(fmt::format("{} {}:{}", finding.name, finding.place.line, finding.place.column));
    }
    return all;
}

/// A row of cells of 100 m, a waypoint in the middle of each, 10, 11, 12 … MiB; home has 1.
plan::Plan cells_in_a_row(int count, const std::string& more = {}) {
    std::string text = "hestrel: 1\n"
                       "devices: {box: {memory: {total: 4000}, read: {rate: 100}, frame: {fps: "
                       "60}}}\nplayers: {carrier: {speeds: {walk: 2}}}\n"
                       "levels:\n  home: {memory: {texture: 1}, entries: {in: w0}}\n";
    std::string waypoints = "waypoints: {";
    std::string paths = "paths:\n";
    for (int i = 0; i < count; ++i) {
        text += fmt::format("  c{}: {{memory: {{texture: {}}}, area: [{{min: [{}, 0, 0], max: [{}, "
                            "9, 100]}}], near: {{load: 20, unload: 120}}}}\n",
                            i, 10 + i, 100 * i, 100 * i + 100);
        waypoints += fmt::format("{}w{}: [{}, 0, 50]", i == 0 ? "" : ", ", i, 100 * i + 50);
        if (i > 0) paths += fmt::format("  - [w{}, w{}]\n", i - 1, i);
    }
    return tests::plan_from(text + "editions: {all: {levels: [home]}}\n" + waypoints + "}\n" +
                            paths + more);
}

} // namespace

TEST_CASE("a folded row of cells has a situation for each place, and counts what may be there") {
    const plan::Plan plan = cells_in_a_row(5);
    const auto folded = explore::explore_all(plan, options_for(plan, true));
    const auto full = explore::explore_all(plan, options_for(plan, false));
    CHECK(folded->folded().count() == 5);
    CHECK(full->folded().count() == 0);
    CHECK(folded->situations() == 5);
    // At the second place from the left the third cell may be there, or the first alone: of four
    // directions in which a player came, two differ.
    CHECK(full->situations() > 5);
    // In the middle of a cell, 50 m from both neighbours, these may be there: 12 + 13 + 14 at the
    // last but one, and home. On the way to the last that may still be so, and no more: the one
    // three before it is 150 m away.
    CHECK(most_of(*folded, 0, false) == plan::mebibytes(1 + 12 + 13 + 14).count);
    // At 270 m the fifth is 130 m away, the first 170: four may be there from 280 m on to 320.
    CHECK(most_of(*folded, 0, true) == plan::mebibytes(1 + 11 + 12 + 13 + 14).count);
}

TEST_CASE("what anything goes by is not folded") {
    const auto count = [](const std::string& more) {
        const plan::Plan plan = cells_in_a_row(5, more);
        return explore::FoldedNear(plan, plan::level_tree(plan.levels), {}, {}).count();
    };
    const auto trigger = [&](const std::string& steps, const std::string& more = "") {
        return count("triggers: {t: {" + more + "sphere: {at: [0, 0, 0], radius: 5}, steps: [" +
                     steps + "]}}\n");
    };
    CHECK(count("") == 5);
    CHECK(trigger("{show: [home]}") == 5);
    CHECK(trigger("{show: [c1, c2]}") == 3);
    CHECK(trigger("{load: [c1]}") == 4);
    CHECK(trigger("{unload: [c1]}") == 4);
    CHECK(trigger("{wait: {shown: [c4]}, at-most: 2}") == 4);
    CHECK(trigger("{switch: {to: home, with: [c3]}}") == 4);
    CHECK(trigger("{keep-only: [home]}") == 0); // lets all others go
    CHECK(trigger("{wait: {until: not shown(c0)}, at-most: 2}") == 4);
    CHECK(trigger("{show: [home], when: ready(c0)}") == 4);
    CHECK(trigger("", "in: c2, ") == 4);
    CHECK(trigger("", "when: shown(c2), ") == 4);
    CHECK(count("gates: {g: {needs: [c1]}}\n") == 4);
    CHECK(count("rules:\n  - never-together: [c1, c2]\n") == 3);
    CHECK(count("menus: {m: {in: c1, items: {go: {steps: []}}}}\n") == 4);
    CHECK(count("facts: {f: {initial: 0, range: [0, 1], lifetime: level, of: c1}}\n") == 4);
    CHECK(count("routes: {r: {edition: all, steps: [{until: shown(c1)}]}}\n") == 5);
    CHECK(count("routes: {r: {edition: all, start: {loaded: [c1]}, steps: []}}\n") == 4);
}

TEST_CASE("folded situations are those of the full search without those levels") {
    std::size_t compared = 0;
    std::size_t fewer = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(80); ++seed) {
        CAPTURE(seed);
        const auto rich = seed % 3 == 2 ? tests::Rich::all : tests::Rich::yes;
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, rich).with_land());
        explore::Options options = options_for(plan, true);
        options.quit_anywhere = seed % 5 == 0;
        const explore::Explored folded = explore::explored(plan, options);
        options.fold_near = false;
        const explore::Explored full = explore::explored(plan, options);
        const Explorer& few = *folded.explorer;
        const Explorer& many = *full.explorer;
        if (!few.complete() || !many.complete() || !few.folded().any()) continue;
        ++compared;
        if (few.situations() < many.situations()) ++fewer;
        CHECK((tests::keys_of(few) == tests::keys_of(many, few.folded())));
        for (std::size_t i = 0; i < few.worst().measures().size(); ++i) {
            CAPTURE(i);
            CHECK(most_of(few, i, false) >= most_of(many, i, false));
            CHECK(most_of(few, i, true) >= most_of(many, i, true));
        }
        CHECK(names_found(folded) == names_found(full));
    }
    CHECK(compared > 40);
    CHECK(fewer > 20);
}

TEST_CASE("the set of folded situations is that of a plain explorer without those levels") {
    std::size_t compared = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(40); ++seed) {
        CAPTURE(seed);
        const auto rich = seed % 3 == 2 ? tests::Rich::all : tests::Rich::yes;
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, rich).with_land());
        explore::Options options = options_for(plan, true);
        options.most_situations = 3'000;
        const auto explorer = explore::explore_all(plan, options);
        if (!explorer->complete() || !explorer->folded().any()) continue;
        ++compared;
        CHECK((tests::keys_of(*explorer) == tests::slow_situations(plan, *explorer)));
    }
    CHECK(compared > 15);
}
