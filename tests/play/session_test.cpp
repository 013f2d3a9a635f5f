// A walk that grows: what can be done, what is refused, what is taken back (docs/model.md
// section 7).

#include "play/session.hpp"

#include "play/possible.hpp"
#include "source/open_plan.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "tables/route_yaml.hpp"
#include "tables/walk_tables.hpp"

using namespace hestrel;
using plan::milliseconds;
using tests::Lines;

namespace {

/// A title with a menu; a hall with a trigger in the middle of its way, and a gate behind it.
const std::string hall = std::string(tests::plain_device) + R"(
  slow: {memory: {total: 10000}, read: {rate: 10}, frame: {fps: 100}}
levels:
  title: {memory: {texture: 10}}
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: b}}
editions: {full: {levels: [title, hall, quay]}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [150, 0, 0]}
paths: [[a, b], {from: b, to: c, gate: g}]
gates: {g: {needs: [quay]}}
players: {carrier: {speeds: {walk: 2, run: 5}}}
menus: {m: {in: title, items: {begin: {steps: [{switch: {to: hall}}]}, quit: {steps: [{end: session}]}}}}
triggers:
  t: {in: hall, box: {min: [50, -1, -1], max: [60, 1, 1]}, steps: [{choose: {one: [{show: [quay]}], two: [{wait: 1 s}]}}]}
)";

/// A plan that is played, and steps in its names.
struct Played {
    explicit Played(const std::string& text)
        : open((disk.files["plan.yaml"] = text, disk), "plan.yaml"),
          session(open.plan(), *play::from_the_beginning(open.plan()),
                  plan::DeviceId{std::size_t{0}}) {
        CHECK_FALSE(open.has_errors());
    }

    bool play(const std::string& yaml) {
        auto read = open.read_step(yaml, session.player_now());
        return read.step && session.add(std::move(*read.step));
    }
    /// What can be done, as routes say it.
    [[nodiscard]] Lines possible() const {
        Lines lines;
        for (const play::Possible& each : play::possible(session))
            lines.push_back(each.shown ? "until"
                                       : tables::route_step_text(session.plan(), each.step));
        return lines;
    }

    source::MemoryDisk disk;
    source::OpenPlan open;
    play::Session session;
};

/// The walk of a route that was saved, read from its text.
std::string walked_again(const std::string& plan_text, const play::Session& session) {
    source::BlockYaml yaml;
    yaml.entry("hestrel", "1");
    yaml.entry("include", "[plan.yaml]");
    yaml.begin("routes");
    plan::Route route = session.route();
    route.name = "saved-here";
    tables::add_route(yaml, session.plan(), route);
    source::MemoryDisk disk;
    disk.files = {{"plan.yaml", plan_text}, {"play.yaml", yaml.text()}};
    source::PlanReading reading = source::read_plan(disk, "play.yaml");
    CAPTURE(yaml.text());
    for (const plan::Finding& each : reading.findings)
        FAIL_CHECK(plan::finding_text(reading.plan, each));
    const plan::RouteId id = tests::named(reading.plan.routes, "saved-here");
    const walk::Record record = walk::walk(reading.plan, id, session.device());
    return tables::events_csv(reading.plan, record) + tables::memory_csv(reading.plan, record) +
           tables::transitions_csv(reading.plan, record) + tables::loads_csv(reading.plan, record);
}
std::string tables_of(const play::Session& session) {
    const plan::Plan& plan = session.plan();
    return tables::events_csv(plan, session.record()) + tables::memory_csv(plan, session.record()) +
           tables::transitions_csv(plan, session.record()) +
           tables::loads_csv(plan, session.record());
}

} // namespace

TEST_CASE("a session begins where the edition does, and grows step by step") {
    Played game(hall);
    CHECK(game.session.standing().at == milliseconds(110));
    CHECK(game.possible() == Lines{"press m.begin", "press m.quit"});
    REQUIRE(game.play("{press: m.begin}"));
    // At once, while the hall is read: shown 1 s and a frame later.
    CHECK(game.session.standing().at == milliseconds(110));
    CHECK(game.session.standing().players[0].frozen);
    const plan::LevelId hall_level{std::size_t{1}};
    CHECK(play::shown_at(game.session, hall_level) == milliseconds(1'120));
    CHECK(play::settled_at(game.session) == milliseconds(1'120));
    CHECK(game.possible() == Lines{"pause 1.01 s"});
    REQUIRE(game.play("{until: shown(hall)}"));
    CHECK(game.session.standing().players.front().at == plan::WaypointId{std::size_t{0}});
    CHECK(game.possible() == Lines{"go b"});
    REQUIRE(game.play("{go: b}"));
    // The quay is shown at 26.12 + 2.01 s; the gate opens with it.
    CHECK(game.session.standing().at == milliseconds(51'120));
    CHECK(game.possible() == Lines{"go a", "go c", "pick two"});
    CHECK_FALSE(play::possible(game.session)[1].gate);
}

TEST_CASE("what can't be done changes nothing, and says why") {
    Played game(hall);
    const std::string before = tables_of(game.session);
    CHECK_FALSE(game.play("{go: b}"));
    CHECK(game.session.refused().stuck->nowhere);
    CHECK_FALSE(game.play("{until: shown(quay)}"));
    CHECK(game.session.steps() == 0);
    CHECK(tables_of(game.session) == before);
    REQUIRE(game.play("{press: m.quit}"));
    CHECK(game.possible() == Lines{"launch again"});
    CHECK_FALSE(game.play("{press: m.begin}"));
    REQUIRE(game.play("{launch: again}"));
    CHECK(game.possible() == Lines{"press m.begin", "press m.quit"});
}

TEST_CASE("taking back and another device are exact") {
    Played game(hall);
    const Lines steps{"{press: m.begin}", "{until: shown(hall)}", "{go: b}", "{pause: 3 s}"};
    std::vector<std::string> states{tables_of(game.session)};
    for (const std::string& step : steps) {
        REQUIRE(game.play(step));
        states.push_back(tables_of(game.session));
    }
    for (std::size_t left = steps.size(); left > 0; --left) {
        CHECK(game.session.undo(1) == 1);
        CHECK(tables_of(game.session) == states[left - 1]);
    }
    CHECK(game.session.undo(1) == 0);
    for (const std::string& step : steps) REQUIRE(game.play(step));
    game.session.play_on(plan::DeviceId{std::size_t{1}});
    CHECK(tables_of(game.session) == walked_again(hall, game.session));
    game.session.play_on(plan::DeviceId{std::size_t{0}});
    CHECK(tables_of(game.session) == states.back());
    CHECK(game.session.undo(99) == 4);
}

TEST_CASE("a pick counts for the choice that was met before it: what followed is walked anew") {
    Played game(hall);
    for (const char* step : {"{press: m.begin}", "{until: shown(hall)}", "{go: b}"})
        REQUIRE(game.play(step));
    CHECK(game.session.standing().levels[plan::LevelId{std::size_t{2}}] ==
          loading::LevelCondition::shown);
    REQUIRE(game.play("{pick: two}"));
    CHECK(game.session.standing().levels[plan::LevelId{std::size_t{2}}] ==
          loading::LevelCondition::absent);
    CHECK(play::possible(game.session)[1].gate);
}

TEST_CASE("random players: a random one's steps never break it, and the saved route is the walk") {
    std::size_t played = 0;
    std::size_t refused = 0;
    for (std::uint32_t seed = 0; seed < 120; ++seed) {
        CAPTURE(seed);
        const std::string text =
            tests::RandomPlan(seed, seed % 3 == 2 ? tests::Rich::all : tests::Rich::yes).text();
        Played game(text);
        tests::Dice dice(seed);
        for (int i = 0; i < 8; ++i) {
            if (dice.one_in(6)) game.session.undo(1);
            const auto possible = play::possible(game.session);
            const std::string before = tables_of(game.session);
            bool done = false;
            if (!possible.empty() && !dice.one_in(4)) {
                play::Possible chosen = possible[static_cast<std::size_t>(
                    dice.below(static_cast<int>(possible.size())))];
                if (chosen.shown) chosen.step.what = plan::PauseStep{chosen.time};
                done = game.session.add(chosen.step);
            } else {
                const Lines lines{"{press: desk.go}",
                                  "{go: way3}",
                                  "{expect: n == 2}",
                                  "{launch: again}",
                                  "{pause: 2}",
                                  "{set: {n: +1}}",
                                  "{until: veiled}",
                                  "{expect: now}",
                                  "{expect: {that: shown(level1), within: 3}}"};
                done = game.play(lines[static_cast<std::size_t>(dice.below(9))]);
            }
            ++(done ? played : refused);
            if (!done) CHECK(tables_of(game.session) == before);
        }
        CHECK(tables_of(game.session) == walked_again(text, game.session));
    }
    CHECK(played > 300);
    CHECK(refused > 50);
}
