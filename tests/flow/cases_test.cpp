// Steps that hang on a condition, and levels that hang on a fact.

#include "support/plan_text.hpp"
#include "support/random_plan.hpp"

using namespace hestrel;
using tests::Lines;
using tests::Walked;

namespace {

/// A hall with a desk whose item does so much; the route sets facts and presses it.
Walked pressed(const std::string& steps, const std::string& facts = "n: 1") {
    return Walked(fmt::format(R"(
facts: {{n: {{initial: 0, range: [0, 3]}}, v: {{initial: a, values: [a, b, c]}}}}
levels: {{hall: {{memory: {{texture: 1}}}}, one: {{memory: {{texture: 10}}}}, two: {{memory: {{texture: 20}}}}}}
menus: {{desk: {{in: hall, items: {{go: {{steps: {}}}}}}}}}
routes: {{r: {{start: {{level: hall}}, steps: [{{set: {{{}}}}}, {{press: desk.go}}, {{pause: 2 s}}]}}}}
)",
                              steps, facts));
}

} // namespace

TEST_CASE("a step is left out where its `when` does not hold when its turn comes") {
    const Walked both =
        pressed("[{show: [one], when: n == 1}, {set: {n: 2}}, {show: [two], when: n "
                "== 1}, {set: {v: b}, when: n == 2}]");
    CHECK(both.when("shown", "one") != tests::never);
    CHECK(both.when("shown", "two") == tests::never);
    CHECK(both.when("fact-set", "v") == both.when("pressed", "desk.go"));
    // Its turn comes after the waits before it.
    const Walked late = pressed("[{wait: 500 ms}, {show: [one], when: shown(two)}]");
    CHECK(late.when("shown", "one") == tests::never);
    CHECK(late.when("list-ended", "item desk.go") ==
          late.when("pressed", "desk.go") + plan::Micros{500'000});
}

TEST_CASE("a wait is left out with what stands beside it, a choice uses up no pick") {
    const Walked walked(R"(
levels: {hall: {}}
facts: {n: {initial: 0, range: [0, 9]}}
menus: {desk: {in: hall, items: {go: {stays: true, steps: [
  {wait: 3 s, when: n == 1},
  {choose: {one: [{set: {n: 5}}], two: [{set: {n: 6}}]}, when: n == 1},
  {choose: {one: [{set: {n: 7}}], two: [{set: {n: 8}}]}}]}}}}
routes: {r: {start: {level: hall}, steps: [{pick: two}, {press: desk.go}, {expect: n == 8}]}}
)");
    CHECK(walked.when("as-expected", "player") == walked.when("pressed", "desk.go"));
}

TEST_CASE(
    "a list whose last steps would be left out can be abandoned as long as they stand there") {
    const auto walked = [](const std::string& last) {
        return Walked("levels: {hall: {}, yard: {}}\nmenus: {m: {in: hall, items: {go: {steps: "
                      "[{switch: {to: yard}}" +
                      last +
                      "]}}}}\nroutes: {r: {start: {level: hall}, steps: [{press: m.go}]}}\n");
    };
    CHECK(walked("").when("list-abandoned", "hall") == tests::never);
    CHECK(walked(", {save: all, when: veiled}").when("list-abandoned", "hall") != tests::never);
}

TEST_CASE("levels by a fact: the one of its value, none, or the one for all others") {
    const std::string by = "[{show: [{by: v, a: one, b: none, else: two}]}]";
    CHECK(pressed(by, "v: a").when("shown", "one") != tests::never);
    CHECK(pressed(by, "v: a").when("shown", "two") == tests::never);
    CHECK(pressed(by, "v: b").when("queued", "one") == tests::never);
    CHECK(pressed(by, "v: b").when("queued", "two") == tests::never);
    CHECK(pressed(by, "v: c").when("shown", "two") != tests::never);
    // With others in one list, by a number, as the only level named, in a switch and its `with`.
    CHECK(pressed("[{show: [two, {by: n, 1: one, else: none}]}]").when("shown", "one") !=
          tests::never);
    CHECK(pressed("[{show: [two, {by: n, 2: one, else: none}]}]").when("shown", "two") !=
          tests::never);
    CHECK(pressed("[{show: {by: n, 1: one, else: none}}]").when("shown", "one") != tests::never);
    const Walked went =
        pressed("[{switch: {to: {by: n, 1: one, else: none}, with: [{by: v, a: two, "
                "else: none}]}}]",
                "v: a, n: 1");
    CHECK(went.when("switch-ended", "one") != tests::never);
    CHECK(went.when("shown", "two") != tests::never);
    const Walked stayed =
        pressed("[{switch: {to: {by: n, 1: one, else: none}}}, {set: {v: b}}]", "n: 2");
    CHECK(stayed.when("switch-began", "one") == tests::never);
    CHECK(stayed.when("fact-set", "v") != tests::never);
    CHECK(pressed("[{keep-only: [{by: n, 2: one, else: none}]}]").when("unloaded", "hall") ==
          tests::never);
    CHECK(pressed("[{show: [one]}, {wait: {shown: {by: v, a: one, else: none}}}, {set: {n: 3}}]",
                  "v: a")
              .when("fact-set", "n") == pressed("[{show: [one]}]", "v: a").when("shown", "one"));
}

TEST_CASE("the fact is read once, when the step's turn comes") {
    // The switch sets n by `leave` of the hall while it is under way.
    const Walked walked(R"(
facts: {n: {initial: 0, range: [0, 3]}}
levels: {hall: {leave: [{set: {n: 1}}]}, one: {}, two: {}}
menus: {desk: {in: hall, items: {go: {steps: [{switch: {to: {by: n, 0: one, 1: two, else: none}}}]}}}}
routes: {r: {start: {level: hall}, steps: [{press: desk.go}]}}
)");
    CHECK(walked.when("switch-ended", "one") != tests::never);
    CHECK(walked.when("switch-began", "two") == tests::never);
}

TEST_CASE("a value without a level counts as none, and is recorded") {
    const Walked walked = pressed("[{show: [{by: v, a: one}]}]", "v: c");
    CHECK(walked.when("value-without-level", "v") == walked.when("pressed", "desk.go"));
    CHECK(walked.when("queued", "one") == tests::never);
    CHECK(pressed("[{show: [{by: v, a: one}]}]", "v: a").when("value-without-level", "v") ==
          tests::never);
}

TEST_CASE("a route's step is left out where its `when` does not hold when its turn comes") {
    const Walked walked(R"(
facts: {n: {initial: 0, range: [0, 9]}}
waypoints: {a: [0, 0, 0], b: [9, 0, 0]}
paths: [[a, b]]
players: {p: {speeds: {walk: 1}}}
levels: {hall: {entries: {door: a}}}
routes: {r: {start: {level: hall}, steps: [{go: b, when: n == 1}, {set: {n: 1}}, {expect: at(b), when: n == 2}, {go: b, when: n == 1}, {expect: at(b)}]}}
)");
    CHECK(walked.all("left-out", "player").size() == 2);
    CHECK(walked.all("set-out", "player").size() == 1);
    CHECK(walked.record.verdict == plan::Verdict::fine);
    CHECK(walked.record.expectations.size() == 1);
}

TEST_CASE("a pick with a `when` counts from its turn on, where that holds") {
    const auto n_after = [](const std::string& pick) {
        const Walked walked(
            "facts: {n: {initial: 0, range: [0, 9]}}\nlevels: {hall: {}}\nmenus: "
            "{desk: {in: hall, items: {go: {steps: [{choose: {one: [{set: {n: 1}}], "
            "two: [{set: {n: 2}}]}}]}}}}\nroutes: {r: {start: {level: hall}, steps: "
            "[" +
            pick + ", {press: desk.go}, {expect: n == 2}]}}\n");
        return walked.when("as-expected", "player") != tests::never;
    };
    CHECK(n_after("{pick: two}"));
    CHECK(n_after("{pick: two, when: n == 0}"));
    CHECK_FALSE(n_after("{pick: two, when: n == 1}"));
}
