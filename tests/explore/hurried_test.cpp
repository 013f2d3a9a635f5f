// Players who do not wait for things to settle (docs/model.md section 8).

#include "explore/explored.hpp"
#include "explore/races.hpp"
#include "explore/witness.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "support/situations.hpp"
#include "tables/explore_tables.hpp"

#include <algorithm>

using namespace hestrel;
using explore::Explorer;
using explore::Pace;

namespace {

explore::Options options_for(const plan::Plan& plan, Pace pace, std::size_t most_running = 2) {
    explore::Options options = tests::exploring_of(plan);
    options.pace = pace;
    options.most_running = most_running;
    options.tell_all_ends = true;
    return options;
}

std::size_t hurried_situations(const std::string& text, std::size_t most_running = 2) {
    const plan::Plan plan = tests::plan_from(text);
    const auto run = explore::explore_all(plan, options_for(plan, Pace::hurried, most_running));
    Explorer& explorer = *run;
    CHECK(explorer.complete());
    return explorer.situations();
}

/// A hall with a board of items, which stays open, and what else is needed.
std::string board(const std::string& items, const std::string& more = "") {
    return "hestrel: 1\n"
           "devices: {box: {memory: {total: 1000}, read: {rate: 100}, frame: {fps: 60}}}\n"
           "levels: {hall: {memory: {t: 1}}, yard: {memory: {t: 1}}, attic: {memory: {t: 1}}}\n"
           "editions: {all: {levels: [hall, yard, attic]}}\n"
           "menus: {board: {in: hall, items: {" +
           items + "}}}\n" + more;
}

/// A line of three places: the hall at the first, the yard around the others.
std::string line(const std::string& more) {
    return "hestrel: 1\n"
           "devices: {box: {memory: {total: 100, base: 10}, read: {rate: 100}, frame: {fps: 60}}}\n"
           "players: {carrier: {speeds: {walk: 2}}}\n"
           "levels:\n"
           "  hall: {memory: {t: 20}, entries: {in: a}, area: [{min: [-5, 0, -5], max: [5, 3, "
           "5]}]}\n"
           "  yard: {memory: {t: 30}, area: [{min: [5, 0, -5], max: [25, 3, 5]}]}\n"
           "  attic: {memory: {t: 50}}\n"
           "waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [20, 0, 0]}\n"
           "paths: [[a, b], [b, c]]\n"
           "editions: {all: {levels: [hall, yard, attic]}}\n"
           "facts: {x: {initial: 0, range: [0, 9]}, y: {initial: 0, range: [0, 9]}}\n" +
           more;
}
/// Around b, and around c.
constexpr std::string_view at_b = "box: {min: [8, 0, -2], max: [12, 2, 2]}";
constexpr std::string_view at_c = "box: {min: [18, 0, -2], max: [22, 2, 2]}";

struct Both {
    explicit Both(const std::string& text)
        : plan(tests::plan_from(text)),
          unhurried(explore::explored(plan, options_for(plan, Pace::unhurried))),
          hurried(explore::explored_hurried(plan, options_for(plan, Pace::hurried), unhurried)) {}

    [[nodiscard]] static std::string text(const explore::Explored& in, std::string_view name) {
        for (const explore::Found& each : in.found) {
            if (each.finding.name != name) continue;
            return each.finding.message + " | " + tables::way_text(*in.explorer, *each.way);
        }
        return {};
    }
    /// A finding that hurry makes: it must not be there without.
    [[nodiscard]] std::string only_hurried(std::string_view name) const {
        CHECK(text(unhurried, name).empty());
        return text(hurried, name);
    }

    plan::Plan plan;
    explore::Explored unhurried;
    explore::Explored hurried;
};

} // namespace

TEST_CASE("n levels asked for and not shown: each is on its way or there") {
    // Before the item is pressed: 1. After: 2^n.
    const std::string press = "more: {stays: true, steps: [{load: [yard, attic]}]}";
    CHECK(hurried_situations(board(press)) == 1 + 4);
    // Shown as well: each is on its way, waits to be attached, or shown: 3^n.
    const std::string show = "more: {stays: true, steps: [{show: [yard, attic]}]}";
    CHECK(hurried_situations(board(show)) == 1 + 9);
}

TEST_CASE("a list that waits for a time is a situation of its own, and so is it again") {
    const std::string items = "light: {stays: true, steps: [{wait: 1 s}, {set: {lit: true}}]}";
    const std::string text = board(items, "facts: {lit: {initial: false}}\n");
    const plan::Plan plan = tests::plan_from(text);
    // Running or not, lit or not. Pressed again while it runs there would be two.
    const auto one_run = explore::explore_all(plan, options_for(plan, Pace::hurried, 1));
    Explorer& one = *one_run;
    CHECK(one.situations() == 4);
    CHECK(one.too_many_running());
    CHECK(hurried_situations(text, 2) == 6);
    CHECK(hurried_situations(text, 3) == 8);
    // Nobody hurries: lit or not.
    const auto unhurried_run = explore::explore_all(plan, options_for(plan, Pace::unhurried));
    Explorer& unhurried = *unhurried_run;
    CHECK(unhurried.situations() == 2);
}

TEST_CASE("what was unloaded is there until it is swept, or asked for again") {
    // The yard: absent; on its way; there; leaving. ReadSet for again while leaving it is on its
    // way.
    CHECK(hurried_situations(board("in: {stays: true, steps: [{load: [yard]}]}, "
                                   "out: {stays: true, steps: [{unload: [yard]}]}")) == 4);
}

TEST_CASE("an at-most gives up, or what it waits for comes") {
    // Before; waiting with the yard on its way; after giving up: on its way, or there; after it
    // came: there. The item can't be pressed again.
    const std::string items =
        "go: {steps: [{load: [yard]}, {wait: {ready: [yard]}, at-most: 2 s}, {set: {x: 1}}]}";
    CHECK(hurried_situations(board(items, "facts: {x: {initial: 0, range: [0, 1]}}\n")) == 4);
}

TEST_CASE("rival switches: the second begins while the first is under way") {
    const Both both(line("triggers:\n  first: {" + std::string(at_b) +
                         ", once: true, steps: [{wait: 2 s}, {switch: {to: yard}}]}\n  second: {" +
                         std::string(at_c) + ", once: true, steps: [{switch: {to: attic}}]}\n"));
    CHECK(both.only_hurried("rival-switches") ==
          "the switch to yard is refused: another is under way | go b, go c, (a wait is over)");
}

TEST_CASE("order matters: two lists set the same fact") {
    const Both both(line("triggers:\n  first: {" + std::string(at_b) +
                         ", once: true, steps: [{load: [yard]}, {wait: {ready: [yard]}}, {set: {x: "
                         "1}}]}\n  second: {" +
                         std::string(at_c) +
                         ", once: true, steps: [{wait: 1 s}, {set: {x: 2}}]}\n"));
    const std::string found = both.only_hurried("order-matters");
    CHECK(found.find("trigger second runs beside trigger first, and it depends on what comes first "
                     "how they end: x is ") == 0);
    CHECK(found.find(" | go b, go c") != std::string::npos);

    // Different facts: they end alike, whatever comes first.
    const Both apart(
        line("triggers:\n  first: {" + std::string(at_b) +
             ", once: true, steps: [{load: [yard]}, {wait: {ready: [yard]}}, {set: {y: "
             "1}}]}\n  second: {" +
             std::string(at_c) + ", once: true, steps: [{wait: 1 s}, {set: {x: 2}}]}\n"));
    CHECK(explore::races(*apart.hurried.explorer).empty());
}

TEST_CASE("how a switch let go of what was there is forgotten once it has") {
    const auto situations = [](const std::string& items) {
        const plan::Plan plan = tests::plan_from(board(items));
        const auto run = explore::explore_all(plan, options_for(plan, Pace::hurried));
        Explorer& explorer = *run;
        return explorer.situations();
    };
    // The list has a step left, so it is abandoned with the hall, and the switch alone goes on.
    const std::string loads_first = "on: {steps: [{switch: {to: yard}}, {show: [attic]}]}";
    const std::string frees_first =
        "off: {steps: [{switch: {to: yard, order: free-first}}, {show: [attic]}]}";
    // In the hall; the yard on its way, beside the hall or without; there, and not shown; shown.
    CHECK(situations(loads_first) == 4);
    CHECK(situations(frees_first) == 4);
    CHECK(situations(loads_first + ", " + frees_first) == 5);
}

TEST_CASE("a level is unloaded under a player who went back") {
    const Both both(line("triggers:\n  leave: {" + std::string(at_b) +
                         ", once: true, steps: [{wait: 3 s}, {unload: [hall]}]}\n"));
    CHECK(both.only_hurried("unload-under-player") ==
          "hall is unloaded while a player stands in it | go b, go a, (a wait is over)");
}

TEST_CASE("transitions that overlap hold what leaves and what comes at once") {
    const Both over(line("triggers:\n  there: {" + std::string(at_b) +
                         ", once: true, steps: [{show: [yard]}]}\n  back: {" + std::string(at_c) +
                         ", fires: on-exit, once: true, steps: [{unload: [yard]}]}\n  up: {" +
                         "box: {min: [12.5, 0, -2], max: [16, 2, 2]}" +
                         ", when: x == 1, once: true, steps: [{show: [attic]}]}\n  again: {" +
                         std::string(at_c) + ", once: true, steps: [{set: {x: 1}}]}\n"));
    // Base 10, hall 20, yard 30 leaving, attic 50: 110 of 100. Without hurry the yard is swept when
    // the attic is asked for: 80, and 60 before.
    CHECK(over.only_hurried("over-budget") ==
          "on box memory can be 10 MiB over its 100 MiB where players hurry, between two "
          "moves | go b, (yard is ready), go c, go b");
    const auto* unhurried = explore::worst_of(over.unhurried.worst, 0, plan::PoolId{}, true);
    REQUIRE(unhurried != nullptr);
    CHECK(unhurried->used == plan::mebibytes(80));
}

TEST_CASE("steps that are left because their level goes") {
    const Both both(line("triggers:\n  there: {" + std::string(at_b) +
                         ", once: true, steps: [{show: [yard]}]}\n  inside: {in: yard, " +
                         std::string(at_c) +
                         ", once: true, steps: [{wait: 5 s}, {set: {x: 1}}]}\n  back: {" +
                         "box: {min: [-2, 0, -2], max: [2, 2, 2]}" +
                         ", fires: on-enter, steps: [{unload: [yard]}]}\n"));
    CHECK(both.only_hurried("steps-abandoned") ==
          "yard is unloaded before these steps are through: the rest is not done | go b, (yard is "
          "ready), (yard is shown), go c, go b, go a");
}

TEST_CASE("the way of a hurried finding is a route that says what it waits for") {
    Both both(line("triggers:\n  there: {" + std::string(at_b) +
                   ", once: true, steps: [{show: [yard]}]}\n  inside: {in: yard, " +
                   std::string(at_c) +
                   ", once: true, steps: [{wait: 15 s}, {set: {x: 1}}]}\n  back: {" +
                   "box: {min: [-2, 0, -2], max: [2, 2, 2]}" +
                   ", fires: on-enter, steps: [{unload: [yard]}]}\n"));
    const auto found = std::find_if(
        both.hurried.found.begin(), both.hurried.found.end(),
        [](const explore::Found& each) { return each.finding.name == "steps-abandoned"; });
    REQUIRE(found != both.hurried.found.end());
    plan::Plan plan = both.plan;
    const plan::Route route =
        explore::route_of(*both.hurried.explorer, *found->way, "hurried", plan);
    CHECK_FALSE(route.unhurried);
    const std::string yaml = tables::witness_yaml(plan, route, "plan.yaml", "why");
    CHECK(yaml.find("- {go: b, speed: walk}\n      - {until: ready(yard)}\n"
                    "      - {until: shown(yard)}\n      - {go: c, speed: walk}\n") !=
          std::string::npos);
    // On this device it is what happens: 20 m back take 10 s, and the list waits for 15 s.
    const plan::RouteId id = plan.routes.push(route);
    const walk::Record record = walk::walk(plan, id, plan::DeviceId{0});
    CHECK(std::any_of(record.events.begin(), record.events.end(), [](const walk::Event& event) {
        return event.kind == walk::EventKind::list_abandoned;
    }));
}

TEST_CASE("hurried: the set of situations is that of a plain, slow explorer") {
    std::size_t compared = 0;
    std::size_t with_lists = 0;
    for (std::uint32_t seed = 0; seed < 120; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(
            tests::RandomPlan(seed, seed % 3 == 2 ? tests::Rich::all : tests::Rich::yes).text());
        explore::Options options = options_for(plan, Pace::hurried);
        options.most_situations = 800;
        const auto run = explore::explore_all(plan, options);
        Explorer& explorer = *run;
        if (!explorer.complete()) continue;
        ++compared;
        std::set<explore::Key> fast;
        for (std::uint32_t number = 0; number < explorer.situations(); ++number) {
            fast.insert(tests::key_of(explorer, number));
            with_lists += explorer.control_of(explorer.row(number)).runs.empty() ? 0U : 1U;
        }
        CHECK(fast.size() == explorer.situations());
        CHECK(fast == tests::slow_situations(plan, explorer));
    }
    CHECK(compared > 30);
    CHECK(with_lists > 100);
}

TEST_CASE("who hurries can also wait: what items lead to without hurry is there with it") {
    // On a path they can't: whoever is stopped in the middle of one was not in a hurry.
    const auto by_items = [](const Explorer& explorer, const std::vector<std::uint32_t>& way) {
        return std::all_of(way.begin(), way.end(), [&](std::uint32_t taken) {
            return explorer.moves()[explorer.taken(taken).move].kind != explore::Move::Kind::go;
        });
    };
    std::size_t compared = 0;
    for (std::uint32_t seed = 0; seed < 300; ++seed) {
        CAPTURE(seed);
        const std::string text =
            tests::RandomPlan(seed, seed % 3 == 2 ? tests::Rich::all : tests::Rich::yes).text();
        if (text.find("at-most") != std::string::npos) continue; // it gives up, and goes on
        // Where the session ends, what is on its way stays so: more of it where nobody waits.
        if (text.find("end: session") != std::string::npos) continue;
        const plan::Plan plan = tests::plan_from(text);
        explore::Options options = options_for(plan, Pace::hurried, 16);
        options.most_situations = 1'500;
        const auto hurried_run = explore::explore_all(plan, options);
        Explorer& hurried = *hurried_run;
        options.pace = Pace::unhurried;
        const auto unhurried_run = explore::explore_all(plan, options);
        Explorer& unhurried = *unhurried_run;
        if (!hurried.complete() || !unhurried.complete()) continue;
        std::set<explore::Key> met;
        for (std::uint32_t number = 0; number < hurried.situations(); ++number)
            met.insert(tests::key_of(hurried, number));
        for (std::uint32_t number = 0; number < unhurried.situations(); ++number) {
            const auto way = unhurried.trace_to(number);
            if (!by_items(unhurried, way)) continue;
            ++compared;
            if (!met.contains(tests::key_of(unhurried, number)))
                FAIL_CHECK("not met: " << tables::way_text(unhurried, way));
        }
    }
    CHECK(compared > 100);
}
