// include/hestrel/: what other programs get of a plan.

#include <hestrel/explore.hpp>
#include <hestrel/version.hpp>
#include <hestrel/walk.hpp>

#include "support/program.hpp"

#include <catch2/catch.hpp>

using namespace hestrel;
using tests::Folder;

namespace {

/// 40 MiB/s, frames of 20 ms; players walk 2 m/s along x, from 0 to 100.
constexpr std::string_view hall_and_quay = R"(hestrel: 1
devices:
  handheld: {memory: {total: 500, base: 100}, read: {rate: 40}, frame: {fps: 50}}
  console: {memory: {total: 900, base: 100}, read: {rate: 400}, frame: {fps: 50}}
levels:
  hall: {memory: {texture: 99}, area: {min: [0, 0, 0], max: [60, 9, 9]}, entries: {door: door}}
  quay: {memory: {texture: 39}, area: {min: [60, 0, 0], max: [100, 9, 9]}}
waypoints: {door: [0, 0, 5], end: [100, 0, 5]}
paths: [[door, end]]
triggers:
  ahead: {in: hall, box: {min: [20, -1, 0], max: [24, 4, 9]}, steps: [{show: quay}]}
  behind: {in: hall, box: {min: [4, -1, 0], max: [8, 4, 9]}, steps: [{unload: quay}]}
players: {carrier: {speeds: {walk: 2}}}
editions: {full: {levels: [hall, quay]}}
routes:
  across: {steps: [{go: end}]}
  nowhere: {steps: [{until: shown(quay)}]}
)";

std::string plan_in(const Folder& folder, std::string_view text = hall_and_quay) {
    folder.write("plan.yaml", text);
    return folder / "plan.yaml";
}

std::string with(const std::string& part, const std::string& by) {
    std::string text(hall_and_quay);
    return text.replace(text.find(part), part.size(), by);
}

} // namespace

TEST_CASE("library: a plan tells its names") {
    const Folder folder;
    const Plan plan = read_plan(plan_in(folder));
    using Names = std::vector<std::string>;
    CHECK(plan.levels() == Names{"hall", "quay"});
    CHECK(plan.devices() == Names{"handheld", "console"});
    CHECK(plan.routes() == Names{"across", "nowhere"});
    CHECK(plan.editions() == Names{"full"});
    CHECK(check_plan(plan).empty());
    CHECK(library_version() == std::string(HESTREL_VERSION));
}

TEST_CASE("library: a walk has the figures of the model") {
    const Folder folder;
    const auto walks = walk_routes(read_plan(plan_in(folder)), {"across"}, {"handheld"});
    REQUIRE(walks.size() == 1);
    const Walk& walk = walks.front();
    CHECK(walk.route == "across");
    CHECK(walk.device == "handheld");
    CHECK(walk.machine.empty());
    CHECK(walk.verdict == Verdict::fine);
    CHECK(text_of(walk.verdict) == "fine");
    CHECK(walk.stuck.empty());
    // 99 MiB take 2.475 s; the next frame begins at 2.48 s and attaches.
    CHECK(walk.boot_s == 2.5);
    CHECK(walk.end_s == 2.5 + 50);
    CHECK(walk.budget_mib == 500);
    CHECK(walk.peak_mib == 100 + 99 + 39);
    CHECK(walk.worst_slack_s == 19);
    REQUIRE(walk.transitions.size() == 2);
    CHECK(walk.transitions[0].cause == "trigger behind");
    CHECK(walk.transitions[0].levels.empty());
    const Transition& ahead = walk.transitions[1];
    CHECK(ahead.number == 2);
    CHECK(ahead.cause == "trigger ahead");
    CHECK(ahead.fired_s == 12.5); // after 20 m
    CHECK(ahead.settled_s == 13.5);
    REQUIRE(ahead.levels.size() == 1);
    CHECK(ahead.levels[0].level == "quay");
    CHECK(ahead.levels[0].ready_s == 12.5 + 0.975);
    CHECK(ahead.levels[0].shown_s == 13.5);
    CHECK(ahead.levels[0].needed_s == 2.5 + 30);
    CHECK(ahead.levels[0].slack_s == 19);
    CHECK(ahead.levels[0].lead_m == 40);
    REQUIRE(!walk.memory.empty());
    CHECK(walk.memory.back().total_mib == walk.peak_mib);
    REQUIRE(!walk.events.empty());
    CHECK(walk.events.back().event == "ended");
}

TEST_CASE("library: all routes on all devices are walked, as in the tables") {
    const Folder folder;
    const std::string path = plan_in(folder);
    WalkOptions options;
    options.jobs = 2;
    const auto walks = walk_routes(read_plan(path), {}, {}, options);
    REQUIRE(walks.size() == 4);
    const tests::Run table = tests::run(folder, "HESTREL walk plan.yaml --format csv --no-figures");
    for (const Walk& walk : walks) {
        const std::string row = walk.route + "," + walk.device + "," + text_of(walk.verdict) + ",";
        CHECK(table.out.find(row) != std::string::npos);
    }
    CHECK(walks[2].route == "nowhere");
    CHECK(walks[2].verdict == Verdict::stuck);
    CHECK(walks[2].stuck.find("shown(quay)") != std::string::npos);
    REQUIRE(!walks[2].findings.empty());
    CHECK(walks[2].findings.front().name == "stuck");
    CHECK(walks[2].findings.front().route == "nowhere");
    CHECK(walks[2].findings.front().line == 17);
}

TEST_CASE("library: values are tried as --set tries them") {
    const Folder folder;
    ReadOptions options;
    options.set = {"triggers.ahead.box.min.0=58", "triggers.ahead.box.max.0=62"};
    const auto walks = walk_routes(read_plan(plan_in(folder), options), {"across"}, {"handheld"});
    // It fires at 58 m, 1 s before the quay; what comes to 13.5 - 12.5 = 1 s then can be late.
    REQUIRE(walks.front().transitions.size() == 2);
    CHECK(walks.front().transitions[1].fired_s == 2.5 + 29);
    CHECK(walks.front().worst_slack_s == 0);
    options.set = {"nothing at all"};
    CHECK_THROWS_AS(read_plan(folder / "plan.yaml", options), std::invalid_argument);
}

TEST_CASE("library: exploring has the situations that can be counted by hand") {
    const Folder folder;
    const auto explored = explore_editions(read_plan(plan_in(folder)));
    REQUIRE(explored.size() == 1);
    CHECK(explored[0].edition == "full");
    // At the door without the quay, at the end with it; back at the door it is unloaded.
    CHECK(explored[0].situations == 2);
    CHECK(explored[0].moves == 2);
    CHECK(explored[0].farthest == 1);
    CHECK(explored[0].complete);
    REQUIRE(explored[0].budgets.size() == 2);
    CHECK(explored[0].budgets[0].device == "handheld");
    CHECK(explored[0].budgets[0].pool.empty());
    CHECK(explored[0].budgets[0].budget_mib == 500);
    CHECK(explored[0].budgets[0].settled_mib == 100 + 99 + 39);
    CHECK(explored[0].found.empty());
}

TEST_CASE("library: what exploring finds has its way") {
    const Folder folder;
    const Plan plan = read_plan(plan_in(folder, with("steps: [{unload: quay}]", "steps: []")));
    ExploreOptions options;
    options.devices = {"console"};
    const auto explored = explore_editions(plan, {"full"}, options);
    REQUIRE(explored[0].found.size() == 1);
    CHECK(explored[0].found[0].finding.name == "piles-up");
    CHECK(explored[0].found[0].finding.edition == "full");
    REQUIRE(explored[0].found[0].way.size() == 2);
    CHECK(explored[0].found[0].way[0].player.empty());
    CHECK(explored[0].found[0].way[0].move == "go end");
    CHECK(explored[0].found[0].way[1].move == "go door");
    options.limit = 1;
    CHECK_FALSE(explore_editions(plan, {}, options)[0].complete);
}

TEST_CASE("library: a plan with errors is told with all of them, as check does") {
    const Folder folder;
    std::string text = with("{show: quay}", "{show: Quay}");
    text = text.replace(text.find("rate: 400"), 9, "rate: no");
    const std::string path = plan_in(folder, text);
    const auto checked = check_plan(path);
    REQUIRE(checked.size() == 2);
    CHECK(checked[0].severity == Severity::error);
    CHECK(checked[0].line == 4);
    CHECK(checked[1].name == "unknown-name");
    try {
        (void)read_plan(path);
        FAIL("it has errors");
    } catch (const PlanError& error) {
        REQUIRE(error.errors().size() == 2);
        CHECK(error.what() == text_of(error.errors().front()));
        CHECK(error.errors()[1].message.find("capitals") != std::string::npos);
    }
    const tests::Run told = tests::run(folder, fmt::format("HESTREL check '{}'", path));
    for (const Finding& finding : checked)
        CHECK(told.out.find(text_of(finding) + "\n") != std::string::npos);
}

TEST_CASE("library: what can't be done throws what the headers say") {
    const Folder folder;
    CHECK_THROWS_AS(read_plan(folder / "none.yaml"), FileError);
    CHECK_THROWS_AS(check_plan(folder.path()), FileError);
    const Plan plan = read_plan(plan_in(folder));
    CHECK_THROWS_WITH(walk_routes(plan, {"acros"}),
                      "no route of this plan is called \"acros\"; did you mean \"across\"?");
    CHECK_THROWS_AS(walk_routes(plan, {}, {"tablet"}), std::invalid_argument);
    CHECK_THROWS_AS(explore_editions(plan, {"demo"}), std::invalid_argument);
}
