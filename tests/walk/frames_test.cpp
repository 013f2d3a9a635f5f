// Slow frames in a walk (docs/model.md section 4), worked out by hand.

#include "tables/walk_tables.hpp"
#include "walk/lake.hpp"

using namespace hestrel;
using plan::milliseconds;
using plan::seconds;
using tests::at_x;
using tests::lake_route;
using tests::Walked;

namespace {

/// A hall that costs 4 ms, and a quay of 9 ms that is asked for at x = 10 and hidden at x = 40.
/// `base` is 5 ms of a period of 10.
Walked with_costs(const std::string& more, const std::string& steps = "") {
    return Walked(
        "levels:\n  hall: {memory: {texture: 100}, frame-cost: 4 ms, entries: {door: a}}\n"
        "  quay: {memory: {texture: 200}, frame-cost: 9 ms}\n"
        "waypoints: {a: [0, 0, 0], b: [100, 0, 0]}\npaths: [[a, b]]\n"
        "players: {carrier: {speeds: {walk: 2}}}\nveils: {dusk: {}}\n"
        "triggers:\n"
        "  t: {box: {min: [10, -1, -1], max: [11, 1, 1]}, steps: [{show: [quay]}, "
        "{wait: {shown: [quay]}}" +
        steps +
        "]}\n"
        "  u: {box: {min: [40, -1, -1], max: [41, 1, 1]}, steps: [{hide: [quay]}]}\n" +
        more + lake_route("{go: b}"));
}

std::vector<std::string> slow_frames_of(const Walked& walked) {
    std::vector<std::string> messages;
    for (const plan::Finding& each : walked.record.findings) {
        if (each.name == "slow-frames") messages.push_back(each.message);
    }
    return messages;
}

} // namespace

TEST_CASE("frames are slow from when too much is shown until it is not") {
    const Walked walked = with_costs("");
    const plan::Device& box = walked.plan.devices[plan::DeviceId{0}];
    const plan::Micros base = box.frame.base;
    CHECK(walked.record.longest_frame == base + milliseconds(13));
    REQUIRE(walked.record.slow_frames.size() == 1);
    const walk::SlowFrames& slow = walked.record.slow_frames[0];
    CHECK(slow.from == walked.record.longest_frame_at);
    CHECK(slow.to == at_x(40));
    CHECK(slow.work == base + milliseconds(13));
    CHECK(slow.frame == plan::next_multiple(slow.work, box.frame.period));
    REQUIRE(slow.levels.size() == 2);
    CHECK(slow.levels[0].second == milliseconds(9)); // what costs most first
    CHECK(walked.record.verdict == plan::Verdict::over_limit);
    REQUIRE(slow_frames_of(walked).size() == 1);
    CHECK(slow_frames_of(walked)[0].find("quay 9.0 ms, hall 4.0 ms") != std::string::npos);
    CHECK(tables::frames_csv(walked.record).find("time_s,frame_ms\r\n") == 0);
}

TEST_CASE("a limit counts instead of the period") {
    CHECK(slow_frames_of(with_costs("limits: {longest-frame: 30 ms}\n")).empty());
    CHECK(slow_frames_of(with_costs("limits: {longest-frame: 5 ms}\n")).size() == 1);
}

TEST_CASE("time under a veil is left out, and so is a standstill") {
    const Walked walked = with_costs("", ", {veil: dusk}, {wait: 2 s}, {unveil: dusk}");
    REQUIRE(walked.record.slow_frames.size() == 1);
    // Shown and veiled in one instant; the veil is gone two seconds later.
    CHECK(walked.record.slow_frames[0].to == at_x(40));
    const Walked open = with_costs("");
    CHECK(walked.record.slow_frames[0].from == open.record.slow_frames[0].from + seconds(2));
}
