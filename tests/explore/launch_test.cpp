// Launching again in exploring: what only turns up in a second session (docs/model.md section 8).

#include "explore/explored.hpp"
#include "support/plan_text.hpp"

#include <algorithm>

using namespace hestrel;
using tests::Lines;

namespace {

/// A hall with a door to the vault, which opens while the key is there; the goal is in the vault.
/// The checkpoint behind the door is saved, the key is not.
const std::string soft_lock = std::string(tests::plain_device) + R"(
levels:
  hall: {memory: {texture: 10}, entries: {start: a}}
  vault: {memory: {texture: 10}, entries: {inside: c}}
editions: {full: {levels: [hall, vault]}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [50, 0, 0], d: [60, 0, 0]}
paths: [[a, b], [c, d]]
players: {carrier: {speeds: {walk: 2}}}
facts: {key: {initial: false}, inside_vault: {initial: false, lifetime: saved}}
triggers:
  finds: {in: hall, box: {min: [9, -1, -1], max: [11, 1, 1]}, steps: [{set: {key: true}}, {open: door}]}
  goal: {in: vault, box: {min: [59, -1, -1], max: [61, 1, 1]}, when: key, steps: [{end: session}]}
  again: {when: inside_vault and not key, steps: [{switch: {to: vault}}]}
menus:
  door: {items: {enter: {steps: [{set: {inside_vault: true}}, {save: all}, {switch: {to: vault}}]}}}
)";

explore::Explored explored(const plan::Plan& plan, bool quit_anywhere,
                           const std::optional<flow::KeptStore>& saved = std::nullopt) {
    explore::Options options;
    options.edition = plan::EditionId{std::size_t{0}};
    options.devices = {plan::DeviceId{std::size_t{0}}};
    options.quit_anywhere = quit_anywhere;
    options.saved = saved;
    return explore::explored(plan, options);
}

std::vector<std::string> names(const explore::Explored& explored) {
    std::vector<std::string> all;
    for (const explore::Found& each : explored.found) all.push_back(each.finding.name);
    return all;
}

bool has(const explore::Explored& explored, const std::string& name) {
    const auto all = names(explored);
    return std::find(all.begin(), all.end(), name) != all.end();
}

} // namespace

TEST_CASE("a soft lock that needs a second launch is found, with its way") {
    const plan::Plan plan = tests::plan_from(soft_lock);
    const explore::Explored once = explored(plan, true);
    CAPTURE(names(once));
    const auto found =
        std::find_if(once.found.begin(), once.found.end(), [](const explore::Found& each) {
            return each.finding.name == "saved-dead-end";
        });
    REQUIRE(found != once.found.end());
    CHECK(found->finding.message.find("inside_vault true") != std::string::npos);
    REQUIRE(found->way);
    // Start, go b, press the door, launch again.
    CHECK(found->way->size() == 4);
    // Saved with the key it comes to its end.
    std::string mended = soft_lock;
    const std::string key = "key: {initial: false}";
    mended.replace(mended.find(key), key.size(), "key: {initial: false, lifetime: saved}");
    CHECK_FALSE(has(explored(tests::plan_from(mended), true), "saved-dead-end"));
}

TEST_CASE("a launch is a move where the session has ended, else only where one may quit anywhere") {
    const plan::Plan plan = tests::plan_from(soft_lock);
    const explore::Explored ended = explored(plan, false);
    const explore::Explored anywhere = explored(plan, true);
    CHECK(anywhere.explorer->situations() == ended.explorer->situations());
    std::string endless = soft_lock;
    const std::string end = "{end: session}";
    endless.replace(endless.find(end), end.size(), "{set: {key: true}}");
    const plan::Plan goes_on = tests::plan_from(endless);
    CHECK(explored(goes_on, true).explorer->situations() >
          explored(goes_on, false).explorer->situations());
    // The saved game of an ended session is the same dead end.
    CHECK(has(ended, "saved-dead-end"));
    flow::KeptStore store;
    store.facts = {0, 1};
    const explore::Explored begun = explored(plan, false, store);
    CHECK(has(begun, "trap") == has(anywhere, "trap"));
    CHECK(begun.explorer->situations() < ended.explorer->situations());
}

TEST_CASE("what a saved game changes is called never so only where one may quit anywhere") {
    const std::string text = std::string(tests::plain_device) + R"(
levels: {title: {memory: {texture: 1}}}
editions: {full: {levels: [title]}}
facts: {round: {initial: 0, range: [0, 1], lifetime: saved}}
menus:
  m: {in: title, items: {begin: {stays: true, steps: [{set: {round: 1}}, {save: all}, {set: {round: 0}}]}, resume: {when: round > 0, steps: []}}}
)";
    const plan::Plan plan = tests::plan_from(text);
    CHECK_FALSE(has(explored(plan, false), "condition-never-true"));
    CHECK_FALSE(has(explored(plan, true), "condition-never-true")); // it is pressed after a launch
    std::string never = text;
    never.replace(never.find("round > 0"), 9, "round > 1");
    CHECK_FALSE(has(explored(tests::plan_from(never), false), "condition-never-true"));
    CHECK(has(explored(tests::plan_from(never), true), "condition-never-true"));
}
