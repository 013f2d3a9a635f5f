// The least machine, worked out by hand.

#include "advise/least.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;
using advise::Figure;

namespace {

/// The quay (200 MiB) is asked for at 10 m, and stood in at 100 m: 45 s later at 2 m/s. It must be
/// read in 45 s less one frame: 4.45 MiB/s and more, so 5. In use at most: 300 MiB.
const std::string least_lake = R"(hestrel: 1
devices:
  box: {memory: {total: 1000}, read: {rate: 100}, frame: {fps: 100}}
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, area: [{min: [100, -1, -1], max: [120, 1, 1]}]}
waypoints: {a: [0, 0, 0], b: [110, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
triggers: {t: {box: {min: [10, -1, -1], max: [12, 1, 1]}, steps: [{show: [quay]}]}}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)";

std::vector<advise::Least> least(const std::string& text) {
    const plan::Plan plan = tests::plan_from(text);
    return advise::least_machine(plan, {plan::RouteId{std::size_t{0}}},
                                 {plan::DeviceId{std::size_t{0}}}, 1, {});
}

} // namespace

TEST_CASE("the least machine: the least figure that is fine, and what breaks below it") {
    const auto found = least(least_lake);
    REQUIRE(found.size() == 2); // content is stored unpacked
    CHECK(found[0].figure == Figure::read_rate);
    CHECK(found[0].now == 100);
    CHECK(found[0].least == 5);
    CHECK(found[0].breaks == plan::Verdict::late);
    REQUIRE(found[0].first);
    CHECK(found[0].first->name == "stood-in-gap");
    CHECK(found[1].figure == Figure::memory);
    CHECK(found[1].least == 300);
    CHECK(found[1].breaks == plan::Verdict::over_budget);
}

TEST_CASE("the least machine: a figure that is too small now is found above, or is none") {
    std::string slow = least_lake;
    slow.replace(slow.find("rate: 100"), 9, "rate: 1");
    CHECK(least(slow)[0].least == 5);
    std::string pools = least_lake;
    pools.replace(pools.find("total: 1000"), 11, "total: 1000, pools: {texture: 250}");
    const auto never = least(pools);
    CHECK_FALSE(never[1].least);
    CHECK(never[1].breaks == plan::Verdict::over_budget);
    CHECK_FALSE(never[0].least);
}

TEST_CASE("the least machine: whatever lies above was tried and fine, or not tried") {
    std::string packed = least_lake;
    packed.replace(packed.find("frame:"), 6, "unpack: {rate: 300}, frame:");
    const auto found = least(packed);
    REQUIRE(found.size() == 3);
    for (const advise::Least& each : found) {
        REQUIRE(each.least);
        CHECK(*each.least <= each.now);
        CHECK(each.walks > 2);
    }
}
