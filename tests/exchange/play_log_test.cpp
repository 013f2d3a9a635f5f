// Logs of plays, as CSV and as Trace Event JSON.

#include "exchange/play_log.hpp"

#include "support/printing.hpp"

using namespace hestrel;
using exchange::ReadLog;
using verify::LogEvent;
using walk::EventKind;
using Errors = std::vector<std::string>;

namespace {

ReadLog read_play(std::string_view text, const exchange::NameMap& names = {}) {
    return exchange::read_play_log(text, "play.csv", names);
}

} // namespace

TEST_CASE("play log: columns in any order, others are left out") {
    const ReadLog log = read_play("event,frame,time_s,subject,player\nfired,7,1.5,door,ada\n"
                                  "shown,9,2.000001,hall,\nframe-done,9,2.1,,\n");
    REQUIRE(log.errors == Errors{});
    REQUIRE(log.log.events.size() == 2);
    const LogEvent& fired = log.log.events[0];
    CHECK(fired.kind == EventKind::fired);
    CHECK(fired.at == plan::Micros{1'500'000});
    CHECK(fired.subject == "door");
    CHECK(fired.player == "ada");
    CHECK(fired.place.line == 2);
    CHECK(log.log.events[1].at == plan::Micros{2'000'001});
    CHECK(log.log.others == std::map<std::string, std::size_t>{{"frame-done", 1}});
}

TEST_CASE("play log: memory has a unit, or is MiB") {
    const ReadLog log = read_play("time_s,event,detail\n1,memory,1.5 GiB\n2,memory,3\n");
    REQUIRE(log.log.events.size() == 2);
    CHECK(log.log.events[0].figure == LogEvent::Figure::memory);
    CHECK(log.log.events[0].memory == plan::mebibytes(1536));
    CHECK(log.log.events[1].memory == plan::mebibytes(3));
}

TEST_CASE("play log: wrong cells and columns are told with their place") {
    CHECK(read_play("time_s,event\nsoon,shown\n").errors ==
          Errors{"play.csv:2:1: error: time_s \"soon\" is not a number"});
    CHECK(read_play("time_s,event\n1,Shown\n").errors ==
          Errors{"play.csv:2:3: error: there is no event \"Shown\"; it differs from \"shown\" "
                 "only in capitals"});
    CHECK(read_play("time_s,event\n1\n").errors ==
          Errors{"play.csv:2:1: error: 1 fields under 2 columns"});
    CHECK(read_play("time_s,evnt\n1,shown\n").errors.size() == 2);
    CHECK(read_play("event\nshown\n").errors ==
          Errors{"play.csv:1:1: error: a log of a play needs the column \"time_s\""});
    CHECK(read_play("").errors == Errors{"play.csv:1:1: error: the log is empty"});
    CHECK(read_play("time_s,event\n1,jump\n").errors ==
          Errors{"play.csv:1:1: error: nothing in the log is an event of a play"});
    CHECK(read_play("time_s,event\n1e30,shown\n").errors.size() == 1);
    CHECK(read_play("time_s,event\nnan,shown\n").errors.size() == 1);
}

TEST_CASE("play log: a trace, in either form of the format") {
    const std::string list = R"([{"name": "fired", "ph": "i", "ts": 1500000, "pid": 1, "tid": 1,
 "args": {"subject": "door", "detail": 7, "player": "ada", "more": {"subject": "no"}}},
 {"name": "memory", "ph": "C", "ts": 2e6, "args": {"MiB": 12.5}},
 {"name": "thread_name", "ph": "M", "args": {"name": "loader"}},
 {"name": "shown", "ph": "E", "ts": 3}])";
    for (const std::string& text :
         {list,
          "{\"otherData\": {\"a\": [{\"name\": \"shown\"}]}, \"traceEvents\": " + list + "}"}) {
        const ReadLog log = read_play(text);
        REQUIRE(log.errors == Errors{});
        REQUIRE(log.log.events.size() == 2);
        CHECK(log.log.events[0].at == plan::Micros{1'500'000});
        CHECK(log.log.events[0].subject == "door");
        CHECK(log.log.events[0].detail == "7");
        CHECK(log.log.events[0].player == "ada");
        CHECK(log.log.events[1].memory == plan::Bytes{12'582'912 + 524'288});
    }
    CHECK(read_play(list).log.events[1].place.line == 3);
}

TEST_CASE("play log: events of a trace stand in any order, those of one moment as written") {
    const ReadLog log = read_play(
        R"([{"name": "shown", "ph": "i", "ts": 5, "args": {"subject": "hall"}},
 {"name": "launched", "ph": "i", "ts": 3, "args": {}},
 {"name": "memory", "ph": "C", "ts": 3, "args": {"MiB": 1}},
 {"name": "unloaded", "ph": "i", "ts": 2, "args": {"subject": "hall"}}])");
    REQUIRE(log.errors == Errors{});
    REQUIRE(log.log.events.size() == 4);
    CHECK(log.log.events[0].kind == EventKind::level_unloaded);
    CHECK(log.log.events[1].kind == EventKind::launched);
    CHECK(log.log.events[2].figure == LogEvent::Figure::memory);
    CHECK(log.log.events[3].kind == EventKind::level_shown);
}

TEST_CASE("play log: a trace that is cut off, or is none") {
    CHECK(read_play("[{\"name\": \"shown\", \"ph\": \"i\", \"ts\"").errors ==
          Errors{"play.csv:1:35: error: the trace is broken off, or is no JSON, here"});
    CHECK(read_play("{\"a\": 1}").errors ==
          Errors{"play.csv:1:1: error: a trace has a list of events, "
                 "in \"traceEvents\" or by itself"});
    CHECK(read_play("[{\"name\": \"shown\", \"ph\": \"i\"}]").errors ==
          Errors{"play.csv:1:2: error: an event without ts"});
    CHECK(read_play("[{\"name\": \"shown\", \"ph\": \"i\", \"ts\": 1e300}]").errors.size() == 1);
    CHECK(read_play(std::string(100'000, '[')).errors.size() == 1);
}

TEST_CASE("play log: the game's names for those of the plan") {
    const auto names = exchange::read_name_map("game,plan\nLevelUp,shown\nL_Hall,hall\n", "n.csv");
    REQUIRE(names.errors == Errors{});
    const ReadLog log = read_play("time_s,event,subject\n1,LevelUp,L_Hall\n", names.names);
    REQUIRE(log.log.events.size() == 1);
    CHECK(log.log.events[0].kind == EventKind::level_shown);
    CHECK(log.log.events[0].subject == "hall");
    CHECK(exchange::read_name_map("game,plan\na,b\na,c\n", "n.csv").errors ==
          Errors{"n.csv:3:1: error: \"a\" stands for \"b\" already"});
}
