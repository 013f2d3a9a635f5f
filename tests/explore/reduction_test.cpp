// Ends of loads that nothing goes by are no moves: what is found stays the same.

#include "explore/reduction.hpp"

#include "explore/explored.hpp"
#include "plan/questions.hpp"
#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "support/situations.hpp"

#include <fmt/format.h>

using namespace hestrel;
using explore::Explorer;
using tests::named;

namespace {

explore::Options hurried_options(const plan::Plan& plan, bool all_ends) {
    explore::Options options = tests::exploring_of(plan);
    options.most_situations = 3'000;
    options.tell_all_ends = all_ends;
    return options;
}

/// Everything that is found, by name and place. What is the worst of all has the place of one of
/// the ways that are equally bad; which of them is met first is no finding.
std::multiset<std::string> found_in(const explore::Explored& explored) {
    std::multiset<std::string> all;
    for (const explore::Found& each : explored.found) {
        const plan::Finding& finding = each.finding;
        const bool worst_of_all = finding.name == "over-budget" || finding.name == "slow-frames";
        all.insert(worst_of_all ? finding.message
                                : fmt::format("{} {}:{}", finding.name, finding.place.line,
                                              finding.place.column));
    }
    return all;
}

/// The most memory and the longest frame of each device, settled and in moves.
std::vector<std::int64_t> most_in(const explore::Explored& explored) {
    std::vector<std::int64_t> most;
    for (const explore::BudgetUse& each : explore::budget_uses(explored.worst)) {
        for (const explore::WorstUse* use : {each.settled, each.during})
            most.push_back(use == nullptr ? -1 : use->used.count);
    }
    for (const explore::WorstFrame& each : explored.frames) most.push_back(each.work.count);
    return most;
}

/// A quay, and so many sheds that are shown at once when a carrier comes to the end of it.
plan::Plan row_of_sheds(int count, const std::string& more = {}) {
    std::string sheds;
    std::string names;
    for (int i = 0; i < count; ++i) {
        sheds +=
            fmt::format("  shed{}: {{memory: {{texture: {}}}, packed: {}}}\n", i, 10 + i, 30 + i);
        names += fmt::format("{}shed{}", i == 0 ? "" : ", ", i);
    }
    return tests::plan_from(
        "hestrel: 1\n"
        "devices: {box: {memory: {total: 4000}, read: {rate: 100}, unpack: {rate: 50, workers: 1}, "
        "frame: {fps: 60}}}\n"
        "levels:\n  quay: {memory: {texture: 1}, entries: {in: a}}\n" +
        sheds +
        "editions: {all: {levels: [quay]}}\n"
        "waypoints: {a: [0, 0, 0], b: [10, 0, 0]}\npaths: [[a, b]]\n"
        "players: {carrier: {speeds: {walk: 2}}}\n"
        "triggers: {t: {once: true, box: {min: [4, -1, -1], max: [6, 1, 1]}, steps: [{show: [" +
        names + "]}]}}\n" + more);
}

std::size_t situations_met(const plan::Plan& plan, bool all_ends) {
    explore::Options options = hurried_options(plan, all_ends);
    options.pace = explore::Pace::hurried;
    const auto explorer = explore::explore_all(plan, options);
    CHECK(explorer->complete());
    return explorer->situations();
}

} // namespace

TEST_CASE("k levels on their way that nothing goes by: two places each, not 3^k conditions") {
    // Before the trigger at a, and after it at both ends.
    CHECK(situations_met(row_of_sheds(4), false) == 1 + 2);
    // Each is on its way, there, or shown.
    CHECK(situations_met(row_of_sheds(4), true) == 1 + 2 * 3 * 3 * 3 * 3);
    // One is asked about: whether it is shown; then whether it has come, as well.
    const std::string gate = "gates: {g: {needs: [shed0]}}\n";
    CHECK(situations_met(row_of_sheds(4, gate), false) == 1 + 2 * 2);
    const std::string both =
        "menus: {m: {items: {go: {when: ready(shed0) and shown(shed0), steps: []}}}}\n";
    CHECK(situations_met(row_of_sheds(4, both), false) == 1 + 2 * 3);
}

TEST_CASE("which ends of loads are told") {
    const auto told = [](const std::string& more) {
        const plan::Plan plan = row_of_sheds(2, more);
        const explore::Reduction reduction =
            explore::silent_ends(plan, plan::level_tree(plan.levels), {}, {});
        const plan::LevelId shed = named(plan.levels, "shed0");
        return std::pair(reduction.tells_coming(shed), reduction.tells_showing(shed));
    };
    const auto menu = [&](const std::string& steps) {
        return told("menus: {m: {in: quay, items: {go: {steps: [" + steps + "]}}}}\n");
    };
    CHECK(told("") == std::pair(false, false));
    CHECK(menu("{load: [shed0]}, {hide: [shed0]}, {unload: [shed0]}") == std::pair(false, false));
    CHECK(menu("{wait: {shown: [shed0]}, at-most: 2}") == std::pair(false, true));
    CHECK(menu("{wait: {ready: [shed0]}, at-most: 2}") == std::pair(true, false));
    CHECK(menu("{switch: {to: shed0}}") == std::pair(true, true));
    CHECK(menu("{switch: {to: quay, with: [shed0]}}") == std::pair(true, true));
    CHECK(told("menus: {m: {in: shed0, items: {go: {steps: []}}}}\n") == std::pair(false, true));
    CHECK(told("gates: {g: {needs: [shed0]}}\n") == std::pair(false, true));
    CHECK(told("rules:\n  - never-together: [shed0, shed1]\n") == std::pair(false, true));
    CHECK(told("facts: {f: {initial: 0, range: [0, 1], lifetime: level, of: shed0}}\n") ==
          std::pair(true, true));
}

TEST_CASE("with fewer moves the same is found, and memory and frames are the same to the byte") {
    std::size_t compared = 0;
    std::size_t fewer = 0;
    std::size_t with_findings = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(40); ++seed) {
        CAPTURE(seed);
        constexpr std::array<tests::Rich, 3> richness{tests::Rich::no, tests::Rich::yes,
                                                      tests::Rich::all};
        tests::RandomPlan random(seed, richness.at(seed % 3));
        const plan::Plan plan =
            tests::plan_from(seed % 4 == 3 && seed % 3 != 0 ? random.with_land() : random.text());
        const explore::Explored calm = explore::explored(plan, hurried_options(plan, true));
        if (!calm.explorer->complete()) continue;
        const explore::Explored full =
            explore::explored_hurried(plan, hurried_options(plan, true), calm);
        if (!full.explorer->complete()) continue;
        const explore::Explored few =
            explore::explored_hurried(plan, hurried_options(plan, false), calm);
        CHECK(few.explorer->complete());
        CHECK(few.explorer->situations() <= full.explorer->situations());
        if (few.explorer->situations() < full.explorer->situations()) ++fewer;
        ++compared;
        if (!full.found.empty()) ++with_findings;
        CHECK(found_in(few) == found_in(full));
        CHECK(most_in(few) == most_in(full));
    }
    CHECK(compared > 20);
    CHECK(fewer * 4 > compared);
    CHECK(with_findings * 4 > compared);
}

TEST_CASE("what a game can't come to asks about no level") {
    // Nothing leads to the cellar in the small edition, so its trigger, and the switch by position
    // that it makes, ask about nothing there; a menu that a step opens can be pressed all the same.
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + R"(
levels:
  hall:   {memory: {texture: 1}, entries: {in: a}}
  attic:  {memory: {texture: 1}}
  cellar: {memory: {texture: 1}, entries: {down: c}}
  shed:   {memory: {texture: 1}}
waypoints: {a: [0, 0, 0], b: [20, 0, 0], c: [40, 0, 0]}
paths: [[a, b, c]]
players: {carrier: {speeds: {walk: 2}}}
editions: {small: {levels: [hall, attic]}, large: {levels: [hall, cellar]}}
triggers:
  ladder: {in: hall, box: {min: [10, -1, -1], max: [12, 1, 1]}, steps: [{show: [attic]}]}
  depths:
    in: cellar
    when: ready(attic)
    box: {min: [30, -1, -1], max: [32, 1, 1]}
    steps: [{next: {at: down}}, {open: desk}]
menus: {desk: {in: cellar, items: {out: {steps: [{wait: {ready: [shed]}}]}}}}
)");
    const plan::LevelTree tree = plan::level_tree(plan.levels);
    const auto level = [&](std::string_view name) { return tests::named(plan.levels, name); };
    const auto possible = [&](std::uint32_t edition, std::vector<plan::LevelId> also) {
        std::set<std::string> names;
        const explore::Possible all =
            explore::possible_in(plan, tree, plan::EditionId{edition}, also);
        for (const plan::LevelId id : plan.levels.ids())
            if (all.levels[id]) names.insert(plan.levels[id].name);
        return names;
    };
    CHECK(possible(0, {}) == std::set<std::string>{"attic", "hall"});
    CHECK(possible(0, {level("cellar")}) ==
          std::set<std::string>{"attic", "cellar", "hall", "shed"});
    CHECK(possible(1, {}) == std::set<std::string>{"attic", "hall"});
    const auto small = explore::silent_ends(plan, tree, plan::EditionId{0U}, {});
    CHECK_FALSE(small.tells_coming(level("attic")));
    CHECK_FALSE(small.tells_coming(level("shed")));
    const auto with_cellar =
        explore::silent_ends(plan, tree, plan::EditionId{0U}, {level("cellar")});
    CHECK(with_cellar.tells_coming(level("attic")));
    CHECK(with_cellar.tells_coming(level("shed")));
    // All that the edition lists can be the next.
    const plan::ListId list = plan.triggers[tests::named(plan.triggers, "depths")].steps;
    const auto& next = std::get<plan::SwitchStep>(plan.lists[list].steps.front().what);
    CHECK(plan::switched_to(plan, plan::EditionId{1U}, next) ==
          std::vector<plan::LevelId>{level("hall"), level("cellar")});
}
