// What carries, worked out by hand (docs/model.md section 7).

#include "tables/carries_table.hpp"
#include "walk/lake.hpp"

using namespace hestrel;
using tests::lake;
using tests::Walked;

namespace {

std::string carried(const std::string& steps, const std::string& route) {
    const Walked walked(lake +
                        "editions: {full: {levels: [hall, quay]}}\n"
                        "facts: {letters: {initial: 0, range: [0, 9], lifetime: saved}, key: "
                        "{initial: false}, bell: "
                        "{initial: none, values: [none, both], lifetime: level, of: hall}}\n"
                        "triggers: {t: {box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: " +
                        steps + "}}\nroutes: {r: {start: {level: hall}, steps: [" + route +
                        "]}}\n");
    return tables::carries_csv(walked.plan, walked.record.carries);
}

const std::string head = "fact,lifetime,transition,from,to,how,times\r\n";

} // namespace

TEST_CASE("what a switch keeps and resets, what is set, saved and restored") {
    CHECK(carried("[{set: {letters: +2, key: true, bell: both}}, {save: all}, {set: {letters: 7}}, "
                  "{restore: all}, {switch: {to: quay}}]",
                  "{go: b}, {pause: 9 s}") == head + "letters,saved,trigger t,0,2,set,1\r\n"
                                                     "letters,saved,trigger t,2,2,saved,1\r\n"
                                                     "letters,saved,trigger t,2,7,set,1\r\n"
                                                     "letters,saved,trigger t,7,2,restored,1\r\n"
                                                     "key,session,trigger t,false,true,set,1\r\n"
                                                     "bell,level,trigger t,none,both,set,1\r\n"
                                                     "bell,level,trigger t,both,none,reset,1\r\n");
    // What the switch's own list has not touched is kept; a route's `set` is no transition.
    CHECK(carried("[{switch: {to: quay}}]", "{set: {key: true}}, {go: b}, {pause: 9 s}") ==
          head + "key,session,trigger t,true,true,kept,1\r\n");
}

TEST_CASE("a launch restores what was saved, and resets the rest") {
    CHECK(carried("[{set: {letters: 2, key: true}}, {save: all}, {set: {letters: 3}}]",
                  "{go: b}, {launch: again}") ==
          head + "letters,saved,trigger t,0,2,set,1\r\n"
                 "letters,saved,trigger t,2,2,saved,1\r\n"
                 "letters,saved,trigger t,2,3,set,1\r\n"
                 "letters,saved,launch again,3,2,restored,1\r\n"
                 "key,session,trigger t,false,true,set,1\r\n"
                 "key,session,launch again,true,false,reset,1\r\n");
}

TEST_CASE("where nothing becomes of any fact there are no rows") {
    CHECK(carried("[{switch: {to: quay}}]", "{go: b}, {pause: 9 s}") == head);
}
