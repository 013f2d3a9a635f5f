// A session over several machines (docs/model.md section 11), worked out by hand.

#include "support/session.hpp"
#include "walk/known_levels.hpp"
#include "walk/roles.hpp"

using namespace hestrel;
using plan::milliseconds;
using tests::Lines;
using tests::never;
using tests::Session;

namespace {

/// A hall in which one can run from `a` over `b` to `d`, a yard elsewhere, a cellar behind `b`. The
/// trigger `out` is 10 m from `a`.
std::string world(const std::string& steps, const std::string& more = "") {
    return R"(
veils: {dark: {min: 1 s}}
levels:
  hall:
    memory: {all: 100}
    area: {min: [-5, -5, -5], max: [25, 5, 5]}
    entries: {door: a}
  yard:
    memory: {all: 200}
    area: {min: [95, -5, -5], max: [130, 5, 5]}
    entries: {gate: c}
  cellar:
    memory: {all: 50}
    area: {min: [30, -5, -5], max: [45, 5, 5]}
waypoints: {a: [0, 0, 0], b: [20, 0, 0], d: [40, 0, 0], c: [100, 0, 0], e: [120, 0, 0]}
paths: [[a, b], [b, d], [c, e]]
triggers:
  out:
    in: hall
    box: {min: [10, -1, -1], max: [11, 1, 1]}
    steps: )" +
           steps + "\n" + more;
}

std::string route(const std::string& machines, const std::string& ada, const std::string& ben) {
    return "routes:\n  together:\n    start: {level: hall}\n    machines: {" + machines +
           "}\n    players: {ada: {steps: [" + ada + "]}, ben: {steps: [" + ben + "]}}\n";
}

const std::string two = "host: {device: fast, players: [ada]}, "
                        "guest: {device: slow, players: [ben], delay: 60 ms}";
/// Both as fast as each other.
const std::string alike = "host: {device: fast, players: [ada]}, "
                          "guest: {device: fast, players: [ben], delay: 60 ms}";

std::string joining(const std::string& when) {
    return "host: {device: fast, players: [ada]}, "
           "guest: {device: slow, players: [ben], delay: 60 ms, joins: " +
           when + "}";
}

const std::string to_yard = "[{switch: {to: yard, veil: dark}}]";

} // namespace

TEST_CASE("session: a switch holds everyone until the slowest is known to be ready, and shown") {
    const Session session(world(to_yard) + route(two, "{go: b}", "{pause: 1 s}"));
    CHECK(session.when("host", "boot-ended") == milliseconds(1010));
    CHECK(session.when("guest", "boot-ended") == milliseconds(2010));
    CHECK(session.when("guest", "placed", "ben") == milliseconds(2010));
    CHECK(session.when("host", "joined", "guest") == milliseconds(2070));
    // Ada has run 10 m; the guest is told 60 ms later, and reads for 4 s.
    CHECK(session.when("host", "switch-began", "yard") == milliseconds(3010));
    CHECK(session.when("guest", "switch-began", "yard") == milliseconds(3070));
    CHECK(session.when("guest", "veil-up", "dark") == milliseconds(3070));
    CHECK(session.when("host", "ready", "yard") == milliseconds(5010));
    CHECK(session.when("guest", "ready", "yard") == milliseconds(7070));
    // Which the host knows at 7.13: both let go of the hall and show, each when it is told.
    CHECK(session.when("host", "unloaded", "hall") == milliseconds(7130));
    CHECK(session.when("guest", "unloaded", "hall") == milliseconds(7190));
    CHECK(session.when("host", "shown", "yard") == milliseconds(7140));
    CHECK(session.when("guest", "shown", "yard") == milliseconds(7200));
    // And knows at 7.26 that the guest's is shown.
    CHECK(session.when("host", "placed", "ada") == milliseconds(7260));
    CHECK(session.all("guest", "placed", "ben").back() == milliseconds(7320));
    CHECK(session.when("host", "veil-down", "dark") == milliseconds(7260));
    CHECK(session.when("guest", "veil-down", "dark") == milliseconds(7320));

    REQUIRE(session.on("host").waited.size() == 1);
    const walk::WaitedFor& waited = session.on("host").waited.front();
    CHECK(waited.waited == milliseconds(2120 + 120));
    CHECK(waited.longest == milliseconds(2120));
    CHECK(waited.whom == plan::MachineId{1});
    CHECK(session.on("guest").waited.empty());
    CHECK(session.on("host").transitions.front().reached == milliseconds(3010));
    CHECK(session.on("guest").transitions.front().reached == milliseconds(3070));
}

TEST_CASE("session: a target that was loaded comes back on each machine, and is waited for anew") {
    const Session session(
        world("[{load: yard}, {wait: {ready: yard}}, {switch: {to: yard, veil: dark}}]") +
        route(two, "{go: b}", "{pause: 1 s}"));
    // Known to be ready on both at 7.13, when the switch begins.
    CHECK(session.when("host", "switch-began", "yard") == milliseconds(7130));
    CHECK(session.when("host", "unloaded", "yard") == milliseconds(7130));
    CHECK(session.when("guest", "unloaded", "yard") == milliseconds(7190));
    // What it needs is not released meanwhile: it is ready again at once.
    CHECK(session.all("guest", "ready", "yard") ==
          std::vector{milliseconds(7070), milliseconds(7190)});
    CHECK(session.when("host", "shown", "yard") == milliseconds(7140));
    CHECK(session.when("guest", "shown", "yard") == milliseconds(7200));
    CHECK(session.when("host", "placed", "ada") == milliseconds(7260));
    CHECK(session.when("guest", "veil-down", "dark") == milliseconds(7130 + 1000 + 60));

    const Session reused(
        world("[{load: yard}, {wait: {ready: yard}}, {switch: {to: yard, reuse: true}}]") +
        route(two, "{go: b}", "{pause: 1 s}"));
    CHECK(reused.when("host", "shown", "yard") == milliseconds(7140));
    CHECK(reused.when("guest", "shown", "yard") == milliseconds(7200));
    CHECK(reused.when("guest", "unloaded", "yard") == never);
}

TEST_CASE("session: how long a machine may wait for others is a limit") {
    const std::string text = world(to_yard) + route(two, "{go: b}", "{pause: 1 s}");
    CHECK(Session(text + "limits: {others: 2.24 s}\n").found("host").empty());
    const Session over(text + "limits: {others: 2.23 s}\n");
    CHECK(over.found("host") == Lines{"waits-for-slowest"});
    CHECK(over.on("host").findings.front().message ==
          "at 5.01 s host waits 2.24 s for other machines, longest for guest (together on host "
          "(fast))");
    CHECK(over.on("host").verdict == plan::Verdict::over_limit);
    CHECK(over.on("guest").verdict == plan::Verdict::fine);
}

TEST_CASE("session: who joins in the middle of a load asks for what the keeper has, in its order") {
    const Session session(world("[{load: yard}, {show: cellar}]") +
                          route(joining("4 s"), "{go: b}, {pause: 20 s}", "{pause: 1 s}"));
    CHECK(session.when("host", "ready", "yard") == milliseconds(5010));
    CHECK(session.when("guest", "queued", "yard") == milliseconds(4000)); // without any delay
    CHECK(session.when("guest", "ready", "hall") == milliseconds(6000));
    CHECK(session.when("guest", "ready", "yard") == milliseconds(10000));
    CHECK(session.when("guest", "shown", "yard") == never); // nor is it on the host
    CHECK(session.when("guest", "shown", "cellar") == milliseconds(11010));
    CHECK(session.when("guest", "placed", "ben") == milliseconds(11010));
    CHECK(session.on("guest").boot == milliseconds(7010)); // since it joined
    CHECK(session.when("host", "joined", "guest") == milliseconds(11070));
}

TEST_CASE("session: who joins in the middle of a switch boots when that has ended") {
    const Session session(world(to_yard) + route(joining("4 s"), "{go: b}", "{pause: 1 s}"));
    // Nobody but the host is waited for.
    CHECK(session.when("host", "switch-ended", "yard") == milliseconds(5020));
    CHECK(session.when("guest", "queued", "hall") == never);
    CHECK(session.when("guest", "queued", "yard") == milliseconds(5020));
    CHECK(session.when("guest", "boot-ended") == milliseconds(9030));
    CHECK(session.on("guest").boot == milliseconds(4010));
    REQUIRE(session.all("guest", "placed", "ben").size() == 1);
    const auto placed = std::find_if(
        session.on("guest").events.begin(), session.on("guest").events.end(),
        [](const walk::Event& event) { return event.kind == walk::EventKind::placed; });
    CHECK(session.plan.waypoints[plan::WaypointId{placed->detail}].name == "c"); // where it led
}

TEST_CASE("session: a switch does not wait for who boots; that boots anew, and keeps what it has") {
    const Session session(world(to_yard) + route(joining("2.5 s"), "{go: b}", "{pause: 1 s}"));
    CHECK(session.when("host", "switch-ended", "yard") == milliseconds(5020));
    CHECK(session.when("guest", "switch-began", "yard") == milliseconds(3070));
    CHECK(session.when("guest", "ready", "hall") == milliseconds(4500));
    // It would have booted with the hall, but for the switch.
    CHECK(session.when("guest", "unloaded", "hall") == milliseconds(5020));
    // The yard was asked for at 3.07 and is read from 4.5 on: that is kept.
    CHECK(session.when("guest", "reading", "yard") == milliseconds(4500));
    CHECK(session.when("guest", "boot-ended") == milliseconds(8510));
    CHECK(session.on("guest").boot == milliseconds(6010)); // since it joined
    CHECK(session.on("host").waited.empty());
}

TEST_CASE("session: what a machine has when its boot begins anew it tells anew") {
    std::string text = world("[{load: yard}, {load: cellar}, {wait: 7.5 s}, {switch: {to: yard}}]",
                             "facts: {there: {initial: false}}\n");
    text.replace(text.find("    memory: {all: 200}"), 0,
                 "    arrive: [{wait: 1 s}, {wait: {ready: yard}}, {set: {there: true}}]\n");
    const Session session(text + route(joining("4 s"), "{go: b}, {pause: 9 s}", "{pause: 1 s}"));
    // The yard is there at 10.00, known at 10.06; the switch at 10.51 lets it go and brings it
    // back, of which the guest hears nothing: its boot begins anew at 10.52.
    CHECK(session.when("guest", "ready", "yard") == milliseconds(10000));
    CHECK(session.when("guest", "unloaded", "yard") == never);
    CHECK(session.when("guest", "unloaded", "hall") == milliseconds(10520));
    CHECK(session.when("guest", "boot-ended") == milliseconds(10530));
    CHECK(session.when("host", "fact-set", "there") == milliseconds(11520));
}

TEST_CASE("session: who: firer loads on one machine; who stands there on another sees nothing") {
    const Session session(world("[{show: cellar, who: firer}]") + route(two, "{go: d}", "{go: d}"));
    CHECK(session.when("host", "shown", "cellar") == milliseconds(3520));
    CHECK(session.found("host").empty());
    // Ben crosses the trigger too, at 4.01, while the list has ended: his machine is told as well.
    CHECK(session.when("guest", "queued", "cellar") == milliseconds(4010 + 120));

    const Session told_once(world("[{show: cellar, who: firer}]", "    once: true\n") +
                            route(two, "{go: d}", "{go: d}"));
    CHECK(told_once.when("guest", "queued", "cellar") == never);
    CHECK(told_once.found("guest") == Lines{"unknown-there", "stood-in-gap"});
    CHECK(told_once.on("guest").findings.front().message ==
          "at 8.01 s ben stands in cellar, and guest was never told to load it (together on guest "
          "(slow))");
}

TEST_CASE("session: a wait is for all, and for ever where one was never asked") {
    const Session session(
        world("[{show: cellar, who: firer}, {wait: {shown: cellar}}, {unload: cellar}]",
              "    once: true\n") +
        route(two, "{go: b}", "{go: b}"));
    CHECK_FALSE(session.on("host").stuck);
    REQUIRE(session.on("guest").stuck);
    CHECK(session.on("guest").stuck->machine == plan::MachineId{1});
    CHECK(tables::stuck_text(session.plan, session.on("guest")) ==
          "trigger out (plan.yaml:28:41) waits for cellar to be shown on guest, which nothing has "
          "asked "
          "for");

    const Session firers(
        world("[{show: cellar, who: firer}, {wait: {shown: cellar}, who: firer}, {unload: "
              "cellar}]",
              "    once: true\n") +
        route(two, "{go: b}", "{go: b}"));
    CHECK(firers.when("host", "unloaded", "cellar") == milliseconds(3520));
}

TEST_CASE("session: near levels are each machine's own, at once") {
    std::string text = world("[]");
    text.replace(text.find("    memory: {all: 50}"), 0, "    near: {load: 12 m, unload: 25 m}\n");
    const Session session(text + route(two, "{go: b}", "{pause: 1 s}"));
    // 12 m before 30 is 18: 3.6 s after the boot.
    CHECK(session.when("host", "came-near", "cellar") == milliseconds(4610));
    CHECK(session.when("host", "shown", "cellar") == milliseconds(5120));
    CHECK(session.when("guest", "queued", "cellar") == never);
    CHECK(session.on("host").transitions.size() == 2); // Ada's trigger, and that
    CHECK(session.on("guest").transitions.size() == 1);
}

TEST_CASE("session: a gate looks at the machine of who stands before it") {
    std::string text =
        world("[{show: cellar, who: firer}]", "    once: true\ngates: {hatch: {needs: cellar}}\n");
    const std::string path = "[b, d]";
    text.replace(text.find(path), path.size(), "{from: b, to: d, gate: hatch}");
    const Session session(text + route(two, "{go: d}", "{go: d}"));
    CHECK(session.when("host", "arrived", "ada") == milliseconds(9010));
    CHECK(session.when("guest", "at-gate", "ben") == milliseconds(6010));
    REQUIRE(session.on("guest").stuck);
    CHECK(session.on("guest").stuck->kind == walk::StuckKind::at_gate);
    CHECK(session.on("guest").verdict == plan::Verdict::stuck);
    CHECK(session.on("host").verdict == plan::Verdict::fine);
}

TEST_CASE("session: it ends on each machine when that hears of it, whether or not it has joined") {
    const Session session(world("[{end: session}]") +
                          route(joining("2.5 s"), "{go: b}", "{pause: 1 s}"));
    CHECK(session.on("host").end == milliseconds(3010));
    CHECK(session.on("guest").end == milliseconds(3070));
    CHECK(session.when("guest", "reading", "hall") == milliseconds(2500));
    CHECK_FALSE(session.on("guest").boot);
    CHECK_FALSE(session.on("guest").joined);
    CHECK(session.found("guest") == Lines{"joined-too-late"});
    CHECK(session.found("host").empty());
    for (const walk::Record& record : session.machines) CHECK(record.session_ended);
}

TEST_CASE("session: a route that ends before a machine joins says so") {
    const Session session(world("[]") + route(joining("9 s"), "{go: b}", ""));
    CHECK(session.on("host").end == milliseconds(5010)); // it is not waited for
    CHECK(session.found("guest") == Lines{"joined-too-late"});
    CHECK(session.on("guest").loads.empty());
}

TEST_CASE("session: a press that comes too late for the keeper is lost") {
    const std::string menu = R"(facts: {times: {initial: 0, range: [0, 9]}}
menus: {desk: {in: hall, items: {begin: {steps: [{set: {times: +1}}]}}}}
)";
    const Session session(
        world("[]", menu) +
        route(alike,
              "{pause: 1 s}, {press: desk.begin}, {expect: times == 1}, {pause: 1 s}, "
              "{expect: times == 1}",
              "{pause: 1.02 s}, {press: desk.begin}"));
    CHECK(session.when("host", "menu-opened", "desk") == milliseconds(1010));
    CHECK(session.when("guest", "menu-opened", "desk") == milliseconds(1070));
    CHECK(session.when("host", "pressed", "desk.begin") == milliseconds(2010));
    // The guest has not heard of it; its own menu closes at once.
    CHECK(session.when("guest", "pressed", "desk.begin") == milliseconds(2030));
    CHECK(session.all("guest", "menu-closed", "desk") == std::vector{milliseconds(2030)});
    CHECK(session.when("host", "press-lost", "desk.begin") == milliseconds(2090));
    CHECK(session.found("host").empty());
}

TEST_CASE("session: who is there before the keeper can lead the game away from where it boots") {
    const std::string menu = "menus: {desk: {in: hall, items: {begin: {steps: [{switch: {to: yard, "
                             "order: free-first}}]}}}}\n";
    const Session session(world("[]", menu) +
                          route("host: {device: slow, players: [ada]}, "
                                "guest: {device: fast, players: [ben], delay: 60 ms}",
                                "{pause: 1 s}", "{press: desk.begin}"));
    // The guest's hall is shown at 1.01, its menu opens at 1.13, the press is there at 1.19.
    CHECK(session.when("guest", "pressed", "desk.begin") == milliseconds(1130));
    CHECK(session.when("host", "switch-began", "yard") == milliseconds(1190));
    CHECK(session.when("host", "given-up", "hall") == milliseconds(1190));
    CHECK(session.when("host", "boot-ended") == milliseconds(1190)); // nothing to wait for
    CHECK(session.when("host", "shown", "yard") == milliseconds(5200));
    for (const walk::Record& record : session.machines) {
        CHECK_FALSE(record.stuck);
        CHECK(record.boot);
    }
}

TEST_CASE("session: what a player crosses before it is placed elsewhere counts no more") {
    // Ada's trigger places everyone 5 ms after Ben's has been crossed, unknown to the keeper.
    const std::string pit = R"(  pit:
    in: hall
    for: [heavy]
    box: {min: [9.975, -1, -1], max: [10.5, 1, 1]}
    steps: []
)";
    std::string text = world("[{place: {at: hall.door}, who: all}]", "    for: [light]\n" + pit);
    const auto with = [&](const std::string& delay) {
        return text +
               "routes:\n  together:\n    start: {level: hall}\n    machines: {host: "
               "{device: fast, players: [ada]}, guest: {device: fast, players: [ben]" +
               delay +
               "}}\n    players: {ada: {as: light-runner, steps: [{go: b}]}, ben: {as: "
               "heavy-runner, steps: [{go: b}]}}\n";
    };
    const std::string kinds = "  light-runner: {tags: [light], speeds: {run: 5}}\n"
                              "  heavy-runner: {tags: [heavy], speeds: {run: 5}}\n";
    // `players` is the last key of the devices.
    const Session at_once(kinds + with(""));
    CHECK(at_once.when("host", "fired", "pit") == milliseconds(3005));
    const Session late(kinds + with(", delay: 60 ms"));
    CHECK(late.when("guest", "entered", "pit") == milliseconds(3005));
    CHECK(late.when("host", "fired", "out") == milliseconds(3010));
    CHECK(late.when("host", "fired", "pit") == never);
    CHECK(late.all("guest", "placed", "ben").back() == milliseconds(3070));
}

TEST_CASE("session: a headless keeper has everything at once, and is nobody's stage") {
    std::string text = world(to_yard, "facts: {there: {initial: false}}\n");
    text.replace(text.find("    memory: {all: 200}"), 0, "    arrive: [{set: {there: true}}]\n");
    const Session session(text + route("server: {device: fast, headless: true}, "
                                       "host: {device: fast, players: [ada], delay: 10 ms}, "
                                       "guest: {device: slow, players: [ben], delay: 60 ms}",
                                       "{go: b}", "{pause: 1 s}"));
    CHECK(session.when("server", "boot-ended") == milliseconds(0));
    CHECK(session.on("server").peak == plan::Bytes{});
    CHECK(session.on("server").loads.empty());
    CHECK(session.when("server", "fired", "out") == milliseconds(3020));
    CHECK(session.when("server", "ready", "yard") == milliseconds(3020));
    CHECK(session.when("guest", "ready", "yard") == milliseconds(7080));
    CHECK(session.when("server", "shown", "yard") == milliseconds(7140));
    CHECK(session.when("host", "shown", "yard") == milliseconds(7160));
    CHECK(session.when("guest", "shown", "yard") == milliseconds(7210));
    // The hall has left when it has on both; the yard arrives with the switch.
    CHECK(session.when("server", "fact-set", "there") == milliseconds(7270));
}

TEST_CASE("session: what a machine sent before an order reached it counts no more") {
    using flow::LevelChange;
    const plan::LevelId quay{std::size_t{0}};
    walk::KnownLevels known(1);
    std::vector<flow::LevelEvent> events;
    known.tell_asked(quay, 1);
    CHECK(known.learn(quay, LevelChange::ready, 1));
    CHECK(known.learn(quay, LevelChange::shown, 1));
    known.tell_hidden(quay, 2, events);
    CHECK_FALSE(known.shown(quay));
    CHECK(known.ready(quay));
    REQUIRE(events.size() == 1);
    CHECK(events.front().change == LevelChange::hidden);
    CHECK_FALSE(known.learn(quay, LevelChange::shown, 1)); // it had been shown just then
    CHECK(known.learn(quay, LevelChange::shown, 2));       // it is, anew
    known.tell_unloaded(quay, 3, events);
    CHECK_FALSE(known.learn(quay, LevelChange::ready, 2));
    known.tell_asked(quay, 4);
    CHECK(known.learn(quay, LevelChange::ready, 4));
    CHECK(known.ready_before(quay, 5));
    CHECK_FALSE(known.ready_before(quay, 4));
    // Let go there by itself, while it is on its way to being asked for again.
    known.tell_asked(quay, 5);
    CHECK(known.learn(quay, LevelChange::unloaded, 4));
    CHECK(known.asked().contains(quay));
    CHECK_FALSE(known.ready(quay));
}

TEST_CASE("session: bad machines are told where they stand") {
    const auto said = [](const std::string& machines) {
        const Lines findings = tests::findings_of(std::string(tests::two_devices) + world("[]") +
                                                  route(machines, "{go: b}", "{go: b}"));
        return findings.empty() ? std::string() : findings.front().substr(0, 400);
    };
    const auto says = [&](const std::string& machines, const std::string& what) {
        CAPTURE(machines, said(machines));
        CHECK(said(machines).find(what) != std::string::npos);
    };
    CHECK(said(two).empty());
    says("host: {device: fast, players: [ada, ben]}, guest: {device: slow, players: [ben]}",
         "ben sits at host already");
    says("host: {device: fast, players: [ada]}, guest: {device: slow}", "ben sits at no machine");
    says("host: {players: [ada]}, guest: {device: slow, players: [ben]}", "device");
    says("host: {device: fast, players: [ada]}, guest: {device: slow, players: [bem]}",
         "together has no player \"bem\"; did you mean \"ben\"?");
    says("host: {device: fast, players: [ada], delay: 1 s}, guest: {device: slow, players: [ben]}",
         "it has no delay");
    says("host: {device: fast, players: [ada], joins: 1 s}, guest: {device: slow, players: [ben]}",
         "it is there first");
    says("host: {device: fast, players: [ada]}, guest: {device: slow, players: [ben], delay: -1 s}",
         "-1 s");
    says("host: {device: fast, players: [ada]}, guest: {device: slow, players: [ben], headless: "
         "true}",
         "only the first machine can be headless");
    says("host: {device: fast, players: [ada, ben], headless: true}", "nobody can sit at");
    says("host: {device: quick, players: [ada, ben]}", "no device is called \"quick\"");
    says("a: {device: any, players: [ada]}, b: {device: any, players: [ben]}, c: {device: any}",
         "at most two machines are of any device, not 3");
}

TEST_CASE("session: any device plays its role in turn") {
    const plan::Plan plan = tests::plan_from(
        std::string(tests::two_devices) + world("[]") +
        route("host: {device: any, players: [ada]}, guest: {device: any, players: [ben]}", "", ""));
    const auto casts =
        walk::casts(plan, {plan::RouteId{0}}, {plan::DeviceId{0}, plan::DeviceId{1}});
    Lines names;
    for (const walk::Cast& cast : casts) names.push_back(walk::devices_text(plan, cast.devices));
    CHECK(names == Lines{"fast+fast", "fast+slow", "slow+fast", "slow+slow"});
}

TEST_CASE("session: which device is worst in which role") {
    const plan::Plan plan = tests::plan_from(
        std::string(tests::two_devices) + world(to_yard) +
        route("host: {device: any, players: [ada]}, guest: {device: any, players: [ben], delay: 60 "
              "ms}",
              "{go: b}", "{pause: 1 s}"));
    std::vector<walk::Record> records = tests::walks_of(plan);
    const auto matrices = walk::role_matrices(plan, records);
    REQUIRE(matrices.size() == 1);
    const walk::RoleMatrix& matrix = matrices.front();
    CHECK(matrix.rows == std::vector{plan::DeviceId{0U}, plan::DeviceId{1U}});
    CHECK(matrix.columns == matrix.rows);
    REQUIRE(matrix.outcomes.size() == 4);
    // A fast host waits longest for a slow guest: 2 s, and twice there and back.
    CHECK(matrix.worst == 1);
    CHECK(matrix.at(0, 1).waited == milliseconds(2240));
    CHECK(matrix.at(0, 1).who == plan::MachineId{0U});
    // A fast guest waits for a slow host, less what its own news takes.
    CHECK(matrix.at(1, 0).who == plan::MachineId{1U});
    CHECK(matrix.at(1, 0).waited == milliseconds(2000 - 120));
    // Alike, the host waits for what takes its way.
    CHECK(matrix.at(0, 0).waited == milliseconds(240));
}

TEST_CASE("session: 64 machines walk") {
    std::string machines = "m0: {device: fast, players: [p0]}";
    std::string players = "p0: {steps: [{go: b}]}";
    for (int i = 1; i < 64; ++i) {
        const std::string n = std::to_string(i);
        machines += ", m" + n + ": {device: " + (i % 2 == 0 ? "fast" : "slow") + ", players: [p" +
                    n + "], delay: " + n + " ms}";
        players += ", p" + n + ": {steps: [{pause: 1 s}]}";
    }
    const Session session(world(to_yard) + "routes: {all: {start: {level: hall}, machines: {" +
                          machines + "}, players: {" + players + "}}}\n");
    CHECK(session.machines.size() == 64);
    for (const walk::Record& record : session.machines)
        CHECK(record.verdict == plan::Verdict::fine);
    // The last to be known is m63: told at 3.073, it reads for 4 s.
    CHECK(session.when("m0", "unloaded", "hall") == milliseconds(3010 + 2 * 63 + 4000));
}
