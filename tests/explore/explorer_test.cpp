// Every situation that can be reached, and no other.

#include "explore/explored.hpp"

#include "bench/large_situations.hpp"
#include "explore/witness.hpp"
#include "plan/questions.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "support/situations.hpp"
#include "walk/walk.hpp"

#include <deque>

using namespace hestrel;
using explore::Explorer;

namespace {

std::size_t situations_of(const std::string& text) {
    const plan::Plan plan = tests::plan_from(text);
    const auto run = explore::explore_all(plan, tests::exploring_of(plan));
    Explorer& explorer = *run;
    CHECK(explorer.complete());
    return explorer.situations();
}

} // namespace

TEST_CASE("k facts that k items set: 2^k situations, k moves from each") {
    for (int facts = 1; facts <= 10; ++facts) {
        const plan::Plan plan = tests::plan_from(bench::switchboard(facts));
        const auto run = explore::explore_all(plan, tests::exploring_of(plan));
        Explorer& explorer = *run;
        CHECK(explorer.situations() == std::size_t{1} << facts);
        CHECK(explorer.moves_made() == (std::size_t{1} << facts) * static_cast<std::size_t>(facts));
        CHECK(explorer.depth() == static_cast<std::size_t>(facts));
    }
}

TEST_CASE("a ring of n waypoints: n situations; of k players who are alike: n + k - 1 over k") {
    CHECK(situations_of(bench::ring(7, 0)) == 7);
    CHECK(situations_of(bench::ring(7, 0, 2)) == 8 * 7 / 2);
    CHECK(situations_of(bench::ring(12, 0, 2)) == 13 * 12 / 2);
    CHECK(situations_of(bench::ring(5, 0, 4)) == 8 * 7 * 6 * 5 / 24);
}

TEST_CASE("players of two on a ring who are told apart: n^2") {
    const plan::Plan plan = tests::plan_from(bench::ring(7, 0, 2));
    explore::Options options = tests::exploring_of(plan);
    options.tell_players_apart = true;
    CHECK(explore::explore_all(plan, options)->situations() == 49);
}

TEST_CASE("a ring with a trigger on each path that fires once") {
    // From w0 a player has been along a stretch of the ring that contains w0: with f paths forward
    // and b back, f + b < n, it can stand at any of its f + b + 1 ends of paths. Once all n paths
    // have been walked, at any of n. Sum over s = f + b < n of (s + 1) ways to split s times s + 1
    // places, and n: for n = 3: 1 + 4 + 9 + 3.
    CHECK(situations_of(bench::ring(3, 3)) == 17);
    // n = 5: 1 + 4 + 9 + 16 + 25 + 5.
    CHECK(situations_of(bench::ring(5, 5)) == 60);
}

TEST_CASE("independent things multiply") {
    // A ring of 5, and 4 facts set by a menu's items: 5 * 2^4.
    const std::string both = bench::switchboard(4) +
                             "waypoints: {w0: [0, 0, 0], w1: [9, 0, 0], w2: [9, 0, 9]}\n"
                             "paths: [[w0, w1], [w1, w2], [w2, w0]]\n";
    const std::string text = [&] {
        std::string placed = both;
        const std::string level = "hall: {memory: {t: 1}}";
        placed.replace(placed.find(level), level.size(),
                       "hall: {memory: {t: 1}, entries: {in: w0}}");
        return placed;
    }();
    CHECK(situations_of(text) == 3 * 16);
}

namespace {

/// Every third plan uses all of the language.
tests::Rich rich_of(std::uint32_t seed) {
    return seed % 3 == 2 ? tests::Rich::all : tests::Rich::yes;
}

} // namespace

TEST_CASE("the set of situations is that of a plain, slow explorer") {
    std::size_t compared = 0;
    std::size_t alike = 0;      // plans with players of one kind
    std::size_t told_apart = 0; // where it matters who is first
    for (std::uint32_t seed = 0; seed < tests::seeds(150); ++seed) {
        CAPTURE(seed);
        const std::string text = tests::RandomPlan(seed, rich_of(seed)).text();
        const plan::Plan plan = tests::plan_from(text);
        explore::Options options = tests::exploring_of(plan);
        options.most_situations = 3'000;
        options.quit_anywhere = seed % 3 == 0;
        const auto run = explore::explore_all(plan, options);
        Explorer& explorer = *run;
        if (!explorer.complete()) continue;
        ++compared;
        const std::set<explore::Key> fast = tests::keys_of(explorer);
        CHECK(fast.size() == explorer.situations());
        CHECK(fast == tests::slow_situations(plan, explorer));
        const auto& kinds = explorer.players();
        if (std::adjacent_find(kinds.begin(), kinds.end()) == kinds.end()) continue;
        ++(explorer.options().tell_players_apart ? told_apart : alike);
    }
    CHECK(compared > 80);
    CHECK(alike > 10);
    CHECK(told_apart > 0);
}

TEST_CASE("who is stopped on the way and who is stopped at a waypoint go on differently") {
    // Two doors on two paths stop whoever comes to them until they are pressed; who comes to
    // `slide` is put before the first without having been on its path.
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + R"(
levels: {hall: {memory: {texture: 1}, entries: {in: a, far: b}}}
waypoints: {a: [0, 0, 0], b: [20, 0, 0], c: [0, 0, 20], slide: [0, 0, -20]}
paths: [[a, slide], [a, b], [a, c]]
players: {carrier: {speeds: {walk: 2}, count: 2}}
triggers:
  first: {box: {min: [10, -1, -1], max: [30, 1, 1]}, steps: [{open: first-door, who: firer}]}
  second: {box: {min: [-1, -1, 10], max: [1, 1, 12]}, steps: [{open: second-door, who: firer}]}
  slides: {box: {min: [-1, -1, -21], max: [1, 1, -15]}, steps: [{place: {at: hall.far}}]}
menus:
  first-door: {pauses: true, items: {open: {steps: []}}}
  second-door: {pauses: true, items: {open: {steps: []}}}
routes: {r: {start: {level: hall, waypoint: a}, steps: []}}
)");
    const auto explorer = explore::explore_all(plan, tests::exploring_of(plan));
    CHECK((tests::keys_of(*explorer) == tests::slow_situations(plan, *explorer)));
}

namespace {

/// A menu is opened, for a player or for all.
void open_for(std::set<flow::OpenMenu>& menus, const walk::Event& event) {
    const plan::MenuId menu{event.subject};
    const flow::PlayerId who{event.detail};
    if (!who) std::erase_if(menus, [&](const auto& open) { return open.first == menu; });
    menus.insert({menu, who});
}

/// And closed: for a player while it is open for all, it stays open for each of the others.
void close_for(std::set<flow::OpenMenu>& menus, const walk::Event& event, std::size_t players) {
    const plan::MenuId menu{event.subject};
    const flow::PlayerId who{event.detail};
    if (menus.erase({menu, who}) > 0) return;
    menus.erase({menu, flow::PlayerId{}});
    for (std::uint32_t player = 0; player < players; ++player) {
        if (player != who.value) menus.insert({menu, flow::PlayerId{player}});
    }
}

/// What a walk's record says of the game at its end: levels, facts, veils, where players are.
std::string end_of(const plan::Plan& plan, const walk::Record& record) {
    std::map<std::uint32_t, std::string> levels;
    std::map<std::uint32_t, std::int64_t> facts;
    std::map<std::uint32_t, std::string> players;
    std::set<std::uint32_t> veils;
    std::set<flow::OpenMenu> menus;
    std::map<std::uint32_t, std::int64_t> saved;
    const plan::Route& route = plan.routes[record.route];
    const std::vector<std::string> names(route.players.size(), "player");
    const flow::Setup begun = flow::setup_of(plan, route.start, names, {});
    const flow::Facts at_first(plan, names.size(), begun.saved);
    const flow::FactSlots& slots = at_first.slots();
    for (const flow::FactSlot slot : slots.ids()) {
        facts[slot.value] = at_first.all()[slot];
        if (begun.saved) saved[slot.value] = begun.saved->facts[slot];
    }
    for (const plan::Assignment& each : begun.facts) {
        slots.for_each(each.fact, {}, [&](flow::FactSlot slot) {
            facts[slot.value] = flow::fact_value(each.value);
        });
    }
    for (std::uint32_t player = 0; player < route.players.size(); ++player)
        players[player] = route.start.at ? plan.waypoints[route.start.at].name : "nowhere";
    for (const walk::Event& event : record.events) {
        using walk::EventKind;
        switch (event.kind) {
        case EventKind::level_ready: levels[event.subject] = "ready"; break;
        case EventKind::level_shown: levels[event.subject] = "shown"; break;
        case EventKind::level_hidden: levels[event.subject] = "ready"; break;
        case EventKind::level_unloaded: levels.erase(event.subject); break;
        case EventKind::fact_set:
        case EventKind::fact_reset:
            facts[slots.of(plan::FactId{event.subject}, event.player).value] =
                static_cast<std::int32_t>(event.detail);
            break;
        case EventKind::saved: saved = facts; break;
        case EventKind::launched:
            for (const flow::FactSlot slot : slots.ids()) {
                const plan::Fact& fact = plan.facts[slots.fact(slot)];
                const bool is_saved = fact.lifetime == plan::Lifetime::saved && !saved.empty();
                facts[slot.value] = is_saved ? saved[slot.value] : flow::fact_value(fact.initial);
            }
            for (auto& [player, place] : players) {
                const plan::WaypointId at =
                    plan::first_entry(plan.levels[plan::launched_in(plan, route)]);
                place = at ? plan.waypoints[at].name : "nowhere";
            }
            break;
        case EventKind::veil_up: veils.insert(event.subject); break;
        case EventKind::veil_down: veils.erase(event.subject); break;
        case EventKind::menu_opened: open_for(menus, event); break;
        case EventKind::menu_closed: close_for(menus, event, names.size()); break;
        case EventKind::set_out: players[event.subject] = "on the way"; break;
        case EventKind::arrived:
            players[event.subject] = plan.waypoints[plan::WaypointId{event.detail}].name;
            break;
        case EventKind::placed: {
            const plan::WaypointId at{event.detail};
            players[event.subject] = at ? plan.waypoints[at].name : "nowhere";
            break;
        }
        default: break;
        }
    }
    std::string text;
    for (const auto& [level, how] : levels)
        text += plan.levels[plan::LevelId{level}].name + " " + how + " ";
    for (const auto& [fact, value] : facts) text += fmt::format("{}={} ", fact, value);
    for (const auto& [player, where] : players) text += fmt::format("{}@{} ", player, where);
    for (const std::uint32_t veil : veils) text += fmt::format("veil {} ", veil);
    for (const auto& [menu, who] : menus)
        text += fmt::format("menu {} of {} ", menu.value, static_cast<int>(who.value));
    return text;
}

/// The same of a situation, players named as on the way to it.
std::string end_of(const Explorer& explorer, std::uint32_t number) {
    const plan::Plan& plan = explorer.plan();
    const explore::Word* row = explorer.row(number);
    std::vector<flow::PlayerId> names;
    for (const std::uint32_t name : explorer.names_in(number)) names.emplace_back(name);
    const flow::State settled = renamed(explorer.control_of(row), names);
    std::string text;
    for (const auto& there : explorer.levels_of(row)) {
        if (there.pending) continue; // the session ended before it came
        text += plan.levels[there.level].name + (there.shown ? " shown " : " ready ");
    }
    const flow::FactSlots& slots = explorer.layout().slots;
    const auto place_of = [&](flow::PlayerId player) {
        return static_cast<std::uint32_t>(std::find(names.begin(), names.end(), player) -
                                          names.begin());
    };
    for (const flow::FactSlot fact : slots.ids()) {
        const flow::PlayerId whose = slots.player(fact);
        const flow::FactSlot stands =
            whose ? slots.of(slots.fact(fact), flow::PlayerId{place_of(whose)}) : fact;
        text += fmt::format("{}={} ", fact.value, explorer.layout().facts[stands].get(row));
    }
    for (std::uint32_t player = 0; player < explorer.players().size(); ++player) {
        const explore::PlayerNow& now = explorer.player_of(row, place_of(flow::PlayerId{player}));
        text += fmt::format("{}@{} ", player,
                            now.on_the_way() ? "on the way"
                            : now.at         ? plan.waypoints[now.at].name
                                             : "nowhere");
    }
    std::set<std::uint32_t> veils;
    for (const auto& [veil, player] : settled.veils) veils.insert(veil.value);
    for (const std::uint32_t veil : veils) text += fmt::format("veil {} ", veil);
    for (const auto& [menu, who] : settled.open_menus)
        text += fmt::format("menu {} of {} ", menu.value, static_cast<int>(who.value));
    return text;
}

/// On a device so fast that any load is over long before any wait of the plan.
std::string on_a_fast_device(std::string text) {
    const std::size_t from = text.find("devices:\n");
    const std::size_t to = text.find("kits:");
    return text.replace(from, to - from,
                        "devices:\n  box:\n    memory: {total: 100000}\n    read: {rate: 9000000}\n"
                        "    makers: {workers: 100, speed: 1000}\n    frame: {fps: 1000}\n");
}

} // namespace

TEST_CASE("every witness, walked without hurry, ends in the situation it witnesses") {
    std::size_t walked = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(150); ++seed) {
        CAPTURE(seed);
        const std::string text = on_a_fast_device(tests::RandomPlan(seed, rich_of(seed)).text());
        plan::Plan plan = tests::plan_from(text);
        explore::Options options = tests::exploring_of(plan);
        options.most_situations = 200;
        const auto run = explore::explore_all(plan, options);
        Explorer& explorer = *run;
        const plan::RouteId route = plan.routes.push({});
        for (std::uint32_t number = 0; number < explorer.situations(); number += 1 + number / 20) {
            CAPTURE(number);
            const auto way = explorer.trace_to(number);
            plan.routes[route] = explore::route_of(explorer, way, "witness", plan);
            const walk::Record record = walk::walk(plan, route, plan::DeviceId{0});
            ++walked;
            CHECK(end_of(plan, record) == end_of(explorer, number));
        }
    }
    CHECK(walked > 1'000);
}

TEST_CASE("no unhurried walk of a move uses more memory, or longer frames, than its bound") {
    std::size_t compared = 0;
    std::size_t met = 0; // how often the bound is reached
    std::size_t longest = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(150); ++seed) {
        CAPTURE(seed);
        plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, rich_of(seed)).text());
        explore::Options options = tests::exploring_of(plan);
        options.most_situations = 60;
        const auto run = explore::explore_all(plan, options);
        Explorer& explorer = *run;
        const plan::RouteId route = plan.routes.push({});
        for (std::uint32_t number = 0; number < explorer.visited(); number += 7) {
            CAPTURE(number);
            const auto way = explorer.trace_to(number);
            explore::Use bound = explorer.bounds(0).during({}, {}, explorer.boot_log());
            std::vector<plan::ListId> lists = explorer.boot_log().lists;
            std::uint32_t situation = 0;
            const bool known = explorer.taken(way[0]).branches.empty();
            for (std::size_t i = 1; i < way.size() && known; ++i) {
                std::uint32_t next = situation;
                explorer.for_successors(
                    situation, [&](std::uint32_t after, const explore::Outcome& outcome) {
                        if (outcome.taken != way[i]) return;
                        next = after;
                        const explore::Effect& effect = explorer.effects()[outcome.effect];
                        lists.insert(lists.end(), effect.log.lists.begin(), effect.log.lists.end());
                        const explore::Word* row = explorer.row(situation);
                        bound.raise_to(explorer.bounds(0).during(
                            explorer.levels_of(row), explore::veils_up(explorer.control_of(row)),
                            effect.log));
                    });
                situation = next;
            }
            if (!known) continue;
            plan.routes[route] = explore::route_of(explorer, way, "witness", plan);
            const walk::Record record = walk::walk(plan, route, plan::DeviceId{0});
            std::vector<plan::ListId> walked;
            for (const walk::Transition& transition : record.transitions) {
                if (transition.list) walked.push_back(transition.list);
            }
            // On a slow device lists can go on in another order than at once.
            if (walked != lists || end_of(plan, record) != end_of(explorer, number)) continue;
            ++compared;
            CHECK(record.peak <= bound.total);
            if (record.peak == bound.total) ++met;
            for (const loading::MemoryRow& row : record.memory) {
                for (std::size_t pool = 0; pool < row.pools.size(); ++pool)
                    CHECK(row.pools[pool] <= bound.pools[pool]);
            }
            if (!plan::has_frame_costs(plan)) continue;
            CHECK(record.longest_frame <= bound.frame);
            if (record.longest_frame == bound.frame) ++longest;
        }
    }
    CHECK(compared > 300);
    CHECK(met > 50);
    CHECK(longest > 50);
}
