// What levels must contain while they are shown (docs/model.md section 6), worked out by hand.

#include "walk/lake.hpp"

using namespace hestrel;
using plan::milliseconds;
using tests::at_x;
using tests::lake_route;
using tests::Walked;

namespace {

/// A hall that is for playing and needs a light; a lamp in the same world has one. The trigger at
/// x = 10 runs `steps`.
Walked with_lamp(const std::string& steps, const std::string& lamp = "provides: [light]",
                 const std::string& needs = "light, way-in") {
    return Walked("purposes: {playable: {needs: [" + needs +
                  "]}}\n"
                  "levels:\n  hall: {memory: {texture: 100}, purpose: playable, entries: {door: "
                  "a}}\n  lamp: {memory: {texture: 100}, " +
                  lamp +
                  "}\nwaypoints: {a: [0, 0, 0], b: [100, 0, 0]}\npaths: [[a, b]]\n"
                  "players: {carrier: {speeds: {walk: 2}}}\n"
                  "triggers: {t: {box: {min: [10, -1, -1], max: [11, 1, 1]}, steps: [" +
                  steps + "]}}\n" + lake_route("{go: b}"));
}

} // namespace

TEST_CASE("a level without what it needs is broken until something that is shown provides it") {
    const Walked walked = with_lamp("{show: [lamp]}");
    REQUIRE(walked.record.breaches.size() == 1);
    // From the end of the boot until the lamp is shown, 1.01 s after it is asked for.
    CHECK(walked.record.breaches[0].from == milliseconds(1'010));
    CHECK(walked.record.breaches[0].to == at_x(10) + milliseconds(1'010));
    REQUIRE(walked.record.findings.size() == 1);
    const plan::Finding& found = walked.record.findings[0];
    CHECK(found.name == "rule-broken");
    CHECK(found.about == plan::Thing{plan::ThingKind::level, 0});
    CHECK(found.message == "at 1.01 s for 6.01 s hall is shown, which is playable, without light "
                           "(r on box)");
    CHECK(walked.record.verdict == plan::Verdict::breaks_rule);
}

TEST_CASE("what another world provides counts only where it persists") {
    const std::string elsewhere = "provides: [light], world: below";
    const Walked other = with_lamp("{show: [lamp]}", elsewhere);
    REQUIRE(other.record.breaches.size() == 1);
    CHECK(other.record.breaches[0].to == other.record.end);
    CHECK(with_lamp("{show: [hall]}", elsewhere + ", persist: true").record.breaches.empty());
}

TEST_CASE("a way in is an entry, of the level itself") {
    CHECK(with_lamp("{show: [lamp]}", "provides: [way-in]", "way-in").record.breaches.empty());
    const Walked lacking = with_lamp("{show: [lamp]}", "provides: [light], purpose: playable");
    bool told = false;
    for (const plan::Finding& each : lacking.record.findings)
        told = told || each.message.find("lamp is shown, which is playable, without way-in") !=
                           std::string::npos;
    CHECK(told);
}
