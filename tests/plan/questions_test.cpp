// Small questions that a plan answers by itself.

#include "plan/questions.hpp"

#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "support/plan_text.hpp"

using namespace hestrel;
using plan::LevelId;
using tests::named;

namespace {

plan::Plan plan_with_tags() {
    return tests::plan_from(R"(hestrel: 1
levels:
  quay: {memory: {texture: 1}, entries: {steps: foot, door: door}}
  hall: {memory: {texture: 1}}
waypoints: {foot: [0, 0, 0], door: [1, 0, 0]}
gates: {way: {needs: [quay, hall]}}
players:
  carrier: {tags: [carrier], speeds: {walk: 1.8, run: 4.5}}
  cat: {tags: [animal], speeds: {dash: 12}}
triggers:
  t:
    box: {min: [0, 0, 0], max: [1, 1, 1]}
    for: [carrier]
    steps:
      - choose: {north: [{show: [quay]}], south: [{choose: {deep: [{show: [hall]}]}}]}
)");
}

} // namespace

TEST_CASE("questions: a gate is open once all that it needs is shown") {
    const plan::Plan plan = plan_with_tags();
    const plan::Gate& gate = plan.gates[named(plan.gates, "way")];
    const LevelId quay = named(plan.levels, "quay");
    CHECK(plan::is_open(plan, gate, [](LevelId) { return true; }));
    CHECK_FALSE(plan::is_open(plan, gate, [&](LevelId level) { return level == quay; }));
    CHECK(plan::needs(plan, gate, quay));
    CHECK(plan::is_open(plan, plan::Gate{}, [](LevelId) { return false; })); // it needs nothing
}

TEST_CASE("questions: a switch without a place leads to the first entry, else nowhere") {
    const plan::Plan plan = plan_with_tags();
    CHECK(plan::first_entry(plan.levels[named(plan.levels, "quay")]) ==
          named(plan.waypoints, "foot"));
    CHECK_FALSE(plan::first_entry(plan.levels[named(plan.levels, "hall")]));
}

TEST_CASE("questions: who fits a trigger, and how fast they are") {
    const plan::Plan plan = plan_with_tags();
    const auto& tags = plan.triggers[named(plan.triggers, "t")].tags;
    CHECK(plan::fits(plan, named(plan.players, "carrier"), tags));
    CHECK_FALSE(plan::fits(plan, named(plan.players, "cat"), tags));
    CHECK_FALSE(plan::fits(plan, {}, tags)); // of no kind
    CHECK(plan::fits(plan, {}, {}));         // for anybody
    CHECK(plan::top_speed(plan, tags) == 4.5);
    CHECK(plan::top_speed(plan, {}) == 12);
    CHECK(plan::top_speed(plan::Plan{}, {}) == 0);
}

TEST_CASE("questions: a branch belongs to its whole list in the end") {
    const plan::Plan plan = plan_with_tags();
    const plan::ListId whole = plan.triggers[named(plan.triggers, "t")].steps;
    for (const plan::ListId list : plan.lists.ids()) CHECK(plan::top_list(plan, list) == whole);
    CHECK(plan.lists.size() == 4);
}

TEST_CASE("questions: what slack is held to") {
    plan::Plan plan;
    CHECK(plan::wanted_slack(plan) == plan::Micros{});
    plan.limits.slack = plan::milliseconds(500);
    CHECK(plan::wanted_slack(plan) == plan::milliseconds(500));
}

TEST_CASE("lists: appending keeps order and takes each once") {
    const LevelId a{std::size_t{0}}, b{std::size_t{1}}, c{std::size_t{2}};
    std::vector<LevelId> levels{b};
    plan::append_new(levels, a);
    plan::append_new(levels, b);
    CHECK(levels == std::vector{b, a});
    plan::append_new(levels, {c, a, c});
    CHECK(levels == std::vector{b, a, c});
    CHECK(plan::contains(levels, c));
    CHECK_FALSE(plan::among(std::vector{a, c}, b));
    CHECK(plan::among(std::vector{a, c}, c));
}

TEST_CASE("names: of things, lists and places, as messages have them") {
    const plan::Plan plan = plan_with_tags();
    const plan::TriggerId trigger = named(plan.triggers, "t");
    CHECK(plan::list_name(plan, plan.triggers[trigger].steps) == "trigger t");
    CHECK(plan::thing_name(plan, {plan::ThingKind::gate, 0}) == "gate way");
    CHECK(plan::level_names(plan, {LevelId{std::size_t{0}}, LevelId{std::size_t{1}}}) ==
          "quay, hall");
    CHECK(plan::level_names(plan, {}) == "");
    CHECK(plan::cause_name(plan, {}, LevelId{std::size_t{1}}) == "near hall");
    CHECK(plan::place_text(plan, {0, 3, 5}) == "plan.yaml:3:5");
    CHECK(plan::place_text(plan, {0, 0, 0}) == "plan.yaml");
    CHECK(plan::finding_text(plan, {plan::Severity::note, "load-thrash", {0, 3, 5}, "again"}) ==
          "plan.yaml:3:5: note: again  [load-thrash]");
}
