// What verify says of logs that are worked out by hand.

#include "support/plays.hpp"

using namespace hestrel;
using tests::Lines;
using tests::Verified;

namespace {

/// A level of 100 MiB is read in 1 s after a latency of 10 ms, attached in the frame that begins
/// then, and shown with the next, 10 ms later.
constexpr std::string_view two_rooms = R"(hestrel: 1
devices:
  box: {memory: {total: 1000}, read: {rate: 100, latency: 10 ms}, frame: {fps: 100}}
players: {carrier: {speeds: {run: 5}}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
levels:
  hall: {memory: {t: 100}, entries: {in: a}}
  yard: {memory: {t: 100}}
facts: {bells: {initial: 0, range: [0, 3]}}
triggers:
  door: {in: hall, once: true, when: bells < 2, box: {min: [40, 0, -1], max: [42, 1, 1]}, steps: [{show: [yard]}, {set: {bells: +1}}]}
  gong: {in: yard, box: {min: [80, 0, -1], max: [82, 1, 1]}, steps: [{unload: [yard]}]}
menus: {bag: {in: yard, items: {home: {steps: [{end: session}]}}}}
routes: {r: {start: {level: hall, waypoint: a}, steps: [{go: b}]}}
)";

plan::Plan two_rooms_plan() {
    return tests::plan_from(std::string(two_rooms));
}

Lines lines_of(const std::string& events) {
    const plan::Plan plan = two_rooms_plan();
    return Verified(plan, tests::log_from("time_s,event,subject,player\n" + events)).lines();
}

/// The door 5 s after the boot, on a clock of the game's own; the yard is there 1.02 s later.
const std::string as_planned =
    "100,shown,hall,\n105,fired,door,carrier\n106.01,ready,yard,\n106.02,shown,yard,\n";

} // namespace

TEST_CASE("verify: a game that does what the plan says, on a clock of its own") {
    CHECK(lines_of(as_planned) == Lines{});
}

TEST_CASE("verify: a level is later than planned, by more than a tenth and 100 ms") {
    CHECK(lines_of("100,shown,hall,\n105,fired,door,\n106.11,shown,yard,\n") == Lines{}); // 90 ms
    CHECK(lines_of("100,shown,hall,\n105,fired,door,\n107.02,shown,yard,\n") ==
          Lines{"later-than-planned: yard was shown at 107.02 s, 1.00 s later than planned "
                "(trigger door at 105.00 s)"});
    CHECK(lines_of("100,shown,hall,\n105,fired,door,\n105.5,shown,yard,\n") ==
          Lines{"earlier-than-planned: yard was shown at 105.50 s, 520 ms earlier than planned "
                "(trigger door at 105.00 s)"});
}

TEST_CASE("verify: what fires that could not") {
    CHECK(lines_of(as_planned + "110,fired,door,\n") ==
          Lines{"unplanned-firing: trigger door fired at 110.00 s, and by the plan it could not: "
                "it fires once, and had fired"});
    CHECK(lines_of("100,shown,hall,\n105,fired,gong,\n") ==
          Lines{"unplanned-firing: trigger gong fired at 105.00 s, and by the plan it could not: "
                "yard was not shown"});
    CHECK(lines_of("100,shown,hall,\n103,pressed,bag.home,\n") ==
          Lines{"unplanned-firing: item bag.home was pressed at 103.00 s, and by the plan it could "
                "not: menu bag was not open"});
}

TEST_CASE("verify: a condition that the plan has and the game lacks") {
    const plan::Plan plan = two_rooms_plan();
    const verify::Log log = tests::log_from("time_s,event,subject,detail\n100,shown,hall,\n"
                                            "101,fact-set,bells,2\n105,fired,door,\n");
    // What the game sets by itself is no finding, and counts; that the door sets it once more is
    // not in the log.
    CHECK(Verified(plan, log).lines() ==
          Lines{"unplanned-firing: trigger door fired at 105.00 s, and by the plan it could not: "
                "\"bells < 2\" did not hold",
                "fact-differs: bells was not set to 3 at 105.00 s"});
}

TEST_CASE("verify: a trigger that needs nobody, and never fired") {
    std::string text(two_rooms);
    const std::string gong = "  gong:";
    text.insert(text.find(gong),
                "  both: {fires: when-true, when: ready(yard), steps: [{hide: [yard]}]}\n");
    const plan::Plan plan = tests::plan_from(text);
    const std::string head = "time_s,event,subject\n100,shown,hall\n105,fired,door\n";
    const auto lines = [&](const std::string& more) {
        return Verified(plan, tests::log_from(head + more)).lines();
    };
    CHECK(lines("106.01,fired,both\n120,ended,\n") == Lines{});
    CHECK(lines("106.02,shown,yard\n120,ended,\n") ==
          Lines{"firing-missing: trigger both did not fire at 106.01 s, when \"ready(yard)\" came "
                "to hold"});
}

TEST_CASE("verify: a player went through a trigger that did not fire") {
    const std::string walked = "100,arrived,,a,carrier\n120,arrived,,b,carrier\n";
    const plan::Plan plan = two_rooms_plan();
    const auto lines = [&](const std::string& more) {
        return Verified(plan, tests::log_from("time_s,event,subject,detail,player\n" + more))
            .lines();
    };
    CHECK(lines("100,shown,hall,,\n" + walked) ==
          Lines{"firing-missing: trigger door did not fire between 100.00 s and 120.00 s, when "
                "carrier went through it"});
    CHECK(lines("100,shown,hall,,\n100,arrived,,a,carrier\n108,fired,door,,carrier\n"
                "109.02,shown,yard,,\n116,fired,gong,,carrier\n116,unloaded,yard,,\n"
                "120,arrived,,b,carrier\n") == Lines{});
    // It could not: bells is 2 until 110 s.
    CHECK(lines("100,shown,hall,,\n100,fact-set,bells,2,\n" + walked) == Lines{});
}

TEST_CASE("verify: steps that ask whether a player is inside of a trigger go by the log") {
    std::string text(two_rooms);
    const std::string bells = "{set: {bells: +1}}";
    text.replace(text.find(bells), bells.size(), "{load: [attic], when: inside(nook)}");
    text.insert(text.find("facts:"), "  attic: {memory: {t: 100}}\n");
    text.insert(text.find("  gong:"),
                "  nook: {in: hall, box: {min: [30, 0, -1], max: [50, 1, 1]}, steps: []}\n");
    const plan::Plan plan = tests::plan_from(text);
    const auto lines = [&](const std::string& crossings) {
        return Verified(plan, tests::log_from("time_s,event,subject,player\n100,shown,hall,\n" +
                                              crossings +
                                              "105,fired,door,carrier\n106.01,ready,yard,\n"
                                              "106.02,shown,yard,\n107.02,ready,attic,\n"))
            .lines();
    };
    CHECK(lines("104,entered,nook,carrier\n") == Lines{});
    const Lines by_itself{"unplanned-load: attic was ready at 107.02 s, and nothing in the plan "
                          "asks for it then"};
    CHECK(lines("") == by_itself);
    CHECK(lines("104,entered,nook,carrier\n104.9,left,nook,carrier\n") == by_itself);
    CHECK(lines("104,entered,nook,ben\n") == by_itself);
    CHECK(lines("104,entered,nook,\n") == by_itself); // nobody in particular
}

TEST_CASE("verify: levels that come by themselves or not at all") {
    CHECK(lines_of("100,shown,hall,\n105,fired,door,\n120,ended,,\n") ==
          Lines{"load-missing: yard never came: by the plan it was shown at 106.02 s (trigger door "
                "at 105.00 s)"});
    CHECK(lines_of("100,shown,hall,\n105,shown,yard,\n120,ended,,\n") ==
          Lines{"unplanned-load: yard was shown at 105.00 s, and nothing in the plan asks for it "
                "then"});
    // It is there from then on, so the gong can be rung; its unloading is as planned.
    CHECK(lines_of("100,shown,hall,\n105,shown,yard,\n108,fired,gong,\n108,unloaded,yard,\n") ==
          Lines{"unplanned-load: yard was shown at 105.00 s, and nothing in the plan asks for it "
                "then"});
    CHECK(lines_of(as_planned + "110,unloaded,yard,\n112,ended,,\n") ==
          Lines{"unplanned-unload: yard was unloaded at 110.00 s, and nothing in the plan lets it "
                "go then"});
}

TEST_CASE("verify: memory at the moments that the log has") {
    const plan::Plan plan = two_rooms_plan();
    const verify::Log log = tests::log_from(
        "time_s,event,subject,detail\n100,shown,hall,\n101,memory,,100\n102,memory,,109\n"
        "103,memory,,150 MiB\n104,memory,,200\n");
    const Verified verified(plan, log);
    CHECK(verified.lines() == Lines{"memory-differs: 200 MiB in use at 104.00 s, 100 MiB planned; "
                                    "so at 2 of 4"});
    REQUIRE(verified.result.sessions.size() == 1);
    REQUIRE(verified.result.sessions[0].memory.size() == 4);
    CHECK(verified.result.sessions[0].memory[1].planned == plan::mebibytes(100));
}

TEST_CASE("verify: names that the plan does not have") {
    CHECK(lines_of("100,shown,hall,\n105,fired,dor,\n106,shown,Yard,\n107,shown,Yard,\n") ==
          Lines{"unknown-name: the plan has no trigger \"dor\"",
                "unknown-name: the plan has no level \"Yard\""});
}
