// What must hold of every session over several machines: random plans.

#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "tables/walk_tables.hpp"
#include "walk/casts.hpp"
#include "walk/ground.hpp"

#include <tuple>

using namespace hestrel;
using plan::Micros;

namespace {

constexpr std::uint32_t sessions_tried = 400;

/// A session is not launched again: such plans are passed over.
bool is_launched(const std::string& text) {
    return text.find("launch:") != std::string::npos;
}

std::string session_text(std::uint32_t seed) {
    const tests::Rich rich = seed % 4 == 1 ? tests::Rich::all : tests::Rich::yes;
    std::string text = tests::RandomPlan(seed, seed % 2 == 0 ? tests::Rich::no : rich).text();
    return is_launched(text) ? session_text(seed + sessions_tried) : text;
}

/// A plan whose route is played on several machines of its first device: the first player at the
/// first, the others at the others in turn.
plan::Plan with_machines(plan::Plan plan, std::uint32_t machines, Micros delay = {}) {
    plan::Route& route = plan.routes[plan::RouteId{0}];
    route.start.checkpoint.reset(); // who joins is placed there
    for (std::uint32_t i = 0; i < machines; ++i) {
        plan::Machine machine;
        machine.name = "m" + std::to_string(i);
        machine.place = route.place;
        machine.device = plan::DeviceId{0};
        if (i > 0) machine.delay = delay * i;
        route.machines.push(std::move(machine));
    }
    for (std::uint32_t player = 0; player < route.players.size(); ++player)
        route.machines[plan::MachineId{player % machines}].players.push_back(player);
    return plan;
}

std::vector<walk::Record> walk_session(const plan::Plan& plan) {
    walk::Options options;
    options.most_transitions = 2'000; // some go round in circles
    walk::Ground ground(plan);
    return walk::walk(plan, walk::casts(plan, {plan::RouteId{0}}, {plan::DeviceId{0}}).front(),
                      options, ground);
}

/// When which level was shown or hidden.
using Shown = std::vector<std::tuple<Micros, std::uint32_t, bool>>;
Shown shown_on(const walk::Record& record) {
    Shown shown;
    for (const walk::Event& event : record.events) {
        const bool comes = event.kind == walk::EventKind::level_shown;
        if (comes || event.kind == walk::EventKind::level_hidden)
            shown.emplace_back(event.at, event.subject, comes);
    }
    std::sort(shown.begin(), shown.end());
    return shown;
}

/// Each machine judges for its own players what comes near.
bool has_near(const plan::Plan& plan) {
    return std::any_of(plan.levels.begin(), plan.levels.end(),
                       [](const plan::Level& level) { return level.near.has_value(); });
}

} // namespace

TEST_CASE("random sessions: without delay, and alike, each machine shows what one walk shows") {
    std::size_t compared = 0;
    for (std::uint32_t seed = 0; seed < sessions_tried; ++seed) {
        plan::Plan plan = tests::plan_from(session_text(seed));
        plan.routes[plan::RouteId{0}].start.checkpoint.reset(); // who joins is placed there
        if (has_near(plan)) continue;
        CAPTURE(seed);
        walk::Options options;
        options.most_transitions = 2'000;
        const walk::Record one = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, options);
        const plan::Plan session = with_machines(plan, 3);
        for (const walk::Record& record : walk_session(session)) {
            CAPTURE(record.machine.value);
            CHECK(record.boot == one.boot);
            CHECK(shown_on(record) == shown_on(one));
            CHECK(record.end == one.end);
            CHECK(record.waited.empty());
            ++compared;
        }
    }
    CHECK(compared > sessions_tried);
}

TEST_CASE("random sessions: one machine is today's walk, to the byte") {
    for (std::uint32_t seed = 0; seed < sessions_tried; seed += 5) {
        CAPTURE(seed);
        plan::Plan plan = tests::plan_from(session_text(seed));
        plan.routes[plan::RouteId{0}].start.checkpoint.reset();
        walk::Options options;
        options.most_transitions = 2'000;
        const walk::Record one = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, options);
        const plan::Plan session = with_machines(plan, 1);
        const auto records = walk_session(session);
        REQUIRE(records.size() == 1);
        CHECK(tables::walk_json(session, records.front()) == tables::walk_json(plan, one));
    }
}

TEST_CASE("random sessions: orders come in turn, waits end or say whom they lack, bytes are the "
          "same") {
    std::size_t stuck = 0;
    std::size_t waited = 0;
    for (std::uint32_t seed = 0; seed < sessions_tried; ++seed) {
        CAPTURE(seed);
        tests::Dice dice(seed);
        const Micros delay = plan::milliseconds(dice.below(200));
        plan::Plan plan = with_machines(tests::plan_from(session_text(seed)),
                                        static_cast<std::uint32_t>(2 + dice.below(3)), delay);
        plan::Route& route = plan.routes[plan::RouteId{0}];
        const plan::MachineId last{route.machines.size() - 1};
        if (dice.one_in(2)) route.machines[last].joins = plan::milliseconds(dice.below(8000));
        const auto records = walk_session(plan);
        for (const walk::Record& record : records) {
            const plan::Machine& machine = route.machines[record.machine];
            CAPTURE(machine.name);
            CHECK(std::is_sorted(
                record.events.begin(), record.events.end(),
                [](const auto& one, const auto& other) { return one.at < other.at; }));
            Micros before;
            for (const walk::OrderSent& order : record.orders) {
                if (order.reached == Micros::never()) continue;
                CHECK(order.reached == order.sent + machine.delay);
                CHECK(order.reached >= before);
                before = order.reached;
            }
            if (record.stuck) {
                ++stuck;
                const bool names = record.stuck->kind == walk::StuckKind::endless ||
                                   record.stuck->kind == walk::StuckKind::out_of_time ||
                                   record.stuck->until || record.stuck->machine == record.machine;
                CHECK(names);
            }
            waited += record.waited.size();
            for (const walk::Gap& gap : record.gaps) CHECK(gap.from <= gap.to);
            for (const walk::Spell& spell : record.spells)
                CHECK(std::find(machine.players.begin(), machine.players.end(), spell.player) !=
                      machine.players.end());
        }
        if (seed % 8 != 0) continue;
        const auto again = walk_session(plan);
        for (std::size_t i = 0; i < records.size(); ++i)
            CHECK(tables::walk_json(plan, records[i]) == tables::walk_json(plan, again[i]));
        CHECK(tables::machines_csv(plan, records) == tables::machines_csv(plan, again));
    }
    CHECK(stuck > 10);
    CHECK(waited > 10);
}
